import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut, FindingKind } from '../cut/schema';
import type { Sample } from '../stages/clear/settings';
import { MOST_MENDS, type HandStroke } from '../stages/touch-up/settings';
import { seededRandom } from '../numeric/random';
import type { Raster } from '../raster/raster';
import { bearingsOf } from './bearings';
import { renderAndCheck } from './check-cut';
import { checkFile } from './check-file';
import { decidePockets } from './pockets';
import { dismiss, fixed, fixedFaults, openFindings } from './fixes';

/** A ring on white with a blue dot of dust: its hole is a pocket. */
const ring = (dust = true): Raster =>
  paint(160, 140, (x, y) => {
    if (dust && Math.hypot(x - 14, y - 120) < 1.6) return [60, 60, 160];
    const far = Math.hypot(x - 80, y - 70);
    const inside = Math.min(1, Math.max(0, 45.5 - far), Math.max(0, far - 19.5));
    const mix = (own: number) => Math.round(255 + (own - 255) * inside);
    return [mix(150), mix(40), mix(50)];
  });
const cutOf = (...samples: Partial<Sample>[]): Cut => ({
  ...untouchedCut(),
  clear: {
    ...untouchedCut().clear,
    samples: samples.map((one, k) => newSample(`s${k + 1}`, 3, 3, one)),
  },
});
const find = (picture: Raster, cut: Cut, kind: FindingKind) => {
  const { checked, frame } = renderAndCheck(picture, cut);
  const finding = checked.findings.find((one) => one.kind === kind) ?? null;
  return { finding, checked, bearings: bearingsOf(frame, picture) };
};

