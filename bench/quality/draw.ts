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

/** A handwriting-like stroke of varying width. */
export function signature(random: Random, width: number, height: number): string {
  const ink = random() < 0.5 ? '#1a1d2b' : '#1d2a6b';
  let x = width * 0.12;
  const strokes = Array.from({ length: 9 }, () => {
    const next = x + between(random, 24, 46);
    const up = height * between(random, 0.25, 0.55);
    const down = height * between(random, 0.5, 0.75);
    const path = `<path d="M${x} ${height * 0.6}C${x + 8} ${up} ${next - 10} ${up} ${next - 12} ${down}S${next} ${height * 0.58} ${next + 4} ${height * 0.58}" fill="none" stroke="${ink}" stroke-width="${between(random, 1.1, 3.4)}" stroke-linecap="round"/>`;
    x = next;
    return path;
  });
  return strokes.join('');
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
