import type { Backdrop } from '../../demo/picture';
import { HEIGHT, WIDTH, type Color, type Parts } from './parts';
import { between, signature, type Pen } from './draw';

type Random = () => number;

/** A signed sheet: what it is written with and on, and how it was lit and taken. */
interface Sheet {
  readonly ink: 'black' | 'blue' | 'faded';
  readonly pen: Pen;
  readonly paper: 'white' | 'cream' | 'gray';
  readonly light: 'even' | 'gradient' | 'hard shadow';
  readonly ruled: boolean;
  readonly tiltDeg: number;
  readonly noise: number;
  readonly jpegQuality: number | null;
}

const SCAN: Sheet = {
  ink: 'black',
  pen: 'ball',
  paper: 'white',
  light: 'even',
  ruled: false,
  tiltDeg: 0,
  noise: 0.9,
  jpegQuality: null,
};

export const SHEETS: readonly Sheet[] = [
  SCAN,
  { ...SCAN, ink: 'blue', paper: 'cream', noise: 2, jpegQuality: 88 },
  { ...SCAN, pen: 'fountain', paper: 'cream', light: 'gradient' },
  { ...SCAN, ink: 'blue', paper: 'gray', noise: 2.4 },
  { ...SCAN, light: 'hard shadow', noise: 1.4, jpegQuality: 90 },
  { ...SCAN, ink: 'blue', pen: 'fountain', paper: 'cream', light: 'hard shadow', noise: 2, jpegQuality: 84 },
  { ...SCAN, ink: 'blue', ruled: true, noise: 1.2 },
  { ...SCAN, pen: 'fountain', paper: 'cream', light: 'gradient', ruled: true, jpegQuality: 88 },
  { ...SCAN, pen: 'fine', tiltDeg: 4 },
  { ...SCAN, ink: 'blue', light: 'hard shadow', ruled: true, tiltDeg: -6, noise: 1.6, jpegQuality: 88 },
  { ...SCAN, ink: 'blue', pen: 'fountain', paper: 'gray', light: 'gradient', jpegQuality: 70 },
  { ...SCAN, paper: 'cream', noise: 4 },
  { ...SCAN, ink: 'faded', pen: 'fine', light: 'gradient' },
  {
    ...SCAN,
    ink: 'blue',
    pen: 'fountain',
    light: 'hard shadow',
    ruled: true,
    tiltDeg: 3,
    noise: 2.2,
    jpegQuality: 80,
  },
];

const INKS = { black: '#1a1b20', blue: '#1d2a6b', faded: '#4a4d58' } as const;
const PAPERS = { white: [249, 249, 247], cream: [244, 238, 222], gray: [206, 205, 203] } as const;

/** The parts of a case drawn from a sheet. The truth is tilted with the sheet. */
export function signedSheet(sheet: Sheet, random: Random): Parts {
  const subject = signature(random, WIDTH, HEIGHT, {
    ink: INKS[sheet.ink],
    pen: sheet.pen,
    tiltDeg: sheet.tiltDeg,
  });
  const lit = lightOf(sheet, random);
  const rules = sheet.ruled ? rulesOf(sheet, random) : null;
  const paper: Color = PAPERS[sheet.paper];
  const backdrop: Backdrop = (x, y) => {
    const light = lit(x, y);
    const line = rules ? rules(x, y) : 0;
    return [
      paper[0] * light * (1 - 0.3 * line),
      paper[1] * light * (1 - 0.2 * line),
      paper[2] * light * (1 - 0.08 * line),
    ];
  };
  // Light falls on the ink as it falls on the paper.
  return { subject, backdrop, light: lit, saving: { noise: sheet.noise, jpegQuality: sheet.jpegQuality } };
}

type Field = (x: number, y: number) => number;

function lightOf({ light }: Sheet, random: Random): Field {
  if (light === 'even') return () => 1;
  const angle = random() * Math.PI * 2;
  const across = (x: number, y: number) =>
    ((x / WIDTH - 0.5) * Math.cos(angle) + (y / HEIGHT - 0.5) * Math.sin(angle)) / 1.42 + 0.5;
  const fall = between(random, 0.2, 0.38);
  const gradient: Field = (x, y) => 1 - fall * across(x, y);
  if (light === 'gradient') return gradient;
  const turn = between(random, 0.5, 1.1);
  const through = between(random, 0.42, 0.58) * WIDTH;
  const deep = between(random, 0.3, 0.42);
  const soft = between(random, 1, 3);
  return (x, y) => {
    const off = (x - through) * Math.sin(turn) + (y - HEIGHT / 2) * Math.cos(turn);
    const inside = Math.min(1, Math.max(0, 0.5 + off / (2 * soft)));
    return (1 - 0.1 * across(x, y)) * (1 - deep * inside);
  };
}

/** Lines about a pixel and a half wide, as much askew as the writing: 1 in their middle, 0 off them. */
function rulesOf({ tiltDeg }: Sheet, random: Random): Field {
  const apart = between(random, 26, 34);
  const first = between(random, 0, apart);
  const half = between(random, 0.6, 0.9);
  const turn = (tiltDeg * Math.PI) / 180;
  return (x, y) => {
    const across = (y - HEIGHT / 2) * Math.cos(turn) - (x - WIDTH / 2) * Math.sin(turn) - first;
    const off = Math.abs(across - apart * Math.round(across / apart));
    return Math.min(1, Math.max(0, half + 0.5 - off));
  };
}
