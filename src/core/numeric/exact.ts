/**
 * Arithmetic made of +, -, *, / and square roots only, which IEEE 754 rounds exactly, so that every browser and every
 * Node.js gets the same bits. `Math.sin`, `Math.hypot` or `**` may differ between them.
 */

export function square(x: number): number {
  return x * x;
}

/** Length of a vector of two or three parts. */
export function lengthOf(x: number, y: number, z = 0): number {
  return Math.sqrt(x * x + y * y + z * z);
}

/** Sine of an angle in turns, within 0.0012. */
export function sineOfTurns(turns: number): number {
  const t = turns - Math.floor(turns);
  const half = t < 0.5 ? t : t - 0.5;
  const arc = 16 * half * (0.5 - half);
  const sine = arc * (0.775 + 0.225 * arc);
  return t < 0.5 ? sine : -sine;
}

/** The angle of a vector in turns, 0 up to 1, within 0.00001 (Abramowitz and Stegun, 1964, 4.4.49). 0 for no length. */
export function turnsOf(x: number, y: number): number {
  const across = Math.abs(x);
  const up = Math.abs(y);
  const most = Math.max(across, up);
  if (most === 0) return 0;
  const z = Math.min(across, up) / most;
  const zz = z * z;
  const radians = z * (0.999866 + zz * (-0.3302995 + zz * (0.180141 + zz * (-0.085133 + zz * 0.0208351))));
  let turns = radians / (2 * Math.PI);
  if (up > across) turns = 0.25 - turns;
  if (x < 0) turns = 0.5 - turns;
  return y < 0 ? 1 - turns : turns;
}
