/** What is told of a format of picture files. */
export interface FormatFacts {
  readonly name: string;
  readonly mime: string;
  /** The ending of a file's name, with its dot. */
  readonly ending: string;
}

/** The formats that can be brought in, by the names the decoder gives them. */
export const INPUT_FORMATS = {
  png: { name: 'PNG', mime: 'image/png', ending: '.png' },
  jpeg: { name: 'JPEG', mime: 'image/jpeg', ending: '.jpg' },
  webp: { name: 'WebP', mime: 'image/webp', ending: '.webp' },
  tiff: { name: 'TIFF', mime: 'image/tiff', ending: '.tif' },
} as const satisfies Readonly<Record<string, FormatFacts>>;

export type InputFormat = keyof typeof INPUT_FORMATS;

/** The formats that are delivered, and what is in such a file. How each is written and read back stands in `codec/outputs`. */
export const OUTPUT_FORMATS = {
  png: { name: 'PNG', mime: 'image/png', ending: '.png', words: '8-bit RGBA, straight alpha' },
} as const satisfies Readonly<Record<string, FormatFacts & { readonly words: string }>>;

export type OutputFormat = keyof typeof OUTPUT_FORMATS;

export function isInputFormat(name: unknown): name is InputFormat {
  return typeof name === 'string' && Object.hasOwn(INPUT_FORMATS, name);
}

/** "PNG, JPEG, WebP or TIFF", with another word between the last two. */
export function inputNames(last: 'or' | ','): string {
  const names = Object.values(INPUT_FORMATS).map(({ name }) => name);
  return last === ',' ? names.join(', ') : `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`;
}
