import { describe, expect, it } from 'vitest';
import { linesOn, wishesOf } from './fields';
import { FIRST_WATERMARKS, groupOf, lineMark, newText, newWatermark } from './first-watermarks';
import { inkBox, laidMark, type MarkMaterial } from './layout';
import { describeWatermarkChange } from './describe';
import { markRoutine } from './mark-routine';
import { parseWatermark, parseWatermarkText } from './parse';
import { parseRoutine } from '../routine/parse';
import { newRoutine } from '../routine/first-routines';
import { createRaster } from '../raster/raster';
import { AS_BROUGHT, MOST_PARTS, type CutoutPart, type Watermark } from './settings';
import { PATH, type ShapedLine } from './shaped';

/** A letter that is a box of the size of its letters, half as wide. */
const BOX: ShapedLine['glyphs'][number] = {
  path: [PATH.move, 0, 0, PATH.line, 0.5, 0, PATH.line, 0.5, 1, PATH.line, 0, 1, PATH.close],
  advance: 0.6,
  dx: 0,
  dy: 0,
};
const line = (letters: number): ShapedLine => ({
  glyphs: Array.from({ length: letters }, () => BOX),
});

const cutout = (id: string, size: number): CutoutPart => ({
  kind: 'cutout',
  id,
  source: { kind: 'piece', piece: '0123456789abcdef', colorway: null, light: false },
  size,
  painted: false,
});

const material = (
  lines: Record<string, ShapedLine[]>,
  cutouts: Record<string, [number, number]> = {},
): MarkMaterial => ({
  lines: new Map(Object.entries(lines)),
  cutouts: new Map(Object.entries(cutouts).map(([id, [width, height]]) => [id, createRaster(width, height)])),
});

describe('the document', () => {
  it('comes back from its text as it was', () => {
    for (const watermark of [...FIRST_WATERMARKS, lineMark('x')])
      expect(parseWatermarkText(JSON.stringify(watermark))).toEqual(watermark);
  });

  const bad = (change: (watermark: Record<string, unknown>) => void): string => {
    const copy = JSON.parse(JSON.stringify(FIRST_WATERMARKS[0])) as Record<string, unknown>;
    change(copy);
    try {
      parseWatermark(copy);
    } catch (error) {
      return `${(error as { code: string }).code} ${(error as Error).message}`;
    }
    return 'taken';
  };

  it('says which field is wrong, and what is of a later Kenosis', () => {
    expect(bad((one) => (one.version = 3))).toMatch(/^newer-watermark .*newer Kenosis/);
    expect(bad((one) => (one.extra = 1))).toMatch(/^bad-watermark watermark: unknown field extra/);
    expect(bad((one) => ((one.look as { opacity: number }).opacity = 400))).toMatch(
      /watermark\.look\.opacity/,
    );
    expect(bad((one) => (one.name = ' '))).toMatch(/at least one letter/);
    expect(() => parseWatermarkText('{')).toThrow(/JSON/);
  });

  it('refuses a text of 10,000 letters, too many lines, and parts of one name', () => {
    const withText = (text: string) =>
      bad((one) => (one.layout = { ...newWatermark('a', [groupOf([newText('t1', text)])]).layout }));
    expect(withText('x'.repeat(10_000))).toMatch(/at most 300 letters/);
    expect(withText('a\n'.repeat(9))).toMatch(/at most 6 lines/);
    const twice = newWatermark('a', [groupOf([newText('t1', 'a'), newText('t1', 'b')])]);
    expect(() => parseWatermark(twice)).toThrow(/each id of a part once/);
    const many = newWatermark('a', [
      groupOf(Array.from({ length: MOST_PARTS + 1 }, (_, k) => newText(`t${k}`, 'a'))),
    ]);
    expect(() => parseWatermark(many)).toThrow(/watermark\.layout\.groups\[0\]\.parts/);
  });

  it('goes into a routine; routines from before have none', () => {
    const routine = markRoutine(FIRST_WATERMARKS[0]!, AS_BROUGHT);
    expect(parseRoutine(JSON.parse(JSON.stringify(routine)))).toEqual(routine);
    const { mark, ...before } = newRoutine('old');
    expect(mark).toBeNull();
    expect(parseRoutine(before)).toEqual(newRoutine('old'));
  });
});

