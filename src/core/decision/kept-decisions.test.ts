import { describe, expect, it } from 'vitest';
import { decidedOtherwise } from '../../../tests/make/decisions';
import { blotches, noise, paint, threads } from '../../../tests/make/pictures';
import { boardSteps, renderBoard } from '../board';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import { runToEnd } from '../numeric/steps';
import type { Raster } from '../raster/raster';
import { sceneOf } from '../scene/scene';
import type { Sample } from '../stages/clear/settings';
import { decisionSteps } from './decide';
import type { Facts } from './decision';
import { keepingDecisions, KeptDecisions, takeDecision } from './kept-decisions';

const NOTHING: Facts = { goes: [], stays: [], marks: [] };

/** A dark ring around a hole, a pale disc beside it, and a soft shade, on a light ground. */
const rings = paint(240, 160, (x, y) => {
  const one = Math.hypot(x - 80, y - 80);
  const two = Math.hypot(x - 180, y - 80);
  const shade = 1 - 0.2 * Math.max(0, 1 - Math.hypot(x - 80, y - 145) / 40);
  if ((one < 50 && one > 22) || (two < 40 && two > 30)) return [29, 53, 87];
  if (two <= 30) return [250, 247, 240];
  return [236 * shade, 238 * shade, 234 * shade];
});

const onCheckerboard = paint(240, 240, (x, y) => {
  if (Math.hypot(x - 120, y - 120) < 60) return [200, 40, 60];
  const tone = ((x >> 4) + (y >> 4)) % 2 === 0 ? 255 : 204;
  return [tone, tone, tone];
});

const whole = (change: Partial<Sample> = {}): Cut => ({
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', 3, 3, { rule: 'whole', ...change })] },
});

const marked: Cut = {
  ...untouchedCut(),
  clear: {
    ...untouchedCut().clear,
    marks: [
      { goes: true, radiusPx: 4, points: [[5, 5]] },
      { goes: false, radiusPx: 6, points: [[60, 50]] },
    ],
  },
};

const cases: readonly (readonly [string, Raster, Cut])[] = [
  ['a drawing', rings, whole()],
  ['threads with grain', threads(160, 6), whole()],
  ['a checkerboard', onCheckerboard, whole({ backdrop: 'checkerboard' })],
  ['a busy picture with marks', blotches(120, 100, 3), marked],
  ['a picture that is prepared', rings, { ...whole(), prepare: { ...whole().prepare, turn: 90 } }],
];

const rendered = (original: Raster, cut: Cut, decisions: KeptDecisions) =>
  runToEnd(renderBoard(runToEnd(boardSteps({ original, decisions }, cut)), cut));

