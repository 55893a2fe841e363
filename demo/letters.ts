/** Strokes of a made-up monoline alphabet, each letter in a box of 60 x 80 units. */
const STROKES: Record<string, string> = {
  A: 'M4 78L30 4L56 78M13 52H47',
  B: 'M10 6V76H32C48 76 54 68 54 58C54 48 48 40 32 40H10V6H30C44 6 50 13 50 23C50 33 44 40 30 40',
  C: 'M54 18C48 8 40 4 30 4C14 4 4 18 4 40C4 62 14 76 30 76C40 76 48 72 54 62',
  D: 'M10 6V76H28C46 76 56 62 56 41C56 20 46 6 28 6Z',
  F: 'M52 6H10V78M10 40H42',
  G: 'M54 18C48 8 40 4 30 4C14 4 4 18 4 40C4 62 14 76 30 76C46 76 56 66 56 44H34',
  H: 'M10 2V78M50 2V78M10 40H50',
  M: 'M6 78V6L30 50L54 6V78',
  N: 'M10 78V6L50 76V2',
  P: 'M10 78V6H32C48 6 54 15 54 25C54 35 48 44 32 44H10',
  U: 'M8 2V50C8 68 16 76 30 76C44 76 52 68 52 50V2',
  V: 'M4 2L30 78L56 2',
  Y: 'M4 2L30 42L56 2M30 42V78',
  '.': 'M6 70V78',
  ' ': '',
  E: 'M52 6H10V76H52M10 40H44',
  I: 'M30 2V78',
  K: 'M10 2V78M54 4L12 44M26 32L56 78',
  L: 'M10 2V76H52',
  O: 'M30 4C46 4 56 18 56 40C56 62 46 76 30 76C14 76 4 62 4 40C4 18 14 4 30 4Z',
  R: 'M10 78V6H32C48 6 54 15 54 25C54 35 48 44 32 44H10M30 44L56 78',
  S: 'M52 16C46 7 39 4 30 4C16 4 8 12 8 21C8 47 54 33 54 58C54 70 44 76 30 76C18 76 10 72 6 62',
  T: 'M4 6H56M30 6V78',
  W: 'M2 2L16 76L30 22L44 76L58 2',
};

/** The SVG of a word; `size` is the height of its letters, (x, y) its upper left corner. */
export function lettering(
  word: string,
  x: number,
  y: number,
  size: number,
  color: string,
  weight: number,
): string {
  const scale = size / 80;
  const advance = 76;
  const letters = [...word].map((letter, i) => {
    const strokes = STROKES[letter];
    if (strokes === undefined)
      throw new Error(`letter: expected one of ${Object.keys(STROKES).join('')}, got ${letter}`);
    return `<path transform="translate(${i * advance} 0)" d="${strokes}"/>`;
  });
  return `<g transform="translate(${x} ${y}) scale(${scale})" fill="none" stroke="${color}" stroke-width="${weight}" stroke-linejoin="miter" stroke-linecap="butt">${letters.join('')}</g>`;
}

/** The width of a word at a letter height. */
export function letteringWidth(word: string, size: number): number {
  return ((word.length - 1) * 76 + 60) * (size / 80);
}
