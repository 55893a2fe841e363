import type { Mark } from '../stages/clear/settings';
import type { Area } from './area';
import type { Carried } from './carry';
import type { Smooth } from './smooth';

/** A place of the original, in pixels. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** What was told of a picture: places of background and places of the subject. */
export interface Facts {
  readonly goes: readonly Place[];
  readonly stays: readonly Place[];
  /** Strokes over both. */
  readonly marks: readonly Mark[];
}

/** Subject or background, decided for the picture as a whole at a reduced size. */
export interface Decision {
  readonly width: number;
  readonly height: number;
  /** The original was halved so many times. */
  readonly reduction: number;
  /** 1 where there is background, 0 where there is subject. */
  readonly goes: Uint8Array;
  /** 1 where that rests on what was told, or on what an enclosed area is part of. */
  readonly firm: Uint8Array;
  /** Whether there is no grain: drawn, not photographed. */
  readonly clean: boolean;
  /** Whether it is drawn on plain white. */
  readonly drawnOnWhite: boolean;
  /** Whether the backdrop has so much color that it tells what is its shade. */
  readonly colored: boolean;
  /** How far the nearest border is, in thirds of a pixel. */
  readonly toBorder: Uint8Array;
  /** 1 in enclosed areas that are so small or narrow that what is around them may have changed their look. */
  readonly doubtful: Uint8Array;
  /** Enclosed areas that look like the backdrop; in pixels of the original. */
  readonly areas: readonly Area[];
  /** The share of the frame that one smooth backdrop explains, 0 to 1. */
  readonly frameShare: number;
  /** Whether no backdrop was seen and the marks alone decided, with what is around them. */
  readonly byMarks: boolean;
  /** Whether a shade was taken for background. */
  readonly shaded: boolean;
  /** Whether light that changes from row to row was divided out before. */
  readonly evened: boolean;
  /** The modelled backdrop, at its size. */
  readonly backdrop: Smooth;
  readonly carried: Carried;
}