describe('decisions that are kept', () => {
  it.each(cases)('make the same bytes of %s, and are not taken again', (_what, original, cut) => {
    const taken = new KeptDecisions();
    const first = rendered(original, cut, taken);
    const bytes = taken.packTaken()!;
    expect(bytes.length).toBeLessThan(0.6 * original.width * original.height);
    const kept = new KeptDecisions(bytes);
    const second = rendered(original, cut, kept);
    expect(Buffer.from(second.raster.data).equals(Buffer.from(first.raster.data))).toBe(true);
    expect(second.alike).toEqual(first.alike);
    expect(kept.packTaken()).toBeNull();
    expect(taken.packTaken()).toBeNull();
  });

  it('say the same of areas, and of what is sure', () => {
    const taken = new KeptDecisions();
    const decide = (decisions: KeptDecisions) => {
      const scene = sceneOf(rings);
      keepingDecisions(scene, decisions, '');
      return runToEnd(decisionSteps(scene, NOTHING))!;
    };
    const { toBorder, ...first } = decide(taken);
    const { toBorder: nearness, ...second } = decide(new KeptDecisions(taken.pack(9)));
    expect(first.areas.length).toBeGreaterThan(1);
    expect(second).toEqual(first);
    // How far a border is matters at two distances.
    for (const limit of [4.5, 6])
      expect(nearness.map((far) => (far <= limit ? 1 : 0))).toEqual(
        toBorder.map((far) => (far <= limit ? 1 : 0)),
      );
  });

  it('keep that no backdrop was seen', () => {
    const busy = noise(80, 60);
    const taken = new KeptDecisions();
    const scene = () => {
      const made = sceneOf(busy);
      keepingDecisions(made, taken, '');
      return made;
    };
    expect(runToEnd(decisionSteps(scene(), NOTHING))).toBeNull();
    const bytes = taken.packTaken()!;
    expect(bytes.length).toBeLessThan(200);
    expect(runToEnd(decisionSteps(scene(), NOTHING))).toBeNull();
    expect(taken.packTaken()).toBeNull();
  });

  it('are followed though this program would decide otherwise, until something else is told', () => {
    const before = decidedOtherwise(rings, NOTHING);
    const now = sceneOf(rings);
    keepingDecisions(now, new KeptDecisions(before.pack(1)), '');
    expect(runToEnd(decisionSteps(now, NOTHING))!.goes.includes(1)).toBe(false);
    const told = { ...NOTHING, stays: [{ x: 80, y: 40 }] };
    expect(runToEnd(decisionSteps(now, told))!.goes.includes(1)).toBe(true);
  });

  it('stay when the same is decided again, and the newest stay of too many', () => {
    const scene = sceneOf(rings);
    const own = runToEnd(decisionSteps(scene, NOTHING))!;
    const kept = new KeptDecisions();
    keepingDecisions(scene, kept, '');
    takeDecision(scene, 'one', own);
    const first = kept.pack(9);
    takeDecision(scene, 'two', null);
    const other = new KeptDecisions();
    keepingDecisions(scene, other, '');
    takeDecision(scene, 'one', null);
    expect(kept.add(other.pack(9))).toBe(false);
    expect(new KeptDecisions(kept.pack(9)).pack(1)).toEqual(kept.pack(1));
    expect(kept.pack(2).length).toBeGreaterThan(first.length);
    expect(kept.pack(1).length).toBeLessThan(100);
  });

  it('are decided anew where they are of another picture', () => {
    const taken = new KeptDecisions();
    rendered(rings, whole(), taken);
    const small = paint(90, 80, (x) => (x > 40 && x < 60 ? [20, 30, 40] : [240, 240, 240]));
    const kept = new KeptDecisions(taken.pack(9));
    rendered(small, whole(), kept);
    expect(kept.packTaken()).not.toBeNull();
  });

  it('are decided anew where one of them was written by something else', () => {
    const taken = new KeptDecisions();
    rendered(rings, whole(), taken);
    const bytes = taken.pack(9);
    const first = bytes.indexOf('{'.charCodeAt(0), 5 + new DataView(bytes.buffer).getUint32(0, true));
    bytes[first] = 0;
    const kept = new KeptDecisions(bytes);
    rendered(rings, whole(), kept);
    expect(kept.packTaken()).not.toBeNull();
  });

  it('are decided anew where what is known of them is not what it should be', () => {
    const taken = new KeptDecisions();
    rendered(rings, whole(), taken);
    const text = Buffer.from(taken.pack(9)).toString('latin1').replace('"areas":[{"x"', '"areas":[{"z"');
    const kept = new KeptDecisions(Uint8Array.from(Buffer.from(text, 'latin1')));
    rendered(rings, whole(), kept);
    expect(kept.packTaken()).not.toBeNull();
  });

  it.each([
    ['nothing', new Uint8Array(0)],
    ['a part', new Uint8Array([9, 0, 0, 0, 91])],
    ['no list', new Uint8Array([4, 0, 0, 0, 110, 117, 108, 108])],
    ['fewer bytes than it says', Uint8Array.from([9, 0, 0, 0, ...Buffer.from('[["a",7]]'), 1, 2])],
  ])('are refused where %s was written', (_what, bytes) => {
    expect(() => new KeptDecisions(bytes)).toThrow(/kept decisions/);
  });
});
