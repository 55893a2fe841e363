import { describe, expect, it } from 'vitest';
import { untouchedCut } from '../cut/parse';
import { describeProofChange } from './describe';
import { freshId, newProof } from './first-proof';
import { inLook, looksOf } from './looks';
import { parseProof, parseProofText } from './parse';
import { finenessOf, remarksOn, type Measured } from './seen';
import type { Ground, Placement, Proof } from './settings';

const placed = (more: Partial<Placement> = {}): Placement => ({
  id: 'p1',
  piece: '0123456789abcdef',
  colorway: null,
  light: false,
  anchor: 'bottom-right',
  x: 20,
  y: 40,
  width: 52,
  angleDeg: 0,
  opacity: 100,
  blend: 'multiply',
  ...more,
});

const ground = (id: string, ...all: Placement[]): Ground => ({
  id,
  source: { kind: 'shipped', which: 'letter-a4' },
  placed: all,
});

const proof = (...grounds: Ground[]): Proof => newProof(grounds);

describe('a proof as a document', () => {
  it('comes back from its text as it was', () => {
    const own = proof(ground('g1', placed()), {
      ...ground('g2'),
      source: { kind: 'pdf', file: 'a'.repeat(64), page: null },
    });
    expect(parseProofText(JSON.stringify(own))).toEqual(own);
  });

  it.each([
    ['grounds[0].placed[0].width', proof(ground('g1', placed({ width: -3 })))],
    ['grounds[0].placed[0].anchor', proof(ground('g1', placed({ anchor: 'middle' as never })))],
    ['grounds[0].source', proof({ ...ground('g1'), source: { kind: 'cloud' } as never })],
    ['grounds: expected each id once', proof(ground('g1'), ground('g1'))],
    ['each id of a ground once', proof(ground('g1', placed(), placed()))],
    ['unknown field color', { ...proof(), color: 1 }],
  ])('is refused with the field that is wrong: %s', (words, value) => {
    expect(() => parseProof(value)).toThrow(words);
    expect(() => parseProof(value)).toThrow(expect.objectContaining({ code: 'bad-proof' }));
  });

  it('tells one of a later Kenosis, and what is no JSON', () => {
    expect(() => parseProof({ ...proof(), version: 2 })).toThrow(
      expect.objectContaining({ code: 'newer-proof' }),
    );
    expect(() => parseProofText('{')).toThrow('proof: expected a JSON document');
  });

  it('gives ids that nothing has', () => {
    expect(freshId([])).toBe('g1');
    expect(freshId([{ id: 'g1' }, { id: 'g3' }])).toBe('g2');
  });
});

describe('what a change of a proof is called', () => {
  const before = proof(ground('g1', placed(), placed({ id: 'p2' })), ground('g2'));
  const after = (change: Partial<Placement>) =>
    proof(ground('g1', placed(change), placed({ id: 'p2' })), ground('g2'));
  it.each([
    ['move a piece', after({ x: 3 })],
    ['resize a piece', after({ width: 60, x: 3 })],
    ['turn a piece', after({ angleDeg: 3 })],
    ['another version', after({ light: true })],
    ['anchor a piece', after({ anchor: 'top', x: 4, y: 2 })],
    ['change the opacity', after({ opacity: 30 })],
    ['change the blending', after({ blend: 'normal' })],
    ['change the order', proof(ground('g1', placed({ id: 'p2' }), placed()), ground('g2'))],
    ['take a piece away', proof(ground('g1', placed()), ground('g2'))],
    ['lay a piece', proof(ground('g1', placed(), placed({ id: 'p2' })), ground('g2', placed()))],
    ['add a ground', proof(...before.grounds, ground('g3'))],
    ['take a ground away', proof(before.grounds[0]!)],
    ['no change', before],
  ])('%s', (words, changed) => {
    expect(describeProofChange(before, changed)).toBe(words);
  });
});

describe('what is said of a piece at its place', () => {
  const measured = (more: Partial<Measured> = {}): Measured => ({
    widthPx: 1200,
    contrast: { median: 8, low: 6 },
    halo: null,
    readable: [],
    ...more,
  });

  it('is nothing where all is well', () => {
    expect(remarksOn(measured(), { width: 52 }, 'mm')).toEqual([]);
    expect(remarksOn(measured({ contrast: null }), { width: 1200 }, 'px')).toEqual([]);
  });

  it('offers the version that can be read, or the stage that makes one', () => {
    const contrast = { median: 1.6, low: 1.2 };
    const look = { colorway: 'foam', light: false };
    const [remark] = remarksOn(
      measured({ contrast, readable: [{ look, contrast: 9.1 }] }),
      { width: 52 },
      'mm',
    );
    expect(remark).toMatchObject({
      sentence: 'Hard to read here: contrast 1.6 along its edge.',
      fix: { kind: 'look', look, words: 'Lay "foam", contrast 9.1' },
    });
    expect(remarksOn(measured({ contrast }), { width: 52 }, 'mm')[0]!.fix).toMatchObject({ stage: 'ink' });
  });

  it('offers a width that the pixels suffice for', () => {
    const [paper] = remarksOn(measured({ widthPx: 300 }), { width: 60 }, 'mm');
    expect(paper).toMatchObject({ kind: 'pixels', fix: { kind: 'width', width: 25 } });
    expect(finenessOf(300, 25, 'mm')).toBeGreaterThanOrEqual(300);
    const [screen] = remarksOn(measured({ widthPx: 300 }), { width: 400 }, 'px');
    expect(screen).toMatchObject({ kind: 'pixels', fix: { kind: 'width', width: 300 } });
  });

  it('leads to Edge where old background shows', () => {
    const [remark] = remarksOn(measured({ halo: { deltaE: 4.2, pixels: 130 } }), { width: 52 }, 'mm');
    expect(remark!.sentence).toContain('4.2 along 130');
    expect(remark!.fix).toMatchObject({ kind: 'stage', stage: 'edge' });
  });
});

describe('the versions of a piece', () => {
  const cut = untouchedCut();
  const colored = { ...cut, ink: { ...cut.ink, colorways: [{ name: 'navy', color: '#1d3557' }] } };

  it('are as it is cut, light, and its colorways', () => {
    expect(looksOf(colored)).toEqual([
      { colorway: null, light: false },
      { colorway: null, light: true },
      { colorway: 'navy', light: false },
    ]);
    expect(inLook(colored, { colorway: 'navy', light: false }).ink.color).toBe('#1d3557');
    expect(inLook(colored, { colorway: null, light: true }).ink.light).toBe(true);
    expect(inLook(colored, { colorway: null, light: false })).toBe(colored);
  });

  it('are as it is cut where a colorway is gone', () => {
    expect(inLook(cut, { colorway: 'navy', light: false })).toBe(cut);
  });
});
