import { seededRandom } from '../src/core/numeric/random';
import type { Backdrop } from './picture';
import { handwritten } from './handwriting';
import { lettering, letteringWidth } from './letters';

/** One demo picture: its subject as SVG, its backdrop, and how it is saved. */
export interface DemoPiece {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly subject: string;
  readonly backdrop: Backdrop;
  /** Light that falls on subject and backdrop alike, as a factor; the backdrop has it already. */
  readonly light?: (x: number, y: number) => number;
  /** Grain of the camera, encoded; none where it is left out. */
  readonly grain?: number;
  readonly jpegQuality: number | null;
  readonly dpi: number;
}

const NAVY = '#1d3557';
const SAND = '#e9c46a';
const FOAM = '#f4f1e8';
const TEAL = '#2a7f86';

/** The pictures of Ostrel Kiteworks. */
export function demoPieces(seed: number): DemoPiece[] {
  const random = seededRandom(seed);
  return [
    wordmark(),
    emblem(random),
    badge(random),
    kite(),
    spool(random),
    sticker(),
    signatureScan(),
    signaturePhone(),
    letter(),
  ];
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
  };
}

/** A kite that lies on a white table: its shadow falls to the lower right. */
function kite(): DemoPiece {
  const width = 1400;
  const height = 1050;
  const shade = `<defs><linearGradient id="left" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#e2503f"/><stop offset="1" stop-color="#b93a3c"/></linearGradient><linearGradient id="right" x1="0" y1="0" x2="1" y2="0.6"><stop offset="0" stop-color="#f0bd4d"/><stop offset="1" stop-color="#d79a2b"/></linearGradient><linearGradient id="low" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#2a7f86"/><stop offset="1" stop-color="#17535c"/></linearGradient></defs>`;
  const sail = `<path d="M700 90L420 420H700Z" fill="url(#left)"/><path d="M700 90L980 420H700Z" fill="url(#right)"/><path d="M420 420L700 860V420Z" fill="url(#low)"/><path d="M980 420L700 860V420Z" fill="${NAVY}"/>`;
  const frame = `<path d="M700 76V872M408 420H992" stroke="#6b4a2f" stroke-width="9" stroke-linecap="round"/>`;
  const eyelet = `<circle cx="700" cy="420" r="30" fill="none" stroke="#d8d3c8" stroke-width="12"/><circle cx="560" cy="330" r="34" fill="${FOAM}"/>`;
  const tail = `<path d="M700 866C760 930 840 900 900 940S1010 1000 1060 950" fill="none" stroke="#6b4a2f" stroke-width="5"/><path transform="translate(862 918) rotate(24)" d="M0 0L-40 -20V20ZM0 0L40 -20V20Z" fill="#e2503f"/><path transform="translate(1004 972) rotate(-10)" d="M0 0L-36 -18V18ZM0 0L36 -18V18Z" fill="${TEAL}"/>`;
  return {
    file: 'ostrel-kite.jpg',
    width,
    height,
    subject: shade + sail + frame + eyelet + tail,
    backdrop: (x, y) => {
      const far = ((x / width - 0.5) ** 2 + (y / height - 0.5) ** 2) * 2;
      const across = Math.abs(x - 722) / 280;
      const down = y < 450 ? (450 - y) / 330 : (y - 450) / 440;
      const outside = Math.max(0, across + down - 1) * 230;
      const light = (1 - 0.07 * far) * (1 - 0.42 * Math.exp(-((outside / 46) ** 2)));
      return [246 * light, 246 * light, 244 * light];
    },
    grain: 1.4,
    jpegQuality: 88,
    dpi: 240,
  };
}

/** A spool with a tassel before a wall that goes from sand to sky. */
function spool(random: () => number): DemoPiece {
  const width = 1200;
  const height = 1000;
  const between = (low: number, high: number) => low + (high - low) * random();
  const strands = Array.from({ length: 70 }, () => {
    const x = between(505, 695);
    const end = x + between(-150, 150);
    const bend = x + between(-70, 70);
    const wide = between(2.5, 6);
    const far = between(800, 930);
    return `<path d="M${x - wide} 560Q${bend} 700 ${end} ${far}Q${bend + wide * 2} 700 ${x + wide} 560Z" fill="${random() < 0.5 ? '#7c2036' : '#932a42'}"/>`;
  });
  const wood = `<defs><linearGradient id="wood" x1="0" y1="0" x2="1" y2="0"><stop offset="0" stop-color="#6b4423"/><stop offset="0.45" stop-color="#b98350"/><stop offset="1" stop-color="#5b3819"/></linearGradient></defs>`;
  const turns = Array.from(
    { length: 17 },
    (_, i) =>
      `<rect x="468" y="${196 + i * 17}" width="264" height="14" rx="7" fill="${i % 2 ? '#7c2036' : '#932a42'}"/>`,
  );
  return {
    file: 'ostrel-spool.jpg',
    width,
    height,
    subject: `${wood}${turns.join('')}<rect x="420" y="120" width="360" height="70" rx="14" fill="url(#wood)"/><rect x="420" y="490" width="360" height="78" rx="14" fill="url(#wood)"/>${strands.join('')}`,
    backdrop: (x, y) => {
      const along = (x / width) * 0.3 + (y / height) * 0.7;
      return [166 + 62 * along, 196 + 8 * along, 214 - 48 * along];
    },
    grain: 1.2,
    jpegQuality: 90,
    dpi: 240,
  };
}

