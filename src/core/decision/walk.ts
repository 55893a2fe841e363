/** A plane of answers between 0 and 1 that is sought. */
export interface Walk {
  readonly width: number;
  readonly height: number;
  /** How strongly each pixel is tied to the one right of it, and to the one below. */
  readonly across: Float32Array;
  readonly down: Float32Array;
  /** What each pixel is likely to be by itself, 0 to 1, and how much that counts; FIXED where it is known. */
  readonly likely: Float32Array;
  readonly trust: Float32Array;
}

/** Trust in what is known. */
export const FIXED = 1e6;

/** No plane smaller than this on its longer side is halved once more. */
const SMALLEST = 24;

/** How often each plane is gone over, the coarsest first; and by how much each answer is moved beyond the mean around it. */
const COARSEST_ROUNDS = 120;
const ROUNDS = 10;
const BEYOND = 1.6;

/**
 * The answers of least energy: the sum of ties times squared differences of neighbors, and of trust times squared differences
 * from what is likely. It is the chance that a walk from a pixel, which prefers strong ties, ends at what is 1 (Grady, 2006).
 * Solved from coarse to fine by over-relaxation (Young, 1950), always in the same order, so equal everywhere.
 */
export function walked(walk: Walk): Float32Array {
  const { width, height } = walk;
  const isSmall = Math.max(width, height) <= SMALLEST || Math.min(width, height) < 4;
  const answers = isSmall ? walk.likely.slice() : enlarged(walked(halved(walk)), width, height);
  relax(walk, answers, isSmall ? COARSEST_ROUNDS : ROUNDS);
  return answers;
}

function relax(walk: Walk, answers: Float32Array, rounds: number): void {
  const { width, height, likely, trust } = walk;
  for (let i = 0; i < answers.length; i++) if (trust[i]! >= FIXED) answers[i] = likely[i]!;
  for (let round = 0; round < rounds; round++) {
    if (round % 2 === 0) for (let y = 0; y < height; y++) relaxRow(walk, answers, y, 0, width, 1);
    else for (let y = height - 1; y >= 0; y--) relaxRow(walk, answers, y, width - 1, -1, -1);
  }
}

/** Moves the answers of one row, from the column `from` up to `end`, `step` at a time. */
function relaxRow(
  { width, height, across, down, likely, trust }: Walk,
  answers: Float32Array,
  y: number,
  from: number,
  end: number,
  step: number,
): void {
  for (let x = from, i = y * width + from; x !== end; x += step, i += step) {
    const own = trust[i]!;
    if (own >= FIXED) continue;
    let sum = own * likely[i]!;
    let weight = own;
    if (x > 0) {
      sum += across[i - 1]! * answers[i - 1]!;
      weight += across[i - 1]!;
    }
    if (x < width - 1) {
      sum += across[i]! * answers[i + 1]!;
      weight += across[i]!;
    }
    if (y > 0) {
      sum += down[i - width]! * answers[i - width]!;
      weight += down[i - width]!;
    }
    if (y < height - 1) {
      sum += down[i]! * answers[i + width]!;
      weight += down[i]!;
    }
    if (weight <= 0) continue;
    const moved = answers[i]! + BEYOND * (sum / weight - answers[i]!);
    answers[i] = moved < 0 ? 0 : moved > 1 ? 1 : moved;
  }
}

/** The same at half the size: ties are the mean of those that cross, what is known counts for the pixel it lies in. */
function halved({ width, height, across, down, likely, trust }: Walk): Walk {
  const w = Math.ceil(width / 2);
  const h = Math.ceil(height / 2);
  const out = {
    across: new Float32Array(w * h),
    down: new Float32Array(w * h),
    likely: new Float32Array(w * h),
    trust: new Float32Array(w * h),
  };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const j = y * w + x;
      let sum = 0;
      let weight = 0;
      let known = 0;
      let knownSum = 0;
      let crossing = 0;
      let crossings = 0;
      let falling = 0;
      let fallings = 0;
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
          // A tie is a chain of two: no stronger than its weaker half.
          if (u === 2 * x + 1 && u < width - 1) {
            crossing += Math.min(across[i]!, across[i - 1]!);
            crossings++;
          }
          if (v === 2 * y + 1 && v < height - 1) {
            falling += Math.min(down[i]!, down[i - width]!);
            fallings++;
          }
        }
      }
      out.across[j] = crossings > 0 ? crossing / crossings : 0;
      out.down[j] = fallings > 0 ? falling / fallings : 0;
      if (known > 0) {
        out.likely[j] = knownSum / known;
        out.trust[j] = FIXED;
      } else {
        out.likely[j] = weight > 0 ? sum / weight : 0.5;
        out.trust[j] = weight;
      }
    }
  }
  return { width: w, height: h, ...out };
}

/** Answers at twice the size, the last row or column dropped where the size was odd. */
function enlarged(answers: Float32Array, width: number, height: number): Float32Array {
  const w = Math.ceil(width / 2);
  const out = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) out[i] = answers[(y >> 1) * w + (x >> 1)]!;
  return out;
}
