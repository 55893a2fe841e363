import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import type { Sample } from '../stages/clear/settings';
import { seededRandom } from '../numeric/random';
import { bearingsOf } from './bearings';
import { renderAndCheck } from './check-cut';
import { fixed, fixWords } from './fixes';

/** A pale plate with a darker rim and three colored dots on paper, with grain. */
function plate() {
  const random = seededRandom(4);
  return paint(240, 200, (x, y) => {
    const grain = Math.round((random() + random() - 1) * 3);
    const far = Math.hypot(x - 120, y - 100);
    if (far < 12) return [150 + grain, 50 + grain, 50 + grain];
    const tone = far > 70 ? 240 : far > 66 ? 150 : 222;
    return [tone + grain, tone + grain, tone - 2 + grain];
  });
}

const cutOf = (sample: Partial<Sample>): Cut => ({
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', 4, 4, sample)] },
});
const check = (cut: Cut) => {
  const picture = plate();
  const { checked, frame } = renderAndCheck(picture, cut);
  const finding = checked.findings.find(({ kind }) => kind === 'missing') ?? null;
  return { finding, bearings: bearingsOf(frame, picture) };
};

describe('what is missing', () => {
  it('is told where a tolerance takes the inside of the subject, and its fix brings that back', () => {
    const cut = cutOf({ rule: 'tolerance', tolerance: 14, reach: 'everywhere' });
    const { finding, bearings } = check(cut);
    expect(finding).toMatchObject({ severity: 'doubt', count: 1 });
    expect(finding!.amount).toBeGreaterThan(70);
    expect(finding!.places[0]).toMatchObject({ width: 133, height: 133 });
    expect(fixWords(finding!, 1, cut)).toBe('Decide by the whole picture');
    const mended = fixed(cut, finding!, finding!.places, bearings);
    expect(mended.clear.samples[0]!.rule).toBe('whole');
    expect(check(mended).finding).toBeNull();
  });

  it('is nothing where the subject is there, whoever decided', () => {
    expect(check(cutOf({ rule: 'whole' })).finding).toBeNull();
    expect(check(cutOf({ rule: 'tolerance', tolerance: 5 })).finding).toBeNull();
  });

  it('is nothing where somebody said that it goes', () => {
    const cut = cutOf({ rule: 'tolerance', tolerance: 14, reach: 'everywhere' });
    const told: Cut = { ...cut, clear: { ...cut.clear, pockets: [{ x: 120, y: 60, keep: false }] } };
    expect(check(told).finding).toBeNull();
  });

  it('is all where almost nothing is left', () => {
    const { finding } = check(cutOf({ rule: 'tolerance', tolerance: 62, reach: 'everywhere' }));
    expect(finding?.sentence).toMatch(/^Almost nothing is left: 0\.0\d % of the picture\.$/);
  });
});
