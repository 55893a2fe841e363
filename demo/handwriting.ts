/** A made-up running hand: each letter goes on from where the one before ended, in units of 40 to the height of an x. */
interface Letter {
  /** Curves (cubic Bezier, six numbers each) from (0, 0) on. */
  readonly curves: readonly number[];
  /** Where the pen is set down first; letters without go on from the last one. */
  readonly from?: readonly [number, number];
  /** Strokes beside, each of a start and curves. */
  readonly beside?: readonly {
    readonly from: readonly [number, number];
    readonly curves: readonly number[];
  }[];
  readonly width: number;
}

const LETTERS: Record<string, Letter> = {
  M: {
    from: [-8, -4],
    curves: [
      -2, -34, 10, -96, 20, -98, 30, -98, 24, -40, 28, -14, 34, -52, 48, -100, 58, -98, 68, -96, 60, -30, 62,
      -10, 63, 0, 70, 0, 78, -10,
    ],
    width: 78,
  },
  O: {
    from: [40, -92],
    curves: [
      12, -98, -6, -52, 2, -22, 10, 8, 50, 4, 60, -32, 68, -64, 54, -94, 34, -90, 24, -86, 28, -70, 44, -74,
      56, -77, 66, -50, 74, -14,
    ],
    width: 74,
  },
  a: {
    curves: [
      10, -26, 22, -40, 30, -36, 14, -42, 6, -20, 10, -8, 14, 4, 28, -10, 32, -36, 29, -14, 30, -2, 36, -2,
      40, -2, 44, -6, 46, -10,
    ],
    width: 46,
  },
  e: { curves: [12, -16, 25, -28, 20, -37, 12, -44, 2, -20, 8, -6, 14, 4, 26, -2, 32, -10], width: 32 },
  l: { curves: [14, -36, 28, -86, 18, -96, 8, -102, 4, -30, 9, -8, 12, 3, 20, -2, 26, -10], width: 26 },
  n: {
    curves: [
      4, -20, 7, -32, 9, -37, 9, -24, 8, -12, 8, 0, 11, -22, 20, -38, 28, -35, 34, -32, 28, -10, 30, -4, 32,
      2, 38, -4, 42, -10,
    ],
    width: 42,
  },
  r: {
    curves: [
      6, -18, 9, -32, 11, -40, 13, -32, 22, -32, 28, -33, 23, -20, 20, -4, 27, -1, 32, 1, 36, -5, 38, -10,
    ],
    width: 38,
  },
  s: {
    curves: [8, -20, 14, -36, 16, -42, 16, -28, 28, -14, 20, -3, 14, 3, 6, 0, 7, -5, 14, 2, 26, -2, 32, -10],
    width: 32,
  },
  t: {
    curves: [8, -30, 14, -60, 16, -82, 13, -50, 8, -14, 13, -4, 17, 3, 24, -4, 28, -10],
    beside: [{ from: [-6, -54], curves: [6, -58, 24, -58, 40, -62] }],
    width: 28,
  },
  ' ': { curves: [], width: 26 },
};

/** Where letters begin and end, above the base line. */
const JOIN = -10;

interface Dot {
  readonly x: number;
  readonly y: number;
}

/** How a hand is drawn. */
export interface Hand {
  readonly color: string;
  /** Width of an upstroke and of a downstroke, in units. */
  readonly thin: number;
  readonly thick: number;
}

/** The SVG of a name in a running hand, with a flourish below. The letters' x is `size` high; (x, y) begins its base line. */
export function handwritten(text: string, x: number, y: number, size: number, hand: Hand): string {
  const scale = size / 40;
  const lines: Dot[][] = [];
  let line: Dot[] = [];
  let left = 0;
  for (const character of text) {
    const letter = LETTERS[character];
    if (!letter) throw new Error(`hand: expected one of ${Object.keys(LETTERS).join('')}, got ${character}`);
    if (letter.from || letter.curves.length === 0) {
      if (line.length > 1) lines.push(line);
      line = letter.from ? [{ x: left + letter.from[0], y: letter.from[1] }] : [];
    } else if (line.length === 0) line = [{ x: left, y: JOIN }];
    follow(letter.curves, left, line);
    for (const { from, curves } of letter.beside ?? []) {
      const other = [{ x: left + from[0], y: from[1] }];
      follow(curves, left, other);
      lines.push(other);
    }
    left += letter.width;
  }
  if (line.length > 1) lines.push(line);
  const flourish: Dot[] = [{ x: left, y: JOIN }];
  follow(
    [24, -30, 26, 34, -left * 0.3, 30, -left * 0.7, 26, -left * 0.8, 44, -left * 0.2, 40],
    left,
    flourish,
  );
  lines.push(flourish);
  const strokes = lines.flatMap((points) => points.slice(1).map((to, k) => segment(points[k]!, to, hand)));
  return `<g transform="translate(${x} ${y}) scale(${scale}) skewX(-12)" stroke="${hand.color}" stroke-linecap="round">${strokes.join('')}</g>`;
}

/** Points along Bezier curves, close enough to draw straight lines between. */
function follow(curves: readonly number[], left: number, line: Dot[]): void {
  for (let k = 0; k + 5 < curves.length; k += 6) {
    const from = line.at(-1)!;
    const [ax, ay, bx, by, cx, cy] = curves.slice(k, k + 6) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    for (let step = 1; step <= 14; step++) {
      const t = step / 14;
      const u = 1 - t;
      const mix = (p: number, a: number, b: number, c: number) =>
        u * u * u * p + 3 * u * u * t * a + 3 * u * t * t * b + t * t * t * c;
      line.push({ x: mix(from.x, left + ax, left + bx, left + cx), y: mix(from.y, ay, by, cy) });
    }
  }
}

/** A short straight stroke, thick where the pen is drawn down. */
function segment(from: Dot, to: Dot, { thin, thick }: Hand): string {
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1;
  const down = Math.max(0, (to.y - from.y) / length);
  const wide = thin + (thick - thin) * down * down;
  const place = (value: number) => value.toFixed(2);
  return `<path d="M${place(from.x)} ${place(from.y)}L${place(to.x)} ${place(to.y)}" stroke-width="${wide.toFixed(2)}"/>`;
}
