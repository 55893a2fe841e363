import { describe, expect, it } from 'vitest';
import { toyCut, toyStages } from '../../tests/make/toy-stage';
import { untouchedCut } from '../core/cut/parse';
import { readSettings, stageHelp, stageOptions, stageUsage, withGiven } from './stage-options';

describe('options of stages', () => {
  it('are those of their fields, in the order of the stages, an added stage’s too', () => {
    expect(Object.keys(stageOptions(toyStages))).toEqual([
      'width',
      'spill',
      'offset',
      'softness',
      'evenness',
      'firmness',
      'shade-by',
      'weight',
      'density',
    ]);
    expect(stageUsage(toyStages)).toContain('[--shade-by N]');
    expect(stageHelp(24, toyStages)).toContain('  --shade-by N          makes everything darker, 0 to 100');
    expect(stageHelp(24).join('\n')).not.toMatch(/shade-by/);
  });

  it('are read into the stage’s settings, or refused by their range', () => {
    const given = readSettings({ 'shade-by': '30', offset: '-0.5', other: 'x' }, toyStages);
    expect(given).toEqual({ toy: { shadePercent: 30 }, edge: { offsetPx: -0.5 } });
    expect(withGiven(untouchedCut(toyStages), given, toyStages)).toMatchObject({
      toy: { on: true, shadePercent: 30 },
      edge: { on: true, offsetPx: -0.5, spill: 100 },
    });
    for (const text of ['101', '-1', 'dark', '', '1e1'])
      expect(() => readSettings({ 'shade-by': text }, toyStages)).toThrow(/--shade-by: expected 0 to 100/);
    expect(() => readSettings({ width: '2.5' })).toThrow(/--width: expected a whole number from 1 to 12/);
  });

  it('are refused where their stage is switched off', () => {
    const off = toyCut({ on: false });
    expect(() => withGiven(off, { toy: { shadePercent: 3 } }, toyStages)).toThrow(
      /--shade-by: expected a cut whose Toy is on/,
    );
  });
});
