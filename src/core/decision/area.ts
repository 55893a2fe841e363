/** Why an enclosed area goes or stays. */
export type AreaReason =
  | 'told'
  | 'same-light'
  | 'lettering'
  | 'open-work'
  | 'other-color'
  | 'soft-rim'
  | 'off-pattern'
  | 'holds-parts'
  | 'shaded'
  | 'within'
  | 'solid'
  | 'shade'
  | 'alike'
  | 'unmarked';

/** An area inside of the subject that looks like the backdrop. */
export interface Area {
  /** A pixel deep inside of it. */
  readonly x: number;
  readonly y: number;
  readonly pixels: number;
  /** Upper left and lower right pixel. */
  readonly box: readonly [number, number, number, number];
  readonly goes: boolean;
  readonly why: AreaReason;
  /** Whether it was told, or its look decided, or it lies in lettering; not where what it is part of did. Small ones are. */
  readonly sure: boolean;
}
