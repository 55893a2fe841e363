/** Strokes of a made-up monoline alphabet, each letter in a box of 60 x 80 units. */
const STROKES: Record<string, string> = {
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
    if (!strokes) throw new Error(`letter: expected one of ${Object.keys(STROKES).join('')}, got ${letter}`);
    return `<path transform="translate(${i * advance} 0)" d="${strokes}"/>`;
  });
  return `<g transform="translate(${x} ${y}) scale(${scale})" fill="none" stroke="${color}" stroke-width="${weight}" stroke-linejoin="miter" stroke-linecap="butt">${letters.join('')}</g>`;
}

/** The width of a word at a letter height. */
export function letteringWidth(word: string, size: number): number {
  return ((word.length - 1) * 76 + 60) * (size / 80);
}
