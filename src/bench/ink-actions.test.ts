import { describe, expect, it } from 'vitest';
import { benchParts } from '../../tests/make/bench-parts';
import { parseCut, untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import type { ByInk } from '../core/stages/clear/settings';
import { seededRandom } from '../core/numeric/random';
import type { ChannelFacts, InkFacts } from '../engine/protocol';
import { inkActions } from './ink-actions';

const INK: ByInk = { on: true, channel: 'red', black: 40, mid: 130, white: 220, speckPx: 4 };
const byInk = (change: Partial<ByInk> = {}): Cut => ({
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, ink: { ...INK, ...change } },
});
const channel = (name: ByInk['channel'], score: number): ChannelFacts => ({
  channel: name,
  score,
  black: 30 + score,
  mid: 120,
  white: 200,
  histogram: [],
  picture: { width: 1, height: 1, gray: new Uint8Array(1) },
});
const facts: InkFacts = {
  told: true,
  color: '#1d2a6b',
  channels: [channel('luminance', 4), channel('blue', 9)],
};

describe('the points of ink', () => {
  it.each([
    [{ white: 20 }, { black: 19, white: 20 }],
    [{ black: 240 }, { black: 240, white: 241 }],
    [{ white: 0 }, { white: 255, black: 254 }],
    [{ mid: 300 - 70 }, { mid: 219.5 }],
    [{ mid: 10 }, { mid: 40.5 }],
  ])('stay in their order when one is moved to %o', (change, expected) => {
    const { parts, committed } = benchParts(byInk());
    inkActions(parts).changeByInk(change);
    expect(committed.at(-1)!.clear.ink).toMatchObject(expected);
  });

  it('never make a cut that cannot be read, wherever they are moved, for dark and for light ink', () => {
    const random = seededRandom(4);
    for (const start of [byInk(), byInk({ black: 220, mid: 130, white: 40 })]) {
      const { parts, state } = benchParts(start);
      const actions = inkActions(parts);
      const dark = start.clear.ink!.black < start.clear.ink!.white;
      for (let k = 0; k < 200; k++) {
        const name = (['black', 'mid', 'white'] as const)[Math.floor(random() * 3)]!;
        actions.changeByInk({ [name]: Math.round(random() * 2550) / 10 });
        const { black, white } = parseCut(structuredClone(state().cut)).clear.ink!;
        expect(black < white).toBe(dark);
      }
    }
  });

  it('keep the share of the mid point when an end is moved', () => {
    const { parts, committed } = benchParts(byInk({ mid: 85 }));
    inkActions(parts).changeByInk({ white: 200 });
    expect(committed.at(-1)!.clear.ink!.mid).toBe(80);
  });

  it('hatch what is clipped only while they move', () => {
    const { parts, state } = benchParts(byInk());
    const actions = inkActions(parts);
    actions.draftByInk({ black: 50 });
    expect(state().clipping).toBe(true);
    actions.changeByInk({ black: 50 });
    expect(state().clipping).toBe(false);
    actions.draftByInk({ speckPx: 9 }, false);
    expect(state().clipping).toBe(false);
  });
});

describe('channels and colors', () => {
  it('starts with the best channel, and takes another with its own points and the same specks', async () => {
    const { parts, committed } = benchParts(untouchedCut(), { inkFacts: () => Promise.resolve(facts) });
    const actions = inkActions(parts);
    await actions.startInk();
    expect(committed.at(-1)!.clear.ink).toMatchObject({ on: true, channel: 'blue', black: 39 });
    actions.changeByInk({ speckPx: 77 });
    actions.setChannel('luminance');
    expect(committed.at(-1)!.clear.ink).toMatchObject({ channel: 'luminance', black: 34, speckPx: 77 });
    actions.stopInk();
    expect(committed.at(-1)!.clear.ink).toBeNull();
  });

  it('remembers the colors chosen lately, newest first, each once', () => {
    const { parts, state } = benchParts(untouchedCut());
    const actions = inkActions(parts);
    for (const color of ['#111111', '#222222', '#111111', '#333333']) actions.inkIn(color);
    expect(state().recentInks).toEqual(['#333333', '#111111', '#222222']);
  });

  it('adds colorways up to the most a cut holds, and deletes one', () => {
    const { parts, state } = benchParts(untouchedCut());
    const actions = inkActions(parts);
    for (let k = 0; k < 30; k++) actions.addColorway({ name: `way ${k}`, color: '#1d2a6b' });
    expect(parseCut(state().cut).ink.colorways).toHaveLength(24);
    actions.deleteColorway(0);
    expect(state().cut.ink.colorways[0]!.name).toBe('way 1');
  });
});
