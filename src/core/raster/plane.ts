/**
 * One value a pixel, rows from the top, no padding: `data.length` is `width * height`. What the values mean, and their unit,
 * is said where a plane is taken or given.
 */
export interface Plane<D extends ArrayLike<number> = Uint8Array> {
  readonly data: D;
  readonly width: number;
  readonly height: number;
}
