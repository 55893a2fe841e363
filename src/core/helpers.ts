import type { Cut } from './cut/schema';
import type { Raster, Rect } from './raster/raster';
import type { ReachMap } from './stages/clear/reach-map';

/** A part of a layer to be drawn tile by tile, as plain data that another thread can be given. */
export interface TileTask {
  readonly picture: Raster;
  /** Its places are those of the picture. */
  readonly cut: Cut;
  /** The reach maps of the samples that act. */
  readonly maps: readonly ReachMap[];
  /** Which layer of the cut. */
  readonly key: string;
  readonly rect: Rect;
  readonly tilePx: number;
  /** Where it counts that the edge cannot be told. */
  readonly counted: Rect;
}

/** What others do of a task, while this thread does what they have not taken. */
export interface Help {
  /** The next tile that nobody has taken, now taken; -1 where none is left. */
  take(): number;
  /** Hands over the tiles that others have drawn since. The pixels are there until it returns. */
  collect(put: (tile: number, pixels: Uint8Array) => void): void;
  /** Waits a little while for others. False where they have given no sign of life for long. */
  wait(): boolean;
  /** Ends it: what others still draw is not waited for. Gives their counts of where the edge cannot be told. */
  end(): readonly Uint32Array[];
}

/** Other threads that draw tiles. */
export interface Helpers {
  /** Hands out a task of so many tiles, or null where it is better done alone. */
  begin(task: TileTask, tiles: number): Help | null;
}
