import type { Backdrop } from '../../demo/picture';

export type Color = readonly [number, number, number];

export const WIDTH = 480;
export const HEIGHT = 360;

/** How a picture is saved before it is looked at. */
export interface Saving {
  readonly noise: number;
  readonly jpegQuality: number | null;
}

/** What a case is made of. */
export interface Parts {
  readonly subject: string;
  readonly backdrop: Backdrop;
  readonly saving: Saving;
  /** How far out of focus the subject is: standard deviation of its blur in pixels. */
  readonly focus?: number;
  /** How much of the backdrop the subject's rim reflects. */
  readonly reflection?: number;
  /** Light that falls on subject and backdrop alike, as a factor; the backdrop has it already. */
  readonly light?: (x: number, y: number) => number;
}
