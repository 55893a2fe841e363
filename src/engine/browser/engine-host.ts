import type { Helpers } from '../../core/helpers';
import type { Raster } from '../../core/raster/raster';
import type { Ground, View } from '../../core/view/compose';
import type { Answer, EngineEvent, StagePicture } from '../protocol';
import type { TriedPicture } from './tried';

/** What the engine needs of the place it runs in. */
export interface EngineHost {
  now(): number;
  /** Other threads that do parts of its work; null where there are none. */
  readonly helpers: Helpers | null;
  /** Lets waiting messages in. */
  pause(): Promise<void>;
  /** Shows opaque pixels on the sheet, or only a part of them where no other has changed. */
  paint(
    pixels: Uint8ClampedArray<ArrayBuffer>,
    width: number,
    height: number,
    part?: { readonly x: number; readonly y: number; readonly width: number; readonly height: number } | null,
  ): void;
  tell(event: EngineEvent): void;
  /** Makes the stage strip's small pictures with `compose`, one after each stage of a picture of that size. */
  thumbnail(
    size: { readonly width: number; readonly height: number },
    compose: (what: StagePicture | 'alpha', view: View, ground: Ground, out: Uint8ClampedArray) => void,
  ): void;
  /** Makes a small picture of each answer to the question about a cut with that `checkKey`, with `compose`; on dark if asked to. */
  answers(
    key: string,
    isOnDark: boolean,
    size: { readonly width: number; readonly height: number },
    compose: (what: Answer, view: View, ground: Ground, out: Uint8ClampedArray) => void,
  ): void;
  /** Shows proofs beside the sheet what the piece looks like. */
  tried(pictures: readonly TriedPicture[]): void;
  /** Loads the first picture of these addresses that can be read, as the backing that others lie on; null where none can. */
  loadBacking(addresses: readonly string[]): Promise<Raster | null>;
}
