import { describe, expect, it } from 'vitest';
import { decidedOtherwise } from '../../../tests/make/decisions';
import { blotches, disc, paint } from '../../../tests/make/pictures';
import { writtenSheet } from '../../../tests/make/sheets';
import type { KeptDecisions } from '../../core/decision/kept-decisions';
import { factsOf } from '../../core/stages/clear/clear';
import { CHANNELS } from '../../core/stages/clear/by-ink/reading';
import { newSample } from '../../core/cut/new-sample';
import { untouchedCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { renderCut } from '../../core/render';
import type { Raster } from '../../core/raster/raster';
import type { TriedPicture } from './tried';
import type { EngineEvent, ShowRequest } from '../protocol';
import { createBenchEngine } from './bench-engine';
import type { Known } from './open-piece';

const ground = { light: 0xffffff, dark: 0xffffff, around: 0, cellPx: 12 };

const cutAt = (tolerance: number): Cut => ({
  ...untouchedCut(),
  clear: {
    on: true,
    samples: [newSample('s1', 2, 2, { areaPx: 3, tolerance })],
    pockets: [],
    marks: [],
    ink: null,
  },
});

function start(
  master: Raster,
  {
    msPerLook = 3,
    known = null,
    decisions = null,
  }: { msPerLook?: number; known?: Known | null; decisions?: KeptDecisions | null } = {},
) {
  const events: EngineEvent[] = [];
  const answers: { key: string; isOnDark: boolean; middles: number[] }[] = [];
  const tried: (readonly TriedPicture[])[] = [];
  const shown: Uint8ClampedArray[] = [];
  /** What of the sheet was painted each time; null for all of it. */
  const parts: ({ readonly width: number; readonly height: number } | null)[] = [];
  let clock = 0;
  const engine = createBenchEngine(
    master,
    {
      now: () => (clock += msPerLook),
      helpers: null,
      pause: () => new Promise((resolve) => setImmediate(resolve)),
      paint(pixels, _width, _height, part = null) {
        shown.push(pixels.slice());
        parts.push(part);
      },
      tell: (event) => events.push(event),
      thumbnail: () => undefined,
      answers(key, isOnDark, { width, height }, compose) {
        const view = { scale: 0.5, left: 0, top: 0, width: width >> 1, height: height >> 1 };
        const middleOf = (what: 'keep' | 'clear') => {
          const out = new Uint8ClampedArray(view.width * view.height * 4);
          compose(what, view, { ...ground, light: 0, dark: 0 }, out);
          return out[((view.height >> 1) * view.width + (view.width >> 1)) * 4]!;
        };
        answers.push({ key, isOnDark, middles: [middleOf('keep'), middleOf('clear')] });
      },
      tried: (pictures) => void tried.push(pictures),
      loadBacking: () => Promise.resolve(null),
    },
    known,
    decisions,
  );
  let turn = 0;
  const show = (cut: Cut, change: Partial<ShowRequest> = {}) => {
    const view = { scale: 1, left: 0, top: 0, width: master.width, height: master.height };
    engine.show({
      turn: ++turn,
      cut,
      view,
      ground,
      look: 'result',
      compare: null,
      backing: null,
      looks: [],
      ...change,
    });
    return turn;
  };
  const settled = (wanted: number) =>
    expect.poll(() => events.some((event) => event.kind === 'settled' && event.turn === wanted)).toBe(true);
  return { engine, events, answers, tried, shown, parts, show, settled };
}

describe('the bench engine', () => {
  it('ends with the pixels that the core renders, and counts them', async () => {
    const master = disc(121, 40);
    const { engine, events, show, settled } = start(master);
    await settled(show(cutAt(10)));
    const expected = renderCut(master, cutAt(10));
    expect(await engine.finishedPixels()).toEqual(expected.raster.data);
    expect(events.find((event) => event.kind === 'settled')).toMatchObject({ alpha: expected.alpha });
    engine.close();
  });

  it('follows what was decided of the piece before, though it would decide otherwise', async () => {
    const master = disc(121, 40);
    const plain = cutAt(10);
    const samples = [newSample('s1', 2, 2, { rule: 'whole' })];
    const cut: Cut = { ...plain, clear: { ...plain.clear, samples } };
    const clearIn = async (decisions: KeptDecisions | null) => {
      const { engine, events, show, settled } = start(master, { decisions });
      await settled(show(cut));
      engine.close();
      const event = events.find(({ kind }) => kind === 'settled') as { alpha: { transparent: number } };
      return event.alpha.transparent;
    };
    expect(await clearIn(null)).toBeGreaterThan(1000);
    expect(await clearIn(decidedOtherwise(master, factsOf(cut)))).toBe(0);
  });

  it('tells what the piece looks like in each version that is wanted, once for a cut, and nothing where none is', async () => {
    const master = disc(121, 40);
    const { engine, events, tried, show, settled } = start(master);
    await settled(show(cutAt(10)));
    expect(tried).toEqual([]);
    const looks = [
      { colorway: null, light: false },
      { colorway: 'navy', light: false },
    ];
    const cut = {
      ...cutAt(10),
      ink: { ...untouchedCut().ink, colorways: [{ name: 'navy', color: '#1d3557' }] },
    };
    const painted = (turn: number) =>
      expect.poll(() => events.some((event) => event.kind === 'painted' && event.turn === turn)).toBe(true);
    // Colorways change no pixel of the cut itself.
    await painted(show(cut, { looks }));
    await expect.poll(() => tried.length).toBeGreaterThan(0);
    const [plain, navy] = tried.at(-1)!;
    expect(tried.at(-1)).toHaveLength(2);
    // The disc alone, without the empty space around it.
    expect(plain!.width).toBeGreaterThan(78);
    expect(plain!.width).toBeLessThan(86);
    const middle = ((plain!.raster.height >> 1) * plain!.raster.width + (plain!.raster.width >> 1)) * 4;
    const expected = renderCut(master, cut).raster;
    const at = (60 * 121 + 60) * 4;
    expect([...plain!.raster.data.subarray(middle, middle + 4)]).toEqual([
      ...expected.data.subarray(at, at + 4),
    ]);
    expect([...navy!.raster.data.subarray(middle, middle + 4)]).toEqual([29, 53, 87, 255]);
    const before = tried.length;
    await painted(show(cut, { looks, view: { scale: 2, left: 0, top: 0, width: 50, height: 50 } }));
    expect(tried.length).toBe(before);
    await settled(show(cutAt(14), { looks: looks.slice(0, 1) }));
    expect(tried.length).toBeGreaterThan(before);
    engine.close();
  });

  it('paints only what a brush that is led has gained, the same as all of it, and all of it when it is asked again', async () => {
    const led = (path: string): Cut => ({
      ...cutAt(10),
      touchUp: {
        ...untouchedCut().touchUp,
        strokes: [
          {
            kind: 'brush',
            does: 'clear',
            radiusPx: 6,
            softness: 40,
            strength: 100,
            pressure: 'none',
            alike: null,
            path,
          },
        ],
      },
    });
    const { engine, shown, parts, show, settled } = start(disc(121, 40));
    await settled(show(cutAt(10)));
    const painted = async (path: string) => {
      const before = parts.length;
      const turn = show(led(path));
      await expect.poll(() => parts.length).toBeGreaterThan(before);
      return { turn, part: parts[before], pixels: shown[before]! };
    };
    for (const path of ['30,60', '30,60 60,62', '30,60 60,62 60,90']) {
      const { part } = await painted(path);
      expect(part!.width * part!.height).toBeLessThan(121 * 121);
    }
    const again = await painted('30,60 60,62 60,90');
    expect(again.part).toBeNull();
    const gained = await painted('30,60 60,62 60,90 90,90');
    expect(gained.part).not.toBeNull();
    await settled(gained.turn);
    expect(parts.at(-1)).toBeNull();
    expect(gained.pixels.every((value, p) => value === shown.at(-1)![p])).toBe(true);
    engine.close();
  });

  it('opens with a cutout that was made before, and makes what is not of this cut or picture anew', async () => {
    const master = disc(121, 40);
    const cut = cutAt(10);
    const first = start(master);
    await first.settled(first.show(cut));
    const packed = first.engine.packed(cut)!;
    expect(first.engine.packed(cutAt(11))).toBeNull();
    first.engine.close();
    const expected = renderCut(master, cut);

    const again = start(master, { known: { cut, packed } });
    const turn = again.show(cut);
    await again.settled(turn);
    expect(await again.engine.finishedPixels()).toEqual(expected.raster.data);
    expect(again.events.slice(0, 2)).toMatchObject([
      { kind: 'painted', turn, exact: true },
      { kind: 'settled', turn, alpha: expected.alpha },
    ]);
    await expect.poll(() => again.events.filter(({ kind }) => kind === 'checked').length).toBe(1);
    await again.settled(again.show(cutAt(20)));
    expect(await again.engine.finishedPixels()).toEqual(renderCut(master, cutAt(20)).raster.data);
    again.engine.close();

    for (const known of [
      { cut: cutAt(20), packed },
      { cut, packed: packed.slice(0, -1) },
    ]) {
      const other = start(master, { known });
      await other.settled(other.show(cut));
      expect(await other.engine.finishedPixels()).toEqual(expected.raster.data);
      other.engine.close();
    }
  });

  it('shows both answers to what it is not sure of, once the checks are through', async () => {
    const ring = paint(161, 161, (x, y) => {
      const far = Math.hypot(x - 80, y - 80);
      return far < 70 && far > 26 ? [120, 40, 60] : [255, 255, 255];
    });
    const { engine, events, answers, show } = start(ring);
    const { clear } = cutAt(10);
    const whole = { ...cutAt(10), clear: { ...clear, samples: [newSample('s1', 2, 2, { rule: 'whole' })] } };
    show(whole);
    await expect.poll(() => answers.length).toBe(1);
    const checked = events.find((event) => event.kind === 'checked');
    expect(answers).toEqual([{ key: checked!.key, isOnDark: true, middles: [255, 0] }]);
    show({ ...whole, clear: { ...whole.clear, pockets: [{ x: 80, y: 80, keep: true }] } });
    await expect.poll(() => events.filter(({ kind }) => kind === 'checked').length).toBe(2);
    expect(answers).toHaveLength(1);
    engine.close();
  });

  it('shows at 1:1 what the file will hold', async () => {
    const master = blotches(64, 48, 3);
    const { engine, shown, show, settled } = start(master);
    await settled(show(cutAt(10)));
    const { data } = renderCut(master, cutAt(10)).raster;
    const screen = shown.at(-1)!;
    for (let p = 0; p < data.length; p += 4) {
      const over = Math.floor((data[p]! * data[p + 3]! + 255 * (255 - data[p + 3]!) + 127) / 255);
      expect(Math.abs(screen[p]! - over)).toBeLessThanOrEqual(1);
    }
    engine.close();
  });

  it('drops requests that were overtaken', async () => {
    const { engine, events, show, settled } = start(disc(121, 40));
    for (let t = 0; t < 50; t++) show(cutAt(t));
    const last = show(cutAt(20));
    await settled(last);
    const painted = events.filter((event) => event.kind === 'painted');
    expect(painted.length).toBeLessThan(10);
    expect(painted.at(-1)).toMatchObject({ turn: last, exact: true });
    expect(events.filter((event) => event.kind === 'settled')).toHaveLength(1);
    engine.close();
  });

  it('shows the original on request, and answers what is under a pixel', async () => {
    const master = disc(61, 20);
    const { engine, shown, show, settled } = start(master);
    await settled(show(cutAt(10)));
    expect(engine.probe(30, 30)).toEqual({ original: [30, 30, 30, 255], result: [30, 30, 30, 255] });
    expect(engine.probe(1, 1)).toEqual({ original: [255, 255, 255, 255], result: [0, 0, 0, 0] });
    expect(engine.probe(-1, 0)).toBeNull();
    show(cutAt(10), { look: 'original', ground: { ...ground, light: 0, dark: 0 } });
    await expect.poll(() => shown.at(-1)![0]).toBe(255);
    engine.close();
  });

  it('shows alpha alone as gray', async () => {
    const master = disc(61, 20);
    const { engine, shown, show, settled } = start(master);
    await settled(show(cutAt(10)));
    const before = shown.length;
    show(cutAt(10), { look: 'alpha' });
    await expect.poll(() => shown.length).toBeGreaterThan(before);
    const { data } = renderCut(master, cutAt(10)).raster;
    const screen = shown.at(-1)!;
    for (let p = 0; p < data.length; p += 4)
      expect([...screen.subarray(p, p + 4)]).toEqual([data[p + 3], data[p + 3], data[p + 3], 255]);
    engine.close();
  });

  it('shows the edge alone, with hatching over what is certain', async () => {
    const master = disc(61, 20);
    const { engine, shown, show, settled } = start(master);
    await settled(show(cutAt(10)));
    const plain = shown.at(-1)!;
    const before = shown.length;
    show(cutAt(10), { look: 'edge' });
    await expect.poll(() => shown.length).toBeGreaterThan(before);
    const screen = shown.at(-1)!;
    const { data } = renderCut(master, cutAt(10)).raster;
    for (let p = 0; p < data.length; p += 4) {
      const alpha = data[p + 3]!;
      if (alpha > 0 && alpha < 255)
        expect([...screen.subarray(p, p + 4)]).toEqual([...plain.subarray(p, p + 4)]);
    }
    const grays = (y: number, from: number, to: number) =>
      new Set(Array.from({ length: to - from }, (_, k) => screen[(y * 61 + from + k) * 4]));
    expect(grays(30, 22, 38).size).toBe(2);
    expect(grays(2, 2, 18).size).toBe(2);
    expect([...grays(30, 22, 38)].some((gray) => grays(2, 2, 18).has(gray))).toBe(false);
    engine.close();
  });

  it('magnifies original and result around a pixel', async () => {
    const master = disc(61, 20);
    const { engine, show, settled } = start(master);
    await settled(show(cutAt(10), { ground: { ...ground, light: 0x0000ff, dark: 0x0000ff } }));
    const { side, original, result } = engine.magnify(11, 30, 8, 40)!;
    expect(side).toBe(40);
    const { data } = renderCut(master, cutAt(10)).raster;
    for (const [dx, dy] of [
      [0, 0],
      [-2, 0],
      [2, -1],
    ] as const) {
      const p = ((20 + dy * 8) * 40 + 20 + dx * 8) * 4;
      const q = ((30 + dy) * 61 + 11 + dx) * 4;
      expect(original[p]).toBe(master.data[q]);
      expect(result[p + 2]! - (data[q + 2]! * data[q + 3]!) / 255 - (255 - data[q + 3]!)).toBeCloseTo(
        0,
        -0.5,
      );
    }
    expect(engine.magnify(61, 0, 8, 40)).toBeNull();
    engine.close();
  });

  it('works at view size first on a large picture, and does the full size later', async () => {
    const { engine, events, show, settled } = start(disc(1801, 500));
    const view = { scale: 0.25, left: 0, top: 0, width: 450, height: 450 };
    const turn = show(cutAt(10), { view });
    await settled(turn);
    const painted = events.filter((event) => event.kind === 'painted');
    expect(painted[0]).toMatchObject({ exact: false });
    expect(painted.at(-1)).toMatchObject({ exact: true });
    const curves = events.filter((event) => event.kind === 'curves');
    expect(curves.map(({ curves: [curve] }) => curve!.exact)).toEqual([false, true]);
    engine.close();
  });

  it.each([
    [3, 'as fine as before while drafts are quick'],
    [60, 'coarser after a slow one'],
  ])('paints the next draft (clock %d) %s', async (msPerLook) => {
    const { engine, shown, show } = start(blotches(1801, 1801, 5), { msPerLook });
    const view = { scale: 0.25, left: 0, top: 0, width: 450, height: 450 };
    for (const drafts of [1, 2]) {
      show(cutAt(10), { view });
      while (shown.length < drafts) await new Promise((resolve) => setImmediate(resolve));
    }
    engine.close();
    const alike = Buffer.from(shown[1]!).equals(Buffer.from(shown[0]!));
    expect(alike).toBe(msPerLook === 3);
  });

  it('tells that it is settled when it goes back to a cut that is finished already', async () => {
    const { engine, events, show, settled } = start(disc(901, 300), { msPerLook: 9 });
    await settled(show(cutAt(10)));
    show(cutAt(60));
    await expect.poll(() => events.at(-1)!.kind).toBe('progress');
    await settled(show(cutAt(10)));
    expect(events.findLast(({ kind }) => kind === 'progress' || kind === 'settled')!.kind).toBe('settled');
    engine.close();
  });

  it('shows a cut at full size at once when it comes back, without making it again', async () => {
    const { engine, events, show, settled } = start(disc(61, 20));
    await settled(show(cutAt(12)));
    await settled(show(cutAt(40)));
    await settled(show(cutAt(70)));
    const made = events.filter(({ kind }) => kind === 'progress').length;
    const turn = show(cutAt(12));
    await expect
      .poll(() => events.find((event) => event.kind === 'painted' && event.turn === turn))
      .toMatchObject({ exact: true });
    await settled(turn);
    const { alpha } = renderCut(disc(61, 20), cutAt(12));
    expect(events.findLast(({ kind }) => kind === 'settled')).toMatchObject({ alpha });
    expect(await engine.finishedPixels()).toEqual(renderCut(disc(61, 20), cutAt(12)).raster.data);
    expect(events.filter(({ kind }) => kind === 'progress')).toHaveLength(made);
    engine.close();
  });

  it('shows a prepared picture at once as a draft, then at full size, cropped', async () => {
    const { engine, events, shown, show, settled } = start(disc(701, 220));
    const cut: Cut = {
      ...cutAt(10),
      prepare: { ...untouchedCut().prepare, turn: 90, crop: { x: 100, y: 90, width: 500, height: 480 } },
    };
    const view = { scale: 1, left: 0, top: 0, width: 500, height: 480 };
    const turn = show(cut, { view });
    await expect.poll(() => shown.length).toBeGreaterThan(0);
    expect(events.find(({ kind }) => kind === 'painted')).toMatchObject({ exact: false });
    await settled(turn);
    const expected = renderCut(disc(701, 220), cut);
    expect(Buffer.compare(await engine.finishedPixels(), expected.raster.data)).toBe(0);
    expect(engine.probe(250, 250)).toEqual({ original: [30, 30, 30, 255], result: [30, 30, 30, 255] });
    expect(engine.probe(500, 0)).toBeNull();
    expect(await engine.contentBox()).toMatchObject({ x: 30, width: 441 });
    show(cut, { view, look: 'prepared' });
    await expect.poll(() => shown.at(-1)![0]).toBe(255);
    engine.close();
  });

  it('reads what each channel shows of ink, of the picture as it is prepared', async () => {
    const { engine, show } = start(writtenSheet());
    const flat: Cut = { ...untouchedCut(), prepare: { ...untouchedCut().prepare, flatten: 100 } };
    show(flat);
    expect((await engine.inkFacts(flat)).told).toBe(true);
    const { told, color, channels } = await engine.inkFacts(untouchedCut());
    expect(told).toBe(true);
    expect(color).toMatch(/^#1[0-9a-f]1[0-9a-f]3/);
    expect(channels.map(({ channel }) => channel)).toEqual(CHANNELS);
    for (const { histogram, picture } of channels) {
      expect(histogram.reduce((sum, count) => sum + count, 0)).toBe(360 * 200);
      expect(picture.gray).toHaveLength(picture.width * picture.height);
    }
    engine.close();
  });

  it('stops the full-size work when told to rest', async () => {
    const { engine, events, show } = start(disc(1801, 500));
    show(cutAt(10), { view: { scale: 0.25, left: 0, top: 0, width: 450, height: 450 } });
    engine.rest();
    // Far more turns than it takes when it is not told.
    for (let turn = 0; turn < 2000; turn++) await new Promise((resolve) => setImmediate(resolve));
    expect(events.some((event) => event.kind === 'settled')).toBe(false);
    engine.close();
  });
});
