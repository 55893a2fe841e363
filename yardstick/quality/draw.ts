import { letteringWidth, lettering } from '../../demo/letters';

type Random = () => number;

/** A number between two bounds. */
export const between = (random: Random, low: number, high: number) => low + (high - low) * random();

/** A saturated or dark color that lies well away from white and from the colors in `away`. */
export function subjectColor(random: Random, away: readonly (readonly number[])[]): string {
  for (let tries = 0; ; tries++) {
    const color = [0, 1, 2].map(() => Math.round(between(random, 10, 235)));
    const near = away.some((other) => Math.hypot(...color.map((value, c) => value - other[c]!)) < 110);
    if (!near || tries > 200) return `rgb(${color.join(',')})`;
  }
}

/** Lettering with counters, in one or two lines, sometimes inside of a ring. */
export function logo(
  random: Random,
  width: number,
  height: number,
  away: readonly (readonly number[])[],
): string {
  const letters = 'OREKSTLWI';
  const length = 3 + Math.floor(random() * 3);
  const word = Array.from({ length }, () => letters[Math.floor(random() * letters.length)]).join('') + 'O';
  const color = subjectColor(random, away);
  const size = Math.min(height * 0.4, (width * 0.72) / (letteringWidth(word, 100) / 100));
  const left = (width - letteringWidth(word, size)) / 2;
  const weight = between(random, 7, 15);
  const first = lettering(word, left, height * 0.24, size, color, weight);
  const small = between(random, 20, 30);
  const second = lettering(
    'KITES',
    width * 0.3,
    height * 0.24 + size * 1.25,
    small,
    subjectColor(random, away),
    between(random, 8, 12),
  );
  if (random() < 0.5) return first + second;
  const radius = Math.min(width, height) * 0.46;
  return `${first}<circle cx="${width / 2}" cy="${height / 2}" r="${radius}" fill="none" stroke="${subjectColor(random, away)}" stroke-width="${between(random, 3, 14)}"/>`;
}

/** A shaded body with a handle (a counter), a label and a highlight whose rim is soft. */
export function product(
  random: Random,
  width: number,
  height: number,
  away: readonly (readonly number[])[],
): string {
  const id = Math.floor(random() * 1e9);
  const one = subjectColor(random, away);
  const two = subjectColor(random, away);
  const x = width * between(random, 0.3, 0.36);
  const y = height * between(random, 0.16, 0.24);
  const w = width * between(random, 0.26, 0.32);
  const h = height * between(random, 0.5, 0.58);
  const round = between(random, 6, 40);
  const handle = h * 0.26;
  return `<defs><linearGradient id="body${id}" x1="0" y1="0" x2="1" y2="0.3"><stop offset="0" stop-color="${one}"/><stop offset="1" stop-color="${two}"/></linearGradient><radialGradient id="shine${id}"><stop offset="0" stop-color="#fff" stop-opacity="0.9"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></radialGradient></defs>
    <circle cx="${x + w}" cy="${y + h * 0.45}" r="${handle}" fill="none" stroke="${two}" stroke-width="${between(random, 10, 18)}"/>
    <rect x="${x}" y="${y}" width="${w}" height="${h}" rx="${round}" fill="url(#body${id})"/>
    <rect x="${x + w * 0.15}" y="${y + h * 0.55}" width="${w * 0.6}" height="${h * 0.2}" fill="${subjectColor(random, away)}"/>
    <ellipse cx="${x + w * 0.3}" cy="${y + h * 0.25}" rx="${w * 0.16}" ry="${h * 0.14}" fill="url(#shine${id})"/>`;
}

/** A spool with tapered, crossing fibres. */
export function tassel(
  random: Random,
  width: number,
  height: number,
  away: readonly (readonly number[])[],
): string {
  const color = subjectColor(random, away);
  const fibres = Array.from({ length: 46 }, () => {
    const x = width * between(random, 0.4, 0.6);
    const end = x + between(random, -90, 90);
    const bend = x + between(random, -60, 60);
    const from = between(random, 1, 2.4);
    const far = height * between(random, 0.75, 0.95);
    return `<path d="M${x - from / 2} ${height * 0.42}Q${bend} ${height * 0.65} ${end} ${far}Q${bend + from} ${height * 0.65} ${x + from / 2} ${height * 0.42}Z" fill="${color}"/>`;
  });
  return `<rect x="${width * 0.36}" y="${height * 0.14}" width="${width * 0.28}" height="${height * 0.3}" rx="8" fill="${subjectColor(random, away)}"/>${fibres.join('')}`;
}

/** How a pen writes. */
export type Pen = 'ball' | 'fountain' | 'fine';

