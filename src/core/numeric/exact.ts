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

/** Sine and cosine of an angle in degrees, -90 to 90, to the last bits of a double (Taylor's series). */
export function sineAndCosineOfDegrees(degrees: number): { readonly sine: number; readonly cosine: number } {
  const x = (degrees * Math.PI) / 180;
  const xx = x * x;
  let sine = 0;
  let cosine = 0;
  let term = 1;
  for (let n = 0; n < 24; n++) {
    // term is x^n / n! without its sign; even powers go to the cosine, odd ones to the sine.
    const sign = (n >> 1) % 2 === 0 ? 1 : -1;
    if (n % 2 === 0) cosine += sign * term;
    else sine += sign * term * x;
    if (n % 2 === 0) term /= n + 1;
    else term = (term * xx) / (n + 1);
  }
  return { sine, cosine };
}

/** The angle of a direction in degrees, -180 to 180, within 0.004. */
export function degreesOf(x: number, y: number): number {
  const turns = turnsOf(x, y);
  return 360 * (turns > 0.5 ? turns - 1 : turns);
}
