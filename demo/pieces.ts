import { seededRandom } from '../src/core/numeric/random';
import type { Backdrop } from './picture';
import { lettering, letteringWidth } from './letters';

/** One demo picture: its subject as SVG, its backdrop, and how it is saved. */
export interface DemoPiece {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly subject: string;
  readonly backdrop: Backdrop;
  readonly jpegQuality: number | null;
  readonly dpi: number;
  /** What it is first seen on. */
  readonly backing: string;
}

const NAVY = '#1d3557';
const SAND = '#e9c46a';
const FOAM = '#f4f1e8';
const TEAL = '#2a7f86';

/** The pictures of Ostrel Kiteworks that have a flat background. */
export function demoPieces(seed: number): DemoPiece[] {
  const random = seededRandom(seed);
  return [wordmark(), emblem(random), badge(random)];
}

function wordmark(): DemoPiece {
  const big = 236;
  const small = 62;
  const width = 1600;
  const left = (width - letteringWidth('OSTREL', big)) / 2;
  const under = 'KITEWORKS';
  const underLeft = (width - letteringWidth(under, small) - 8 * 26) / 2;
  const spaced = [...under]
    .map((letter, i) => lettering(letter, underLeft + i * (76 * (small / 80) + 26), 450, small, TEAL, 9))
    .join('');
  return {
    file: 'ostrel-wordmark.jpg',
    width,
    height: 640,
    subject: lettering('OSTREL', left, 130, big, NAVY, 13) + spaced,
    backdrop: () => [255, 255, 255],
    jpegQuality: 82,
    dpi: 300,
    backing: 'checker',
  };
}

function emblem(random: () => number): DemoPiece {
  const bows = Array.from({ length: 5 }, (_, i) => {
    const x = 596 + Math.sin(i * 1.4) * 96;
    const y = 764 + i * 74;
    const turn = Math.round(random() * 60 - 30);
    return `<path transform="translate(${x} ${y}) rotate(${turn})" d="M0 0L-46 -22V22ZM0 0L46 -22V22Z" fill="${i % 2 ? NAVY : SAND}"/>`;
  }).join('');
  const ring = `<circle cx="600" cy="600" r="540" fill="none" stroke="${FOAM}" stroke-width="34"/><circle cx="600" cy="600" r="504" fill="none" stroke="${NAVY}" stroke-width="8"/>`;
  const kite = `<path d="M600 130L850 400L600 720L350 400Z" fill="${FOAM}"/><path d="M600 130L850 400H600Z" fill="${TEAL}"/><path d="M600 400V720L350 400Z" fill="${NAVY}"/><path d="M600 130V720M350 400H850" stroke="${SAND}" stroke-width="10"/>`;
  const tail = `<path d="M600 720C700 790 690 850 620 880C520 920 520 990 610 1060" fill="none" stroke="${NAVY}" stroke-width="9"/>`;
  return {
    file: 'ostrel-emblem.png',
    width: 1200,
    height: 1200,
    subject: ring + kite + tail + bows,
    backdrop: () => [242, 113, 92],
    jpegQuality: null,
    dpi: 300,
    backing: '#ffffff',
  };
}

function badge(random: () => number): DemoPiece {
  const rays = Array.from({ length: 24 }, (_, i) => {
    const far = 366 + random() * 22;
    return `<path transform="rotate(${i * 15} 500 500)" d="M491 ${500 - far}L500 ${500 - far - 52}L509 ${500 - far}Z" fill="${SAND}"/>`;
  }).join('');
  const word = 'OSTREL';
  const left = (1000 - letteringWidth(word, 92)) / 2;
  const waves = [0, 1, 2]
    .map(
      (i) =>
        `<path d="M270 ${610 + i * 44}q57.5 -46 115 0t115 0t115 0t115 0" fill="none" stroke="${i === 1 ? TEAL : FOAM}" stroke-width="${14 - 2 * i}"/>`,
    )
    .join('');
  return {
    file: 'ostrel-badge.png',
    width: 1000,
    height: 1000,
    subject: `<circle cx="500" cy="500" r="330" fill="none" stroke="${FOAM}" stroke-width="22"/><circle cx="500" cy="500" r="304" fill="none" stroke="${SAND}" stroke-width="5"/>${rays}<path d="M500 235L590 330L500 440L410 330Z" fill="${TEAL}"/><path d="M500 235V440M410 330H590" stroke="${FOAM}" stroke-width="5"/>${lettering(word, left, 470, 92, FOAM, 12)}${waves}`,
    backdrop: () => [0, 0, 0],
    jpegQuality: null,
    dpi: 300,
    backing: '#ffffff',
  };
}
