import type { Cut } from '../../core/cut/schema';
import type { TileTask } from '../../core/helpers';
import type { Raster, Rect } from '../../core/raster/raster';

/** Numbers that all threads of a task share, by their index: the next tile, whether it has ended, a bell for who waits. */
export const NEXT = 0;
export const ENDED = 1;
export const BELL = 2;
/** Two more for each slot of each helper: whether it is full, and with which tile. */
export const SLOTS = 3;
export const SLOTS_EACH = 2;

/** Where the numbers of a helper's slot are. */
export function slotAt(helper: number, slot: number): number {
  return SLOTS + 2 * (SLOTS_EACH * helper + slot);
}

export const FREE = 0;
export const FULL = 1;

/** A task as it is sent to a helper. All memory in it is shared. */
export interface SentTask {
  readonly kind: 'task';
  /** Which picture: a helper keeps what it finds out about the last one. */
  readonly picture: number;
  readonly width: number;
  readonly height: number;
  readonly pixels: SharedArrayBuffer;
  readonly maps: readonly SharedArrayBuffer[];
  readonly cut: Cut;
  readonly key: string;
  readonly rect: Rect;
  readonly tilePx: number;
  readonly counted: Rect;
  readonly tiles: number;
  readonly control: SharedArrayBuffer;
  /** Which helper it is, and where it puts the pixels of tiles in turn, and its counts. */
  readonly helper: number;
  readonly slots: readonly SharedArrayBuffer[];
  readonly counts: SharedArrayBuffer;
}

/** The task as it was begun, on shared memory. */
export function taskOf(sent: SentTask): TileTask {
  const { width, height, cut, key, rect, tilePx, counted } = sent;
  return {
    picture: rasterOn(sent.pixels, width, height),
    maps: sent.maps.map((levels) => ({
      kind: 'reach',
      width,
      height,
      levels: new Uint16Array(levels) as unknown as Uint16Array<ArrayBuffer>,
    })),
    cut,
    key,
    rect,
    tilePx,
    counted,
  };
}

/** A picture on shared memory. It is only read, so that nobody asks to own its bytes. */
function rasterOn(pixels: SharedArrayBuffer, width: number, height: number): Raster {
  const data = new Uint8Array(pixels) as unknown as Uint8Array<ArrayBuffer>;
  return { kind: 'rgba8', space: 'srgb', alpha: 'straight', width, height, data };
}
