import type { Task } from './helpers';
import { partOf } from './stages/work';
import { tilesOf } from './raster/raster';
import { layerOfTask, type DrawTask } from './render';
import type { Scene } from './scene/scene';
import { measureWith, type MeasureTask } from './stages/clear/clear';

/** What a thread that was given a task does. */
export interface PartWork {
  /** Makes one part of the task. The bytes are there until the next one. */
  make(part: number): Uint8Array;
  /** Pixels of each cell where the edge cannot be told, in the parts made so far; null where nobody asks. */
  readonly counts: Uint32Array | null;
}

/** `scene` is that of the task's picture; other tasks may have been done on it before. */
export function partWork(scene: Scene, task: Task): PartWork {
  scene.memo.take(task.facts);
  return task.kind === 'draw' ? drawing(scene, task as DrawTask) : measuring(scene, task as MeasureTask);
}

function drawing(scene: Scene, task: DrawTask): PartWork {
  const { layer, alike, count } = layerOfTask(scene, task);
  const tiles = tilesOf(task.rect, task.tilePx);
  return {
    make(part) {
      count(tiles[part]!);
      return partOf(layer, tiles[part]!).data;
    },
    counts: alike.counts,
  };
}

function measuring(scene: Scene, { sample, rule, rows }: MeasureTask): PartWork {
  const { width, height } = scene.raster;
  const measure = measureWith(scene, sample, rule);
  const levels = new Uint16Array(width * height);
  return {
    make(part) {
      const from = part * rows;
      const to = Math.min(height, from + rows);
      measure(from, to, 0, levels);
      return new Uint8Array(levels.buffer, from * width * 2, (to - from) * width * 2);
    },
    counts: null,
  };
}
