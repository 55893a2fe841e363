/** A colorway's name as the end of a file's name: spaces become hyphens. */
export function colorwayEnding(name: string): string {
  return `-${name.trim().replace(/\s+/g, '-')}`;
}

/** Whether the files of two colorways would have the same name, on file systems that do not tell capitals apart too. */
export function sameColorway(one: string, other: string): boolean {
  return colorwayEnding(one).toLowerCase() === colorwayEnding(other).toLowerCase();
}
