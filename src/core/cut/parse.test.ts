import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { describeChange } from './describe';
import { parseCut, parseCutText, untouchedCut } from './parse';
import type { Cut, Sample } from './schema';

const sample: Sample = { id: 's1', x: 4, y: 5, areaPx: 5, tolerance: 12.5, reach: 'joined', on: true };
const cut: Cut = { ...untouchedCut(), clear: { on: true, samples: [sample] } };
const withSample = (change: object) => ({ ...cut, clear: { on: true, samples: [{ ...sample, ...change }] } });

describe('parseCut', () => {
  it('gives back what it was given', () => {
    expect(parseCut(structuredClone(cut))).toEqual(cut);
    expect(parseCutText(JSON.stringify(cut))).toEqual(cut);
  });

  it.each([
    ['an unknown field', { ...cut, sparkle: 1 }, /unknown field sparkle/],
    ['an unknown field of a sample', withSample({ mood: 1 }), /cut\.clear\.samples\[0\]: unknown field mood/],
    ['another version', { ...cut, version: 99 }, /cut\.version: expected 1, got 99/],
    ['another format', { ...cut, format: 'other' }, /cut\.format/],
    ['a tolerance above 100', withSample({ tolerance: 140 }), /samples\[0\]\.tolerance/],
    ['a negative tolerance', withSample({ tolerance: -1 }), /samples\[0\]\.tolerance/],
    ['an even area', withSample({ areaPx: 4 }), /samples\[0\]\.areaPx: expected an odd number/],
    ['an area above 101', withSample({ areaPx: 103 }), /samples\[0\]\.areaPx/],
    ['half a pixel', withSample({ x: 1.5 }), /samples\[0\]\.x/],
    ['an unknown reach', withSample({ reach: 'nearby' }), /samples\[0\]\.reach/],
    ['a missing switch', withSample({ on: undefined }), /samples\[0\]\.on/],
    ['an empty file name', { ...cut, deliver: { fileName: '' } }, /deliver\.fileName/],
    ['no object', 7, /cut: /],
  ])('refuses %s and names the field', (_what, value, message) => {
    expect(() => parseCut(value)).toThrow(message);
  });

  it('refuses an id that occurs twice', () => {
    expect(() => parseCut({ ...cut, clear: { on: true, samples: [sample, sample] } })).toThrow(
      /s1 occurs twice/,
    );
  });

  it('refuses text that is not JSON', () => {
    expect(() => parseCutText('{')).toThrow(/expected a JSON document/);
  });
});

describe('docs/cut-format.md', () => {
  it('shows a cut that is valid', () => {
    const page = readFileSync('docs/cut-format.md', 'utf8');
    const example = /```json\n([\s\S]*?)```/.exec(page)![1]!;
    expect(parseCutText(example).clear.samples.length).toBeGreaterThan(0);
  });
});

describe('describeChange', () => {
  const changed = (change: Partial<Sample>): Cut => ({
    ...cut,
    clear: { on: true, samples: [{ ...sample, ...change }] },
  });

  it.each([
    [{ tolerance: 20 }, 'tolerance 12.5 to 20'],
    [{ reach: 'everywhere' as const }, 'reach everywhere'],
    [{ x: 9 }, 'move a sample'],
    [{ areaPx: 9 }, 'sample area 9 px'],
    [{ on: false }, 'switch a sample off'],
  ])('names a change of %o', (change, words) => {
    expect(describeChange(cut, changed(change))).toBe(words);
  });

  it('names what comes, goes and is switched', () => {
    expect(describeChange(untouchedCut(), cut)).toBe('add a sample');
    expect(describeChange(cut, untouchedCut())).toBe('delete a sample');
    expect(describeChange(cut, { ...cut, clear: { ...cut.clear, on: false } })).toBe('switch Clear off');
    expect(describeChange(cut, { ...cut, deliver: { fileName: 'a.png' } })).toBe('rename the file');
    expect(describeChange(cut, cut)).toBe('no change');
  });
});