describe('checkCut', () => {
  it('finds a pocket, whose fix clears it', () => {
    const { finding, bearings } = find(ring(false), cutOf({}), 'pocket');
    expect(finding).toMatchObject({ count: 1, severity: 'doubt' });
    const cleared = fixed(cutOf({}), finding!, finding!.places, bearings);
    expect(find(ring(false), cleared, 'pocket').finding).toBeNull();
    expect(find(ring(false), cleared, 'pinhole').finding).toBeNull();
  });

  it('lets a later decision about a pocket replace an earlier one, wherever in it that was made', () => {
    const cut = cutOf({});
    const kept: Cut = { ...cut, clear: { ...cut.clear, pockets: [{ x: 74, y: 80, keep: true }] } };
    const { checked, bearings } = find(ring(false), kept, 'pocket');
    expect(checked.pockets.map((pocket) => [pocket.goes, pocket.sure])).toEqual([[false, true]]);
    const cleared = decidePockets(kept, checked.pockets, bearings, false);
    expect(cleared.clear.pockets).toHaveLength(1);
    const { cutout } = renderAndCheck(ring(false), cleared);
    expect(cutout.raster.data[(70 * 160 + 80) * 4 + 3]).toBe(0);
  });

  it('finds a speck, whose fix clears it and nothing else', () => {
    const cut = cutOf({});
    const { finding, bearings } = find(ring(), cut, 'speck');
    expect(finding).toMatchObject({ count: 1 });
    const fixedCut = fixed(cut, finding!, finding!.places, bearings);
    const after = renderAndCheck(ring(), fixedCut);
    expect(after.checked.findings.map(({ kind }) => kind)).not.toContain('speck');
    expect(after.cutout.raster.data).toEqual(renderAndCheck(ring(false), cut).cutout.raster.data);
  });

  it('finds the same speck in a turned and cropped picture, and fixes it there', () => {
    const cut = cutOf({});
    const turned: Cut = {
      ...cut,
      prepare: { ...cut.prepare, turn: 90, crop: { x: 0, y: 0, width: 130, height: 150 } },
    };
    const { finding, bearings } = find(ring(), turned, 'speck');
    expect(finding).toMatchObject({ count: 1 });
    const at = bearings.toOriginal(finding!.places[0]!.at.x, finding!.places[0]!.at.y);
    expect(Math.hypot(at.x - 14, at.y - 120)).toBeLessThan(2.5);
    const after = fixed(turned, finding!, finding!.places, bearings);
    expect(find(ring(), after, 'speck').finding).toBeNull();
  });

  it('finds a tolerance far off where that matters, and sets it right', () => {
    const random = seededRandom(4);
    const { data } = ring(false);
    const grainy = paint(160, 140, (x, y) => {
      const grain = Math.round((random() - 0.5) * 10);
      const p = (y * 160 + x) * 4;
      return [data[p]! - 6 + grain, data[p + 1]! - 6 + grain, data[p + 2]! - 6 + grain];
    });
    const cut = cutOf({ tolerance: 0.2 }, { tolerance: 12 });
    const { finding, bearings } = find(grainy, cut, 'tolerance');
    expect(finding!.places.map(({ sample }) => sample!.id)).toEqual(['s1']);
    const after = fixed(cut, finding!, finding!.places, bearings);
    expect(find(grainy, after, 'tolerance').finding).toBeNull();
    // Without grain as much is cleared at any small tolerance, but for the rim.
    expect(find(ring(false), cut, 'tolerance').finding).toBeNull();
    expect(find(ring(false), cutOf({ tolerance: 99 }), 'tolerance').finding).not.toBeNull();
  });

  it('finds a sample that clears nothing, and deletes that one', () => {
    const cut = cutOf({ tolerance: 12 }, { x: 150, y: 130, tolerance: 3 });
    const { finding, bearings } = find(ring(false), cut, 'idle-sample');
    expect(finding!.places.map(({ sample }) => sample!.id)).toEqual(['s2']);
    const after = fixed(cut, finding!, finding!.places, bearings);
    expect(after.clear.samples.map(({ id }) => id)).toEqual(['s1']);
    expect(find(ring(false), after, 'idle-sample').finding).toBeNull();
  });

  it('says of a crop that it goes through the subject, and takes it away', () => {
    const cut = cutOf({});
    const cropped = {
      ...cut,
      prepare: { ...cut.prepare, crop: { x: 60, y: 0, width: 100, height: 140 } },
    };
    const { finding, bearings } = find(ring(false), cropped, 'frame');
    expect(finding!.sentence).toContain('The crop goes through the subject (left)');
    expect(fixed(cropped, finding!, finding!.places, bearings).prepare.crop).toBeNull();
    expect(find(ring(false), cut, 'frame').finding).toBeNull();
  });

  it('finds old background that was left in the edge, and takes it out', () => {
    const cut = { ...cutOf({}), edge: { ...untouchedCut().edge, spill: 0 } };
    const { finding, bearings } = find(ring(false), cut, 'halo');
    expect(finding!.amount).toBeGreaterThan(3.2);
    const after = fixed(cut, finding!, finding!.places, bearings);
    expect(after.edge.spill).toBe(100);
    expect(find(ring(false), after, 'halo').finding).toBeNull();
    const again = fixed(after, finding!, finding!.places, bearings);
    expect(again.touchUp.mends[0]).toMatchObject({ mend: 'halo', background: '#ffffff' });
  });

  it('says nothing of pixels as long as nothing is cleared', () => {
    expect(renderAndCheck(ring(), untouchedCut()).checked.findings).toEqual([]);
  });

  it('mends faults only, when everything is to be put right', () => {
    const { checked, frame } = renderAndCheck(ring(), cutOf({}));
    expect(checked.findings.map(({ kind }) => kind).sort()).toEqual(['pocket', 'speck']);
    const after = fixedFaults(cutOf({}), checked.findings, bearingsOf(frame, ring()));
    expect(after.clear.pockets).toEqual([]);
    expect(after.touchUp.mends).toHaveLength(1);
  });

  it('adds no more mends than a cut can hold, and drops none of those before', () => {
    const { finding, bearings } = find(ring(), cutOf({}), 'speck');
    const before = Array.from({ length: MOST_MENDS }, (_, x) => ({
      mend: 'speck' as const,
      x,
      y: 0,
      reachPx: 3,
    }));
    const full: Cut = { ...cutOf({}), touchUp: { ...cutOf({}).touchUp, mends: before } };
    expect(fixed(full, finding!, finding!.places, bearings).touchUp.mends).toEqual(before);
  });

  it('asks after no part that a hand cleared, and says which strokes change nothing', () => {
    const apple = paint(120, 120, (x, y) =>
      Math.hypot(x - 60, y - 60) < 40 ? [140, 30, 40] : [240, 240, 240],
    );
    const sampled: Cut = {
      ...untouchedCut(),
      clear: { ...untouchedCut().clear, samples: [newSample('s1', 2, 2)] },
    };
    const stroke = (path: string): HandStroke => ({
      kind: 'brush',
      does: 'clear',
      radiusPx: 26,
      softness: 0,
      strength: 100,
      pressure: 'none',
      alike: null,
      path,
    });
    const kinds = (cut: Cut) => renderAndCheck(apple, cut).checked.findings.map(({ kind }) => kind);
    expect(kinds({ ...sampled, touchUp: { ...sampled.touchUp, strokes: [stroke('60,60')] } })).not.toContain(
      'missing',
    );
    const strokes = [stroke('60,60'), stroke('5,5'), { ...stroke('60,60'), radiusPx: 20 }];
    const { idleStrokes } = renderAndCheck(apple, {
      ...sampled,
      touchUp: { ...sampled.touchUp, strokes },
    }).checked;
    expect(idleStrokes).toEqual([1, 2]);
  });

  it('leaves out what was dismissed, also in another frame', () => {
    const cut = cutOf({});
    const { finding, checked, bearings } = find(ring(), cut, 'speck');
    const dismissed = dismiss(cut, finding!, finding!.places, bearings);
    const kinds = (findings: readonly { kind: FindingKind }[]) => findings.map(({ kind }) => kind);
    expect(kinds(openFindings(checked.findings, cut, bearings))).toContain('speck');
    expect(kinds(openFindings(checked.findings, dismissed, bearings))).toEqual(['pocket']);
    const shifted = openFindings(checked.findings, dismissed, {
      toCutout: (x, y) => ({ x: x + 40, y }),
    });
    expect(kinds(shifted)).toContain('speck');
  });
});

describe('checkFile', () => {
  it('reads a finished picture like a cut, as far as that goes', () => {
    const { cutout } = renderAndCheck(ring(), cutOf({}));
    expect(checkFile(cutout.raster, []).map(({ kind }) => kind)).toEqual(['speck']);
    const { cutout: clean } = renderAndCheck(ring(false), cutOf({}));
    expect(checkFile(clean.raster, [])).toEqual([]);
  });
});