/** A sticker from a page that painted a checkerboard where nothing was, shrunk and saved again. */
function sticker(): DemoPiece {
  const size = 1000;
  const cell = 21.37;
  const wave = (at: number) => {
    const phase = (((at % (2 * cell)) + 2 * cell) % (2 * cell)) / cell;
    const near = phase < 0.5 ? phase : phase < 1.5 ? 1 - phase : phase - 2;
    return Math.min(1, Math.max(-1, 2 * near * cell));
  };
  const kiteShape = `<path d="M500 190L680 400L500 640L320 400Z" fill="${FOAM}"/><path d="M500 190L680 400H500Z" fill="${SAND}"/><path d="M500 400V640L320 400Z" fill="#f2715c"/><path d="M500 190V640M320 400H680" stroke="${NAVY}" stroke-width="9"/>`;
  return {
    file: 'ostrel-sticker.jpg',
    width: size,
    height: size,
    subject: `<circle cx="500" cy="490" r="370" fill="${NAVY}"/><circle cx="500" cy="490" r="330" fill="${TEAL}"/>${kiteShape}<circle cx="372" cy="690" r="46" fill="#ffffff"/><circle cx="628" cy="690" r="46" fill="#ffffff"/>${lettering('OSTREL', (size - letteringWidth('OSTREL', 50)) / 2, 752, 50, FOAM, 12)}`,
    backdrop: (x, y) => {
      const mix = 0.5 + 0.5 * wave(x + 4.2) * wave(y + 11.6);
      const shadow = 1 - 0.35 * Math.exp(-(((x - 500) / 300) ** 2) - ((y - 872) / 52) ** 2);
      const tone = (204 + 51 * mix) * shadow;
      return [tone, tone, tone];
    },
    jpegQuality: 85,
    dpi: 72,
  };
}

/** The makers' signature from a flatbed: cream paper, 600 dpi, the lid a little open on the right. */
function signatureScan(): DemoPiece {
  const width = 2400;
  const height = 1080;
  const light = (x: number) => 1 - 0.09 * Math.max(0, (x / width - 0.55) / 0.45);
  return {
    file: 'ostrel-signature-scan.jpg',
    width,
    height,
    subject: handwritten('Maren Ostrel', 330, 590, 132, { color: '#1d2a6b', thin: 1.6, thick: 5.4 }),
    backdrop: (x, y) => {
      const fibre =
        1 -
        0.006 * Math.sin(x * 0.31 + 3 * Math.sin(y * 0.043)) * Math.sin(y * 0.27 + 2 * Math.sin(x * 0.037));
      return [244 * light(x) * fibre, 238 * light(x) * fibre, 221 * light(x) * fibre];
    },
    light,
    grain: 1.6,
    jpegQuality: 90,
    dpi: 600,
  };
}

/** The same signature by phone: ruled paper, askew, the shadow of a hand across it. */
function signaturePhone(): DemoPiece {
  const width = 2000;
  const height = 1400;
  const tiltDeg = -3.4;
  const turn = (tiltDeg * Math.PI) / 180;
  const light = (x: number, y: number) => {
    const fall = 1 - 0.3 * (0.6 * (x / width) + 0.4 * (1 - y / height));
    const off = (x - 1180) * 0.72 + (y - 700) * 0.69 + 46 * Math.sin((x - y) / 260);
    return fall * (1 - 0.34 * Math.min(1, Math.max(0, 0.5 + off / 26)));
  };
  return {
    file: 'ostrel-signature-phone.jpg',
    width,
    height,
    subject: `<g transform="rotate(${tiltDeg} ${width / 2} ${height / 2})">${handwritten('Maren Ostrel', 300, 760, 104, { color: '#20242f', thin: 1.8, thick: 5 })}</g>`,
    backdrop: (x, y) => {
      const across = (y - height / 2) * Math.cos(turn) - (x - width / 2) * Math.sin(turn) + 20;
      const apart = 92;
      const rule = Math.min(1, Math.max(0, 2.3 - Math.abs(across - apart * Math.round(across / apart))));
      const strength = light(x, y);
      return [
        238 * strength * (1 - 0.3 * rule),
        238 * strength * (1 - 0.2 * rule),
        233 * strength * (1 - 0.08 * rule),
      ];
    },
    light,
    grain: 2,
    jpegQuality: 84,
    dpi: 72,
  };
}

/** A letter with room for a signature, as it is printed. */
function letter(): DemoPiece {
  const width = 1240;
  const height = 1754;
  const text = [
    'DEAR TILDE HARROW',
    '',
    'YOUR TWO KITES LEFT THE WORKSHOP TODAY. THE RED ONE HAS',
    'A NEW SPAR AND A LONGER TAIL. FLY IT IN A STEADY WIND AND',
    'KEEP THE LINE DRY AFTERWARDS.',
    '',
    'THE SPOOLS FOLLOW BY THE EVENING BOAT. IF ANYTHING IS AMISS',
    'WRITE TO US AND WE WILL MEND IT.',
    '',
    'WITH KIND REGARDS',
  ];
  const head = lettering('OSTREL', 150, 150, 56, NAVY, 13) + lettering('KITEWORKS', 150, 226, 22, TEAL, 10);
  const lines = text.map((line, k) => lettering(line, 150, 430 + k * 58, 15, '#26282d', 9)).join('');
  const rule = `<rect x="150" y="1590" width="940" height="2" fill="${SAND}"/>`;
  return {
    file: 'ostrel-letter.png',
    width,
    height,
    subject: head + lines + rule,
    backdrop: () => [251, 250, 246],
    jpegQuality: null,
    dpi: 150,
  };
}
