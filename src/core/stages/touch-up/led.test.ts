import { describe, expect, it } from 'vitest';
import { untouchedCut } from '../../cut/parse';
import type { Cut } from '../../cut/schema';
import { gainedBy } from './led';
import type { StrokeOf } from './settings';

const brush = (path: string, more: Partial<StrokeOf<'brush'>> = {}): StrokeOf<'brush'> => ({
  kind: 'brush',
  does: 'clear',
  radiusPx: 10,
  softness: 0,
  strength: 100,
  pressure: 'none',
  alike: null,
  path,
  ...more,
});
const cutOf = (...strokes: StrokeOf<'brush'>[]): Cut => ({
  ...untouchedCut(),
  touchUp: { ...untouchedCut().touchUp, strokes },
});

describe('what a brush gains while it is led', () => {
  it('lies around its new places, the last one before them included', () => {
    const box = gainedBy(cutOf(brush('5,5 100,100')), cutOf(brush('5,5 100,100 120,100')))!;
    expect(box.x).toBeGreaterThan(40);
    expect(box.x).toBeLessThanOrEqual(90);
    expect(box.x + box.width).toBeGreaterThanOrEqual(130);
  });

  it('is all of a new stroke', () => {
    const box = gainedBy(cutOf(brush('5,5')), cutOf(brush('5,5'), brush('60,60 90,60')))!;
    expect(box.x).toBeLessThanOrEqual(50);
    expect(box.x + box.width).toBeGreaterThanOrEqual(100);
  });

  it.each([
    ['another radius', cutOf(brush('5,5')), cutOf(brush('5,5 9,9', { radiusPx: 11 }))],
    ['nothing at all', cutOf(brush('5,5')), cutOf(brush('5,5'))],
    ['another start', cutOf(brush('5,5')), cutOf(brush('6,5 9,9'))],
    ['an earlier stroke', cutOf(brush('5,5'), brush('8,8')), cutOf(brush('5,6'), brush('8,8 9,9'))],
    ['a stroke less', cutOf(brush('5,5'), brush('8,8')), cutOf(brush('5,5'))],
    [
      'one that is alike',
      cutOf(brush('5,5')),
      cutOf(brush('5,5 9,9', { alike: { tolerance: 5, reads: 'start' } })),
    ],
    [
      'another stage',
      cutOf(brush('5,5')),
      { ...cutOf(brush('5,5 9,9')), ink: { ...untouchedCut().ink, color: '#000000' } },
    ],
  ])('is not known of %s', (_what, before, after) => {
    expect(gainedBy(before, after)).toBeNull();
  });
});
