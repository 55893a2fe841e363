/** What is told of a format of picture files. */
export interface FormatFacts {
  readonly name: string;
  readonly mime: string;
  /** The ending of a file's name, with its dot. */
  readonly ending: string;
}

/** The formats that can be brought in. How each is read stands in `codec/readers`. */
export const INPUT_FORMATS = {
  png: { name: 'PNG', mime: 'image/png', ending: '.png' },
  jpeg: { name: 'JPEG', mime: 'image/jpeg', ending: '.jpg' },
  webp: { name: 'WebP', mime: 'image/webp', ending: '.webp' },
  tiff: { name: 'TIFF', mime: 'image/tiff', ending: '.tif' },
  heic: { name: 'HEIC', mime: 'image/heic', ending: '.heic' },
  avif: { name: 'AVIF', mime: 'image/avif', ending: '.avif' },
  gif: { name: 'GIF', mime: 'image/gif', ending: '.gif' },
  bmp: { name: 'BMP', mime: 'image/bmp', ending: '.bmp' },
  svg: { name: 'SVG', mime: 'image/svg+xml', ending: '.svg' },
  pdf: { name: 'PDF', mime: 'application/pdf', ending: '.pdf' },
  jp2: { name: 'JPEG 2000', mime: 'image/jp2', ending: '.jp2' },
} as const satisfies Readonly<Record<string, FormatFacts>>;

export type InputFormat = keyof typeof INPUT_FORMATS;

/** How names of picture files end, in lower case. */
export const INPUT_ENDINGS: readonly string[] = [
  ...Object.values(INPUT_FORMATS).map(({ ending }) => ending),
  ...['.jpeg', '.jpe', '.jfif', '.tiff', '.heif', '.j2k', '.jpf', '.jpx', '.dib'],
];

/** What is told of a format that is delivered. */
export interface OutputFacts extends FormatFacts {
  /** What such a file holds, in a few words. */
  readonly holds: string;
  /** What it cannot hold; null where it holds every pixel exactly. */
  readonly loses: string | null;
  /** Whether what shows through stays see-through. */
  readonly alpha: 'all' | 'on or off' | 'none';
}

/** The formats that are delivered. How each is written and read back stands in `codec/outputs`. */
export const OUTPUT_FORMATS = {
  png: {
    name: 'PNG',
    mime: 'image/png',
    ending: '.png',
    holds: 'every pixel exactly, with alpha; opens everywhere',
    loses: null,
    alpha: 'all',
  },
  webp: {
    name: 'WebP',
    mime: 'image/webp',
    ending: '.webp',
    holds: 'alpha exactly; colors exactly or, with a quality, nearly: small files for sites',
    loses: 'with a quality, fine color differences',
    alpha: 'all',
  },
  avif: {
    name: 'AVIF',
    mime: 'image/avif',
    ending: '.avif',
    holds: 'alpha; the smallest files for sites, read by newer programs',
    loses: 'fine differences of color and, with a quality, of alpha',
    alpha: 'all',
  },
  tiff: {
    name: 'TIFF',
    mime: 'image/tiff',
    ending: '.tif',
    holds: 'every pixel exactly, with unassociated alpha and its resolution: for print',
    loses: null,
    alpha: 'all',
  },
  gif: {
    name: 'GIF',
    mime: 'image/gif',
    ending: '.gif',
    holds: '256 colors, each pixel there or not: for old mail programs',
    loses: 'partial alpha (soft edges are laid on the matte color) and all but 256 colors',
    alpha: 'on or off',
  },
  jpeg: {
    name: 'JPEG',
    mime: 'image/jpeg',
    ending: '.jpg',
    holds: 'the piece laid on a backing; opens everywhere',
    loses: 'all transparency: the piece gets a box of the backing color',
    alpha: 'none',
  },
  svg: {
    name: 'SVG',
    mime: 'image/svg+xml',
    ending: '.svg',
    holds: 'an outline that stays sharp at any size: for one-color art, plotters and engravers',
    loses: 'all colors but one, and partial alpha inside',
    alpha: 'all',
  },
  pdf: {
    name: 'PDF',
    mime: 'application/pdf',
    ending: '.pdf',
    holds: 'every pixel exactly with a soft mask, on a page of true millimeters',
    loses: null,
    alpha: 'all',
  },
  ico: {
    name: 'ICO',
    mime: 'image/x-icon',
    ending: '.ico',
    holds: 'several small squares with alpha: the icon of a site',
    loses: null,
    alpha: 'all',
  },
} as const satisfies Readonly<Record<string, OutputFacts>>;

export type OutputFormat = keyof typeof OUTPUT_FORMATS;

export function isInputFormat(name: unknown): name is InputFormat {
  return typeof name === 'string' && Object.hasOwn(INPUT_FORMATS, name);
}

export function isOutputFormat(name: unknown): name is OutputFormat {
  return typeof name === 'string' && Object.hasOwn(OUTPUT_FORMATS, name);
}

/** "PNG, JPEG, WebP or TIFF", with another word between the last two. */
export function inputNames(last: 'or' | ','): string {
  const names = Object.values(INPUT_FORMATS).map(({ name }) => name);
  return last === ',' ? names.join(', ') : `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`;
}