describe('fields', () => {
  const facts = { name: 'beach.at.noon.jpg', taken: '2024-07-09', today: '2026-11-30' };
  const set = (text: string, change = {}) => linesOn({ ...newText('t1', text), ...change }, facts);

  it('are filled in for each photo', () => {
    expect(set('© {year} {photo}\n{date}')).toEqual(['© 2024 beach.at.noon', '2024-07-09']);
    expect(linesOn(newText('t1', '{year}'), { ...facts, taken: null })).toEqual(['2026']);
    expect(set('Ab {photo}', { case: 'upper' })).toEqual(['AB BEACH.AT.NOON']);
    expect(set('AB', { case: 'lower' })).toEqual(['ab']);
  });

  it('that are none are refused with those that are', () => {
    expect(() => set('{yaer}')).toThrow(/\{year\}, \{date\}, \{photo\}, got \{yaer\}/);
    expect(set('{a\nb}')).toEqual(['{a', 'b}']);
  });

  it('ask for ligatures only where letters are not set apart', () => {
    expect(wishesOf(newText('t1', 'fi'), facts)[0]!.ligatures).toBe(true);
    expect(wishesOf(newText('t1', 'fi', { tracking: 20 }), facts)[0]!.ligatures).toBe(false);
  });
});

describe('laying parts out', () => {
  const boxOf = (watermark: Watermark, own: MarkMaterial) => laidMark(watermark, own).box;

  it('sets letters by their advance and tracking', () => {
    const at = (tracking: number) =>
      boxOf(newWatermark('a', [groupOf([newText('t1', 'abc', { tracking })])]), material({ t1: [line(3)] }));
    // Two advances and the last letter's own width.
    expect(at(0).width).toBeCloseTo(2 * 60 + 50, 9);
    expect(at(100).width).toBeCloseTo(2 * 70 + 50, 9);
    expect(at(0).height).toBeCloseTo(100, 9);
  });

  it('puts lines at their height, each where it stands', () => {
    const own = material({ t1: [line(3), line(1)] });
    const right = laidMark(
      newWatermark('a', [groupOf([newText('t1', 'a', { align: 'right', lineHeight: 150 })])]),
      own,
    );
    expect(right.box.height).toBeCloseTo(250, 9);
    const last = inkBox([right.items.at(-1)!]);
    expect(last.x + last.width).toBeCloseTo(right.box.x + right.box.width, 9);
    const left = laidMark(newWatermark('a', [groupOf([newText('t1', 'a', { align: 'left' })])]), own);
    expect(inkBox([left.items.at(-1)!]).x).toBeCloseTo(left.box.x, 9);
  });

  it('lays a cutout beside a text in columns, above it in rows', () => {
    const own = material({ t1: [line(2)] }, { c1: [40, 80] });
    const groups = [groupOf([cutout('c1', 200)]), groupOf([newText('t1', 'ab')])];
    const layout = { gap: 30, align: 'middle', groups } as const;
    const beside = boxOf(newWatermark('a', [], { layout: { ...layout, groups, of: 'columns' } }), own);
    expect(beside.width).toBeCloseTo(100 + 30 + 110, 9);
    expect(beside.height).toBeCloseTo(200, 9);
    const above = boxOf(newWatermark('a', [], { layout: { ...layout, groups, of: 'rows' } }), own);
    expect(above.width).toBeCloseTo(110, 9);
    expect(above.height).toBeCloseTo(200 + 30 + 100, 9);
  });

  it('lays parts of a group the other way, by its own gap and alignment', () => {
    const own = material({ t1: [line(1)] }, { c1: [50, 50] });
    const group = groupOf([cutout('c1', 200), newText('t1', 'a')], { gap: 10, align: 'end' });
    const { items, box } = laidMark(newWatermark('a', [group]), own);
    expect(box.width).toBeCloseTo(200 + 10 + 50, 9);
    const text = inkBox([items.at(-1)!]);
    expect(text.y + text.height).toBeCloseTo(box.y + box.height, 9);
  });

  it('takes no room for what is empty', () => {
    const own = material({ t1: [line(0)], t2: [line(1)] });
    const two = newWatermark('a', [groupOf([newText('t1', '')]), groupOf([newText('t2', 'a')])]);
    expect(boxOf(two, own)).toMatchObject({ width: 50, height: 100 });
    expect(boxOf(newWatermark('a', []), material({}))).toEqual({ x: 0, y: 0, width: 0, height: 0 });
  });
});

describe('undo', () => {
  const base = FIRST_WATERMARKS[0]!;
  const textChanged = newWatermark(base.name, [groupOf([newText('t1', 'other', { tracking: 20 })])], {
    layout: { ...base.layout, groups: [groupOf([newText('t1', 'other', { tracking: 20 })])] },
  });

  it('names what was changed', () => {
    const words = (change: Partial<Watermark>) => describeWatermarkChange(base, { ...base, ...change });
    expect(words({ name: 'other' })).toBe('another name');
    expect(words({ look: { ...base.look, opacity: 30 } })).toBe('opacity');
    expect(words({ place: { ...base.place, anchor: 'top' } })).toBe('place');
    expect(words({ place: { ...base.place, inset: 9 } })).toBe('inset');
    expect(words({ portrait: base.place })).toBe('portraits apart');
    expect(words({ layout: textChanged.layout })).toBe('text');
    expect(words({ layout: { ...base.layout, groups: [] } })).toBe('a part less');
    expect(words({})).toBe('no change');
  });
});
