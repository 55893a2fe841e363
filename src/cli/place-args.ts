import { parseArgs } from 'node:util';
import { badArgument, KenosisError } from '../core/errors';
import { ANGLE_DEG, OPACITY, PLACE, WIDTH, type Anchor } from '../core/proof/settings';
import { OUTPUT_DPI } from '../core/stages/deliver/output-settings';

export const PLACE_USAGE = `usage: kenosis place CUTOUT --on FILE [--page N] [--at PLACE] [--width LENGTH] -o OUT.pdf|png|jpg
         [--turn DEGREES] [--opacity N] [--ink] [--dpi N] [--opaque]

  kenosis place lays a cutout (a picture with transparent parts) on a page of a PDF or on a picture, writes OUT, reads it back
  and compares. As OUT.pdf a PDF stays as it is, byte by byte, and the cutout is added to it as a picture with a soft mask.

  --on FILE             the PDF, or the picture, to lay it on
  --page N              which page (without it: the only one), or last
  --at PLACE            where: "right 20mm bottom 40mm", "left 10mm top 10mm", center, or line: on the line that is meant for a
                        signature. Lengths are mm on a page and px on a picture (without it: the line, or right 20mm bottom 40mm;
                        on a picture the lower right corner)
  --width LENGTH        how wide, like 52mm or 400px (without it: 52mm, on a picture a third of its width)
  --turn DEGREES        clockwise, about its center
  --opacity N           percent
  --ink                 multiplied with what is below it, as ink on paper
  --dpi N               resolution of a page that is written as OUT.png or OUT.jpg (without it: 300)
  --opaque              takes a cutout without transparent parts too: its whole box lies on the page`;

export interface PlaceArguments {
  readonly command: 'place';
  readonly cutout: string;
  readonly on: string;
  /** Null: the only page, or what FILE is as a picture. */
  readonly page: number | 'last' | null;
  /** Null: where such pieces usually lie. */
  readonly at: PlaceWish | null;
  readonly width: Length | null;
  readonly output: string;
  readonly format: 'pdf' | 'png' | 'jpeg';
  readonly angleDeg: number;
  readonly opacity: number;
  readonly blend: 'normal' | 'multiply';
  readonly dpi: number;
  readonly opaque: boolean;
}

export interface Length {
  readonly value: number;
  readonly unit: 'mm' | 'px';
}

/** An anchor, and how far from it. */
export interface PlaceWish {
  readonly anchor: Anchor;
  readonly x: Length | null;
  readonly y: Length | null;
}

/** Reads the arguments behind `kenosis place`. Throws `bad-argument`. */
export function readPlaceArguments(args: readonly string[]): PlaceArguments {
  const { values, positionals } = parsed([...args]);
  const [cutout] = positionals;
  if (cutout === undefined || positionals.length > 1)
    throw badArgument('CUTOUT', 'one picture with transparent parts', `${positionals.length}`);
  if (!values.on) throw badArgument('--on', 'the PDF or the picture to lay it on', 'nothing');
  if (!values.output) throw badArgument('-o', 'the name of the file to write', 'nothing');
  const number = (option: string, text: string | undefined, usual: number, range: Range) => {
    if (text === undefined) return usual;
    const value = Number(text);
    if (text.trim() === '' || !(value >= range.min && value <= range.max))
      throw badArgument(option, `${range.min} to ${range.max}`, text);
    return value;
  };
  return {
    command: 'place',
    cutout,
    on: values.on,
    page: readPage(values.page),
    at: values.at === undefined ? null : readPlace(values.at),
    width: values.width === undefined ? null : readLength('--width', values.width, WIDTH),
    output: values.output,
    format: formatOf(values.output),
    angleDeg: number('--turn', values.turn, 0, ANGLE_DEG),
    opacity: number('--opacity', values.opacity, 100, OPACITY),
    blend: values.ink ? 'multiply' : 'normal',
    dpi: Math.round(number('--dpi', values.dpi, 300, OUTPUT_DPI)),
    opaque: values.opaque ?? false,
  };
}

interface Range {
  readonly min: number;
  readonly max: number;
}

function parsed(args: string[]) {
  const text = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  try {
    return parseArgs({
      args,
      allowPositionals: true,
      options: {
        on: text,
        page: text,
        at: text,
        width: text,
        output: { ...text, short: 'o' },
        turn: text,
        opacity: text,
        ink: flag,
        dpi: text,
        opaque: flag,
      },
    });
  } catch (cause) {
    throw new KenosisError('bad-argument', (cause as Error).message, { cause });
  }
}

function readPage(text: string | undefined): number | 'last' | null {
  if (text === undefined) return null;
  if (text === 'last') return text;
  if (!/^\d{1,6}$/.test(text) || Number(text) < 1)
    throw badArgument('--page', 'a number from 1 on, or last', text);
  return Number(text);
}

function formatOf(name: string): PlaceArguments['format'] {
  const ending = /\.(\w+)$/.exec(name)?.[1]?.toLowerCase();
  if (ending === 'pdf' || ending === 'png') return ending;
  if (ending === 'jpg' || ending === 'jpeg') return 'jpeg';
  throw badArgument('-o', 'a name that ends with .pdf, .png or .jpg', name);
}

function readLength(option: string, text: string, { min, max }: Range): Length {
  const [, value, unit] = /^(-?\d+(?:\.\d+)?)\s*(mm|px)$/.exec(text.trim()) ?? [];
  const length = Number(value);
  if (unit === undefined || !(length >= min && length <= max))
    throw badArgument(option, 'a length like 52mm or 400px', text);
  return { value: length, unit: unit as Length['unit'] };
}

const ACROSS = ['left', 'center', 'right'];
const DOWN = ['top', 'middle', 'bottom'];

/** `right 20mm bottom 40mm`, `center`, `line`, each word with a length behind it or without. */
export function readPlace(text: string): PlaceWish {
  const words = text.toLowerCase().match(/[a-z]+|-?\d+(?:\.\d+)?\s*(?:mm|px)/g) ?? [];
  const wrong = () =>
    badArgument('--at', '"right 20mm bottom 40mm", "left 10mm top 10mm", center or line', text);
  if (words.join('').length !== text.replace(/\s/g, '').length) throw wrong();
  if (words.length === 1 && words[0] === 'line') return { anchor: 'line', x: null, y: null };
  let across: string | null = null;
  let down: string | null = null;
  let x: Length | null = null;
  let y: Length | null = null;
  for (let k = 0; k < words.length; k++) {
    const word = words[k]!;
    const next = words[k + 1];
    const length = next !== undefined && /\d/.test(next) ? readLength('--at', next, PLACE) : null;
    if (length) k++;
    if (ACROSS.includes(word) && across === null) [across, x] = [word, length];
    else if (DOWN.includes(word) && down === null) [down, y] = [word, length];
    else throw wrong();
  }
  if (across === null && down === null) throw wrong();
  const parts = [down === 'middle' ? null : down, across === 'center' ? null : across].filter(
    (part) => part !== null,
  );
  return { anchor: (parts.join('-') || 'center') as Anchor, x, y };
}
