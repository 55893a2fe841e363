import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blotches } from '../../../tests/make/pictures';
import { boardSteps, placedOn, renderBoard } from '../../core/board';
import { newSample } from '../../core/cut/new-sample';
import { untouchedCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { giveUp, runToEnd } from '../../core/numeric/steps';
import { createRaster, type Raster } from '../../core/raster/raster';
import { reachMaps } from '../../core/render';
import { startHelpers, type HelperThreads } from '../node/helpers';
import { Crew } from './crew';
import type { SentTask } from './shared';

/** A picture of several tiles: disks with soft rims and some threads before a backdrop that grows darker, with grain. */
function busy(width: number, height: number): Raster {
  const grain = blotches(width, height, 11);
  const raster = createRaster(width, height);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 4) {
      const [u, v] = [(x % 400) - 200, (y % 350) - 175];
      const disk = Math.min(1, Math.max(0, (120 - Math.sqrt(u * u + v * v)) / 3));
      const thread = x < 260 && y < 300 && (x + 2 * y) % 97 < 2 ? 0.7 : 0;
      const inside = Math.max(disk, thread);
      const noise = (grain.data[p]! % 7) - 3;
      const backdrop = 230 - (30 * y) / height;
      for (let c = 0; c < 3; c++)
        raster.data[p + c] = backdrop + ([30, 90, 60][c]! - backdrop) * inside + noise;
      raster.data[p + 3] = 255;
    }
  return raster;
}

const picture = busy(1560, 1060);
const cutOf = (change: Partial<Cut['clear']['samples'][number]>): Cut => ({
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', 5, 5, { tolerance: 9, ...change })] },
});
const CUTS: Record<string, Cut> = {
  'a flat backdrop everywhere': cutOf({ reach: 'everywhere' }),
  'a smooth backdrop with its shade, joined': cutOf({
    backdrop: 'smooth',
    reach: 'joined',
    shade: { darker: 8, lighter: 4 },
  }),
  'the picture as a whole': cutOf({ rule: 'whole', backdrop: 'smooth', reach: 'everywhere' }),
  'a shaped and inked edge with a crop': {
    ...cutOf({ reach: 'everywhere' }),
    prepare: { ...untouchedCut().prepare, crop: { x: 20, y: 8, width: 1530, height: 1040 } },
    edge: { ...untouchedCut().edge, softnessPx: 2, offsetPx: -1 },
    ink: { ...untouchedCut().ink, color: '#204060' },
  },
};

function render(cut: Cut, helpers: Crew | null) {
  const board = runToEnd(boardSteps({ original: picture, helpers }, cut));
  const cutout = runToEnd(renderBoard(board, cut));
  const maps = runToEnd(reachMaps(board.scene, placedOn(board, cut), board.kept.maps));
  return { cutout, levels: maps.map(({ levels }) => levels) };
}

const isEqual = (one: ArrayLike<number>, other: ArrayLike<number>) =>
  Buffer.compare(bytes(one), bytes(other)) === 0;
function bytes(of: ArrayLike<number>): Buffer {
  const { buffer, byteOffset, byteLength } = of as Uint8Array;
  return Buffer.from(buffer, byteOffset, byteLength);
}

describe('threads that help', () => {
  const alone = Object.fromEntries(Object.entries(CUTS).map(([name, cut]) => [name, render(cut, null)]));

  describe.each([1, 2, 3, 5])('%d of them', (count) => {
    let threads: HelperThreads;
    beforeAll(() => {
      threads = startHelpers(count)!;
    });
    afterAll(() => threads.close());

    // What decides by the whole picture is measured and drawn by them: it stands for the others.
    const names = count === 1 ? Object.keys(CUTS) : ['the picture as a whole'];
    it.each(names)('change no byte: %s', (name) => {
      const { cutout, levels } = render(CUTS[name]!, threads.crew);
      expect(isEqual(cutout.raster.data, alone[name]!.cutout.raster.data)).toBe(true);
      expect(levels.every((one, k) => isEqual(one, alone[name]!.levels[k]!))).toBe(true);
      expect(cutout.alpha).toEqual(alone[name]!.cutout.alpha);
      expect(cutout.alike).toEqual(alone[name]!.cutout.alike);
    });

    it('do a part of the work', () => {
      // A thread that has only just begun may come late to the first ones.
      for (let turn = 0; turn < 40 && threads.crew.partsMade === 0; turn++)
        render(CUTS['a flat backdrop everywhere']!, threads.crew);
      expect(threads.crew.partsMade).toBeGreaterThan(0);
    });
  });

  it('leave nothing to the one they help where it must be able to answer', async () => {
    const threads = startHelpers(2, { doAll: true })!;
    const name = 'the picture as a whole';
    const board = runToEnd(boardSteps({ original: picture, helpers: threads.crew }, CUTS[name]!));
    runToEnd(reachMaps(board.scene, placedOn(board, CUTS[name]!), board.kept.maps));
    const made = threads.crew.partsMade;
    const { raster } = runToEnd(renderBoard(board, CUTS[name]!));
    expect(isEqual(raster.data, alone[name]!.cutout.raster.data)).toBe(true);
    // Every square of the edge.
    expect(threads.crew.partsMade - made).toBe(4 * 3);
    await threads.close();
  });

  it('are asked for nothing where there are few parts', () => {
    const sent: SentTask[] = [];
    const crew = new Crew([{ post: (task) => sent.push(task) }]);
    expect(crew.begin({ kind: 'draw', picture, facts: {}, maps: [] }, 3, 100)).toBeNull();
    expect(sent).toHaveLength(0);
  });

  it('are not waited for where they died: what they took is done anew', () => {
    // Takes a part and never brings it.
    const crew = new Crew([{ post: (task) => void Atomics.add(new Int32Array(task.control), 0, 1) }], {
      mostWaitMs: 100,
    });
    const name = 'a flat backdrop everywhere';
    expect(isEqual(render(CUTS[name]!, crew).cutout.raster.data, alone[name]!.cutout.raster.data)).toBe(true);
  });

  it('are told when the work is given up', () => {
    const sent: SentTask[] = [];
    const crew = new Crew([{ post: (task) => sent.push(task) }]);
    const cut = CUTS['a flat backdrop everywhere']!;
    const board = runToEnd(boardSteps({ original: picture, helpers: crew }, cut));
    const steps = renderBoard(board, cut);
    while (sent.length === 0) steps.next();
    const ended = () => new Int32Array(sent.at(-1)!.control)[1];
    expect(ended()).toBe(0);
    giveUp(steps);
    expect(ended()).toBe(1);
  });
});