/** A signature: loops joined by upstrokes down to hairlines, a crossbar, a flourish and a dot, in one color. */
export function signature(
  random: Random,
  width: number,
  height: number,
  { ink, pen, tiltDeg }: { readonly ink: string; readonly pen: Pen; readonly tiltDeg: number },
): string {
  const thick = pen === 'fountain' ? [1.4, 3.6] : pen === 'ball' ? [1.5, 2] : [0.8, 1.1];
  const thin = pen === 'fountain' ? [0.7, 1.1] : thick;
  const wide = (range: number[]) => between(random, range[0]!, range[1]!).toFixed(2);
  let x = width * 0.14;
  const base = height * 0.58;
  const strokes: string[] = [];
  const stroke = (d: string, range: number[]) =>
    strokes.push(`<path d="${d}" fill="none" stroke-width="${wide(range)}" stroke-linecap="round"/>`);
  for (let letter = 0; letter < 8; letter++) {
    const next = x + between(random, 24, 44);
    const tall = letter === 0 || letter === 4 ? between(random, 0.3, 0.38) : between(random, 0.08, 0.2);
    const top = base - height * tall;
    const mid = (x + next) / 2;
    stroke(`M${x} ${base}C${x + 10} ${base - 4} ${mid + 9} ${top + 10} ${mid} ${top}`, thin);
    const down = base + (letter % 3 === 1 ? height * 0.12 : 3);
    stroke(`M${mid} ${top}C${mid - 12} ${top + 2} ${mid - 8} ${down} ${mid + 2} ${down}`, thick);
    stroke(`M${mid + 2} ${down}C${mid + 10} ${down} ${next - 6} ${base + 2} ${next} ${base}`, thin);
    x = next;
  }
  stroke(`M${x} ${base}C${x + 30} ${base - 10} ${x + 10} ${base + 60} ${width * 0.2} ${base + 54}`, thin);
  stroke(`M${width * 0.3} ${base - height * 0.2}L${width * 0.44} ${base - height * 0.23}`, thick);
  strokes.push(
    `<circle cx="${width * 0.55}" cy="${base - height * 0.26}" r="${wide(thick)}" stroke="none"/>`,
  );
  const shade = pen === 'fountain' ? shading(random, width, height) : null;
  return `${shade ?? ''}<g stroke="${ink}" fill="${ink}" transform="rotate(${tiltDeg} ${width / 2} ${height / 2})" ${shade ? 'mask="url(#shading)"' : ''}>${strokes.join('')}</g>`;
}

/** Ink that pools and thins along the way: alpha between about 0.6 and 1. */
function shading(random: Random, width: number, height: number): string {
  const stops = Array.from({ length: 14 }, (_, k) => {
    const dense = Math.min(1, between(random, 0.6, 1.15));
    return `<stop offset="${(k / 13).toFixed(3)}" stop-color="#fff" stop-opacity="${dense.toFixed(3)}"/>`;
  });
  return `<defs><linearGradient id="pools" gradientUnits="userSpaceOnUse" x1="0" y1="0" x2="${width}" y2="${height * 0.4}">${stops.join('')}</linearGradient><mask id="shading" maskUnits="userSpaceOnUse" x="-500" y="-500" width="2000" height="2000"><rect x="-500" y="-500" width="2000" height="2000" fill="url(#pools)"/></mask></defs>`;
}

/** Lines and circles from half a pixel to a pixel and a half wide, with one broad bar. */
export function hairlines(
  random: Random,
  width: number,
  height: number,
  away: readonly (readonly number[])[],
): string {
  const color = subjectColor(random, away);
  const lines = Array.from({ length: 12 }, () => {
    const [x1, x2] = [between(random, 0.1, 0.9), between(random, 0.1, 0.9)].map((share) => share * width);
    const [y1, y2] = [between(random, 0.1, 0.7), between(random, 0.1, 0.7)].map((share) => share * height);
    return `<path d="M${x1} ${y1}L${x2} ${y2}" stroke="${color}" stroke-width="${between(random, 0.5, 1.5)}" fill="none"/>`;
  });
  const ring = `<circle cx="${width / 2}" cy="${height * 0.45}" r="${height * 0.3}" stroke="${color}" stroke-width="${between(random, 0.7, 1.4)}" fill="none"/>`;
  return `<rect x="${width * 0.2}" y="${height * 0.8}" width="${width * 0.6}" height="${height * 0.08}" fill="${color}"/>${ring}${lines.join('')}`;
}

/** A white face with dark pupils: parts that must stay although they are nearly the backdrop's color. */
export function eyes(width: number, height: number, body: string): string {
  const eye = (cx: number) =>
    `<circle cx="${cx}" cy="${height * 0.42}" r="26" fill="#ffffff"/><circle cx="${cx + 5}" cy="${height * 0.43}" r="9" fill="#1c1c1c"/>`;
  return `<ellipse cx="${width / 2}" cy="${height / 2}" rx="${width * 0.3}" ry="${height * 0.36}" fill="${body}"/>${eye(width * 0.42)}${eye(width * 0.58)}`;
}
