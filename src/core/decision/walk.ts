import type { Plane } from '../raster/plane';
/** How strongly each pixel of a plane is tied to the one right of it, and to the one below. */
export interface Ties {
  readonly width: number;
  readonly height: number;
  readonly across: Float32Array;
  readonly down: Float32Array;
}

/** A plane of answers between 0 and 1 that is sought. */
export interface Walk extends Ties {
  /** What each pixel is likely to be by itself, 0 to 1, and how much that counts; FIXED where it is known. */
  readonly likely: Float32Array;
  readonly trust: Float32Array;
}

/** Trust in what is known. */
export const FIXED = 1e6;

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** No plane smaller than this on its longer side is halved once more. */
const SMALLEST_PX = 24;

/** How often each plane is gone over, the coarsest first; and by how much each answer is moved beyond the mean around it. */
const COARSEST_ROUNDS = 120;
const ROUNDS = 10;
const BEYOND_TIMES = 1.6;

function isSmallest({ width, height }: Ties): boolean {
  return Math.max(width, height) <= SMALLEST_PX || Math.min(width, height) < 4;
}

/** The ties at a half, a quarter, ... of the size: what `walked` needs of a plane whatever is known in it. */
export function coarserTies(ties: Ties): readonly Ties[] {
  const all: Ties[] = [];
  for (let last = ties; !isSmallest(last); last = all.at(-1)!) all.push(halvedTies(last));
  return all;
}

/**
 * The answers of least energy: the sum of ties times squared differences of neighbors, and of trust times squared differences
 * from what is likely. It is the chance that a walk from a pixel, which prefers strong ties, ends at what is 1 (Grady, 2006).
 * Solved from coarse to fine by over-relaxation (Young, 1950), always in the same order, so equal everywhere. `coarser` are
 * its `coarserTies`.
 */
export function walked(walk: Walk, coarser: readonly Ties[] = coarserTies(walk)): Float32Array {
  const { width, height } = walk;
  const [next, ...others] = coarser;
  const answers = next
    ? enlarged({ data: walked({ ...next, ...halvedSides(walk) }, others), width, height })
    : walk.likely.slice();
  relax(walk, answers, next ? ROUNDS : COARSEST_ROUNDS);
  return answers;
}

function relax(walk: Walk, answers: Float32Array, rounds: number): void {
  const { width, height, across, down, likely, trust } = walk;
  // What each pixel draws on does not change from round to round: its own share, and one over all weights; 0 where it is known.
  const own = new Float32Array(answers.length);
  const share = new Float32Array(answers.length);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (trust[i]! >= FIXED) {
        answers[i] = likely[i]!;
        continue;
      }
      let weight = trust[i]!;
      if (x > 0) weight += across[i - 1]!;
      if (x < width - 1) weight += across[i]!;
      if (y > 0) weight += down[i - width]!;
      if (y < height - 1) weight += down[i]!;
      if (weight <= 0) continue;
      own[i] = trust[i]! * likely[i]!;
      share[i] = 1 / weight;
    }
  }
  const planes = { width, height, across, down, own, share };
  for (let round = 0; round < rounds; round++) {
    if (round % 2 === 0) for (let y = 0; y < height; y++) relaxRow(planes, answers, y, 0, width, 1);
    else for (let y = height - 1; y >= 0; y--) relaxRow(planes, answers, y, width - 1, -1, -1);
  }
}

/** Moves the answers of one row, from the column `from` up to `end`, `step` at a time. */
function relaxRow(
  { width, height, across, down, own, share }: Ties & Record<'own' | 'share', Float32Array>,
  answers: Float32Array,
  y: number,
  from: number,
  end: number,
  step: number,
): void {
  const isFirst = y === 0;
  const isLast = y === height - 1;
  for (let x = from, i = y * width + from; x !== end; x += step, i += step) {
    const part = share[i]!;
    if (part === 0) continue;
    let sum = own[i]!;
    if (x > 0) sum += across[i - 1]! * answers[i - 1]!;
    if (x < width - 1) sum += across[i]! * answers[i + 1]!;
    if (!isFirst) sum += down[i - width]! * answers[i - width]!;
    if (!isLast) sum += down[i]! * answers[i + width]!;
    const moved = answers[i]! + BEYOND_TIMES * (sum * part - answers[i]!);
    answers[i] = moved < 0 ? 0 : moved > 1 ? 1 : moved;
  }
}

/** Ties at half the size: the mean of those that cross. A tie is a chain of two, no stronger than its weaker half. */
function halvedTies({ width, height, across, down }: Ties): Ties {
  const w = Math.ceil(width / 2);
  const h = Math.ceil(height / 2);
  const out = { width: w, height: h, across: new Float32Array(w * h), down: new Float32Array(w * h) };
  for (let y = 0, j = 0; y < h; y++) {
    const below = 2 * y + 1 < height ? width : 0;
    for (let x = 0; x < w; x++, j++) {
      const i = 2 * y * width + 2 * x;
      const right = 2 * x + 1 < width ? 1 : 0;
      if (2 * x + 2 < width) {
        const first = Math.min(across[i]!, across[i + 1]!);
        out.across[j] = (first + Math.min(across[i + below]!, across[i + below + 1]!)) / 2;
      }
      if (2 * y + 2 < height) {
        const first = Math.min(down[i]!, down[i + width]!);
        out.down[j] = (first + Math.min(down[i + right]!, down[i + width + right]!)) / 2;
      }
    }
  }
  return out;
}

/** What is likely at half the size, and how much that counts; what is known counts for the pixel it lies in. */
function halvedSides({ width, height, likely, trust }: Walk): Pick<Walk, 'likely' | 'trust'> {
  const w = Math.ceil(width / 2);
  const h = Math.ceil(height / 2);
  const out = { likely: new Float32Array(w * h), trust: new Float32Array(w * h) };
  for (let y = 0, j = 0; y < h; y++) {
    for (let x = 0; x < w; x++, j++) {
      let sum = 0;
      let weight = 0;
      let known = 0;
      let knownSum = 0;
      for (let v = 2 * y; v < Math.min(height, 2 * y + 2); v++) {
        for (let u = 2 * x; u < Math.min(width, 2 * x + 2); u++) {
          const i = v * width + u;
          if (trust[i]! >= FIXED) {
            known++;
            knownSum += likely[i]!;
          } else {
            sum += trust[i]! * likely[i]!;
            weight += trust[i]!;
          }
        }
      }
      out.likely[j] = known > 0 ? knownSum / known : weight > 0 ? sum / weight : 0.5;
      out.trust[j] = known > 0 ? FIXED : weight;
    }
  }
  return out;
}

/** Answers at twice the size, the last row or column dropped where the size was odd. */
function enlarged({ data: answers, width, height }: Plane<Float32Array>): Float32Array {
  const w = Math.ceil(width / 2);
  const out = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) out[i] = answers[(y >> 1) * w + (x >> 1)]!;
  return out;
}
