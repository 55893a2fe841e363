/** The side of a sample's square: the odd number at or just above what was typed. */
export function oddSide(typed: number): number {
  return 2 * Math.floor(typed / 2) + 1;
}
