import { createHash, randomBytes } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { asSharp } from '../../../tests/make/files';
import { disc } from '../../../tests/make/pictures';
import { groupOf, lineMark, newText, newWatermark } from '../../core/watermark/first-watermarks';
import { FIRST_ROUTINES } from '../../core/routine/first-routines';
import { markRoutine } from '../../core/watermark/mark-routine';
import { AS_BROUGHT, type Marked, type Watermark } from '../../core/watermark/settings';
import { markFile } from '../../engine/node/mark-task';
import { listDeliveries } from '../../storage/deliveries';
import { getPiece, type Piece } from '../../storage/pieces';
import { getRoutine, saveRoutine } from '../../storage/routines';
import { listItems, listRuns, type Run } from '../../storage/runs';
import {
  addWatermark,
  addWatermarkStep,
  fontsInUse,
  getWatermark,
  listFonts,
  listWatermarks,
  moveWatermark,
  removeWatermark,
} from '../../storage/watermarks';
import { openHouse } from '../house';
import { setAsideUnnamed } from '../housekeeping';
import { importPiece } from '../import-piece';
import type { House } from '../rooms';
import { beginRun } from '../runs/begin-run';
import { untilOver } from '../runs/run-results';
import { smallDelivery } from '../small-delivery';
import { bringFont, forgetFont, shapedTexts } from './fonts';
import { exportWatermark, giveFirstWatermarks, makeWatermark, markingRoutine } from './make-watermarks';
import { keepEmbedded, materialFiles, wholeWatermark } from './materials';
import { openWatermark } from './open-watermark';
import { savedWatermark } from './saved-watermark';

let house: House;
let folder: string;
let sign: Piece;
let photos: Piece[];

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as NodeStream<Uint8Array>;
const photo = (hue: number) =>
  sharp({ create: { width: 420, height: 280, channels: 3, background: { r: hue, g: 120, b: 160 } } })
    .withExif({ IFD2: { DateTimeOriginal: '2025:03:04 05:06:07' } })
    .jpeg()
    .toBuffer();
const font = () => {
  const folderOf = path.dirname(createRequire(import.meta.url).resolve('@fontsource/caveat/package.json'));
  return readFile(path.join(folderOf, 'files', 'caveat-latin-400-normal.woff2'));
};

beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'kenosis-watermarks-'));
  house = await openHouse(folder);
  sign = (await importPiece(house, 'sign.png', stream(await asSharp(disc(120, 30)).png().toBuffer()))).piece;
  photos = [];
  for (const hue of [30, 110, 220])
    photos.push(
      (await importPiece(house, `photo-${hue}.jpg`, stream(await photo(hue)), { proposes: false })).piece,
    );
  await house.runs.start();
});
afterAll(() => house.close());

const withSign = (name: string): Watermark => {
  const source = { kind: 'piece', piece: sign.id, colorway: null, light: false } as const;
  return newWatermark(name, [
    groupOf([{ kind: 'cutout', id: 'c1', source, size: 150, painted: true }, newText('t1', '© {year}')]),
  ]);
};

const signal = () => new AbortController().signal;
const marking = async (
  watermark: number,
  pieces: readonly Piece[],
  marked: Marked = AS_BROUGHT,
): Promise<Run> =>
  untilOver(
    house,
    (
      await beginRun(house, {
        marking: { watermark, marked },
        pieces: pieces.map(({ id }) => id),
        date: '2026-11-30',
      })
    ).id,
    60,
    signal(),
  );

describe('watermarks in the house', () => {
  it('are given once, and do not come again when they were forgotten', async () => {
    await giveFirstWatermarks(house);
    const names = async () =>
      (await listWatermarks(house.database)).map(({ watermark }) => watermark.name).sort();
    expect(await names()).toEqual(['name alone', 'tiled proof']);
    const [first] = await listWatermarks(house.database);
    await removeWatermark(house.database, first!.id);
    await giveFirstWatermarks(house);
    expect(await names()).toHaveLength(1);
  });

  it('go back and forth between steps, their names too, and refuse a step that came too late', async () => {
    const { database } = house;
    const { id } = await addWatermark(database, lineMark('one'));
    const named = { ...lineMark('one'), name: 'another' };
    const one = await addWatermarkStep(database, id, { after: 0, label: 'another name', watermark: named });
    expect(one).toMatchObject({ step: 1, undo: 'another name', redo: null });
    await expect(
      addWatermarkStep(database, id, { after: 0, label: 'x', watermark: named }),
    ).rejects.toMatchObject({ code: 'conflict' });
    expect(await moveWatermark(database, id, 'undo')).toMatchObject({
      step: 0,
      undo: null,
      redo: 'another name',
    });
    await expect(moveWatermark(database, id, 'undo')).rejects.toMatchObject({ code: 'nothing-to-undo' });
    expect((await moveWatermark(database, id, 'redo')).watermark.name).toBe('another');
    await removeWatermark(database, id);
    await expect(getWatermark(database, id)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('are copied, opened with their pieces, and exported with all they need', async () => {
    const { id } = await makeWatermark(house, { name: 'first' });
    expect((await makeWatermark(house, { copyOf: id })).watermark.name).toBe('first, copy');
    const own = await addWatermark(house.database, withSign('with sign'));
    expect((await openWatermark(house, own.id)).pieces[sign.id]).toMatchObject({ name: 'sign.png' });
    const whole = await exportWatermark(house, own.id);
    const [cutout] = whole.layout.groups[0]!.parts;
    expect(cutout).toMatchObject({ source: { kind: 'embedded', name: 'sign.png' } });
    // What comes back is on the Shelf, and means the same.
    const back = await makeWatermark(house, { watermark: whole });
    const [again] = back.watermark.layout.groups[0]!.parts;
    expect(again).toMatchObject({ source: { kind: 'piece' } });
    const once = await exportWatermark(house, back.id);
    const pictureOf = async ({ layout }: Watermark) => {
      const [part] = layout.groups[0]!.parts;
      const data = part?.kind === 'cutout' && part.source.kind === 'embedded' ? part.source.data : '';
      return sharp(Buffer.from(data, 'base64')).raw().toBuffer();
    };
    expect(Buffer.compare(await pictureOf(once), await pictureOf(whole))).toBe(0);
  });

  const from = (place: string) => ({ KENOSIS_DATA: place }) as unknown as NodeJS.ProcessEnv;

  it('are found by their names from outside as they are now, and mark the same pixels there', async () => {
    const { id } = await addWatermark(house.database, withSign('found'));
    await exportWatermark(house, id);
    const { watermark: before } = await getWatermark(house.database, id);
    const changed = { ...before, look: { ...before.look, opacity: 41 } };
    await addWatermarkStep(house.database, id, { after: 0, label: 'opacity', watermark: changed });
    const own = await markingRoutine(house, id, AS_BROUGHT);
    const { found } = await savedWatermark('found', from(folder));
    await found!(async ({ watermark, materials }) => {
      expect(watermark).toEqual(own.mark!.watermark);
      expect(watermark.look.opacity).toBe(41);
      const [file] = Object.values(materials);
      const kept = house.files.pathOf('materials', Object.keys(materials)[0]!);
      expect(Buffer.compare(await readFile(file!.path), await readFile(kept))).toBe(0);
    });
  });

  it('say who is there where there is none of that name, and what is wrong where they cannot be read', async () => {
    expect(await savedWatermark('nothing', from(folder))).toMatchObject({ found: null });
    expect((await savedWatermark('nothing', from(folder))).names).toContain('with sign');
    expect(await savedWatermark('x', from('/nowhere'))).toEqual({ found: null, names: [] });
    const broken = await mkdtemp(path.join(tmpdir(), 'kenosis-broken-'));
    const bytes = await readFile(path.join(folder, 'kenosis.sqlite'));
    // What lists its tables is noise.
    await writeFile(path.join(broken, 'kenosis.sqlite'), bytes.fill(0x5a, 100, 4096));
    await expect(savedWatermark('x', from(broken))).rejects.toMatchObject({ code: 'damaged-database' });
  });
});

describe('fonts', () => {
  it('are kept, set, stay where a watermark names them, and go when they are forgotten', async () => {
    const bytes = await font();
    const { sha256, facts } = await bringFont(house, 'hand.woff2', stream(bytes));
    expect(facts).toMatchObject({ family: 'Caveat', kind: 'WOFF2' });
    expect(await fontsInUse(house.database)).toEqual(new Set([sha256]));
    const own = { kind: 'brought', name: 'hand.woff2', file: sha256 } as const;
    const wishes = [
      { text: 'ab', font: { kind: 'shipped', which: 'jost' } as const, weight: 400, ligatures: true },
      { text: 'ab', font: own, weight: 400, ligatures: true },
    ];
    const [one, other] = await shapedTexts(house, wishes, signal());
    expect(one).toHaveProperty('glyphs');
    expect(other).not.toEqual(one);
    const { id } = await addWatermark(
      house.database,
      newWatermark('by hand', [groupOf([newText('t1', 'ab', { font: own })])]),
    );
    await expect(forgetFont(house, sha256)).rejects.toMatchObject({ code: 'conflict' });
    const whole = await exportWatermark(house, id);
    expect(whole.layout.groups[0]!.parts[0]).toMatchObject({
      font: { kind: 'embedded', name: 'hand.woff2' },
    });
    await setAsideUnnamed(house);
    expect(await house.files.has('fonts', sha256)).toBe(true);
    await removeWatermark(house.database, id);
    await forgetFont(house, sha256);
    expect(await house.files.has('fonts', sha256)).toBe(false);
    expect(await listFonts(house.database)).toEqual([]);
  });

  it('that are none are refused, and nothing is kept', async () => {
    await expect(bringFont(house, 'x.ttf', stream(Buffer.from('no font')))).rejects.toMatchObject({
      code: 'bad-font',
    });
    await expect(bringFont(house, 'x.ttf', stream(Buffer.alloc(0)))).rejects.toMatchObject({
      code: 'empty-file',
    });
    await expect(bringFont(house, 'x.ttf', stream(Buffer.alloc(10_000_001)))).rejects.toMatchObject({
      code: 'too-many-bytes',
    });
    expect(await house.files.keysOf('fonts')).toEqual([]);
  });
});

describe('marking photos of the Shelf', () => {
  it('delivers each once, makes the same bytes as anywhere else, and leaves how they are cut', async () => {
    const { id } = await addWatermark(house.database, withSign('on photos'));
    const run = await marking(id, photos);
    expect(run.counts).toEqual({ delivered: 3 });
    const items = await listItems(house.database, run.id);
    expect(items.every(({ revision, findings }) => revision === null && findings === null)).toBe(true);
    const { mark } = await markingRoutine(house, id, AS_BROUGHT);
    for (const piece of photos) {
      const [delivery] = await listDeliveries(house.database, piece.id);
      expect(delivery).toMatchObject({
        fileName: piece.name.replace('.jpg', '-marked.jpg'),
        format: 'jpeg',
        width: 420,
      });
      const outPath = path.join(folder, 'elsewhere.jpg');
      await markFile({
        path: await house.originals.pathOf(piece),
        name: piece.name,
        wish: mark!,
        materials: await materialFiles(house, mark!.watermark),
        date: '2026-11-30',
        outPath,
      });
      expect(
        createHash('sha256')
          .update(await readFile(outPath))
          .digest('hex'),
      ).toBe(delivery!.sha256);
      expect((await getPiece(house.database, piece.id)).revision).toBe(piece.revision);
    }
    expect(
      (await sharp(await smallDelivery(house, items[0]!.deliveries[0]!, signal())).metadata()).format,
    ).toBe('webp');
  });

  it('marks none twice by the same, but by another again', async () => {
    const all = await listWatermarks(house.database);
    const { id } = all.find(({ watermark }) => watermark.name === 'on photos')!;
    const again = await marking(id, photos);
    expect(again.counts).toEqual({ skipped: 3 });
    expect((await listItems(house.database, again.id))[0]!.message).toMatch(
      /marked by the same before, as "photo-30-marked.jpg"/,
    );
    expect((await marking(id, photos, { ...AS_BROUGHT, format: 'png' })).counts).toEqual({ delivered: 3 });
  });

  it('keeps fonts and cutouts once, whatever names them, and sends none of them along', async () => {
    // An exported routine with a cutout of 3 MB in it.
    const noise = randomBytes(1000 * 1000 * 3);
    const large = await sharp(noise, { raw: { width: 1000, height: 1000, channels: 3 } })
      .png()
      .toBuffer();
    const source = { kind: 'embedded', name: 'large.png', data: large.toString('base64') } as const;
    const part = { kind: 'cutout', id: 'c1', source, size: 150, painted: false } as const;
    const heavy = newWatermark('heavy', [groupOf([part])]);
    const routines = [...FIRST_ROUTINES, markRoutine(heavy, AS_BROUGHT)];
    expect(JSON.stringify(routines.at(-1)).length).toBeGreaterThan(3_000_000);
    const engine = await house.runs.engine();
    const carryOut = vi.spyOn(engine, 'carryOut');
    const before = (await house.files.keysOf('materials')).length;
    for (const routine of [...routines, routines.at(-1)!]) {
      const begun = await beginRun(house, { routine, pieces: [photos[1]!.id] });
      const run = await untilOver(house, begun.id, 60, signal());
      expect(JSON.stringify(run).length).toBeLessThan(20_000);
    }
    expect(carryOut.mock.calls.length).toBeGreaterThanOrEqual(routines.length);
    for (const [job] of carryOut.mock.calls) expect(JSON.stringify(job).length).toBeLessThan(55_000);
    expect((await house.files.keysOf('materials')).length).toBe(before + 1);
    carryOut.mockRestore();
    const { mark } = (await listRuns(house.database))[0]!.routine;
    await setAsideUnnamed(house);
    const files = await materialFiles(house, mark!.watermark);
    expect(Buffer.compare(await readFile(Object.values(files)[0]!.path), large)).toBe(0);
  });

  it('says which font is gone, and marks nothing with it', async () => {
    const { sha256, name } = await bringFont(house, 'dune.woff2', stream(await font()));
    const own = { kind: 'brought', name, file: sha256 } as const;
    const text = newWatermark('gone', [groupOf([newText('t1', 'ab', { font: own })])]);
    const { id } = await addWatermark(house.database, text);
    await rm(house.files.pathOf('fonts', sha256));
    const run = await marking(id, photos.slice(0, 2));
    expect(run.counts).toEqual({ failed: 2 });
    expect((await listItems(house.database, run.id))[0]!.message).toMatch(
      /The font "dune.woff2" is not there any more/,
    );
    await removeWatermark(house.database, id);
  });

  it('takes what routines of before had in them out of them', async () => {
    const data = (await asSharp(disc(40, 15)).png().toBuffer()).toString('base64');
    const source = { kind: 'embedded', name: 'old.png', data } as const;
    const part = { kind: 'cutout', id: 'c1', source, size: 150, painted: false } as const;
    const old = markRoutine(newWatermark('old', [groupOf([part])]), AS_BROUGHT);
    await saveRoutine(house.database, old);
    await keepEmbedded(house);
    const kept = await getRoutine(house.database, old.name);
    expect(kept.mark!.watermark.layout.groups[0]!.parts[0]).toMatchObject({ source: { kind: 'kept' } });
    expect(await wholeWatermark(house, kept.mark!.watermark)).toEqual(old.mark!.watermark);
  });

  it('holds back or leaves out what cannot be read, where the routine says so, and delivers it all the same where not', async () => {
    const plain = lineMark('MM');
    const look = {
      ...plain.look,
      version: 'light' as const,
      light: '#757575',
      contrast: { least: 7, most: 100 },
    };
    const routine = markRoutine({ ...plain, look }, AS_BROUGHT);
    const outcome = async (notSure: 'hold' | 'skip' | 'deliver') => {
      const begun = await beginRun(house, { routine: { ...routine, notSure }, pieces: [photos[2]!.id] });
      const [item] = await listItems(house.database, (await untilOver(house, begun.id, 60, signal())).id);
      expect(item).toMatchObject({
        sure: false,
        message: expect.stringMatching(/too near to both/) as string,
      });
      return [item!.state, item!.deliveries.length];
    };
    expect(await outcome('hold')).toEqual(['held', 0]);
    expect(await outcome('skip')).toEqual(['skipped', 0]);
    expect(await outcome('deliver')).toEqual(['delivered', 1]);
  });

  it('gives no file a name that leads elsewhere', async () => {
    const routine = markRoutine(lineMark('MM'), { ...AS_BROUGHT, fileName: 'a\u0000{piece}/..' });
    const begun = await beginRun(house, { routine, pieces: [photos[0]!.id] });
    const run = await untilOver(house, begun.id, 60, signal());
    expect((run.counts.failed ?? 0) + (run.counts.delivered ?? 0)).toBe(1);
    for (const { fileName } of await listDeliveries(house.database, photos[0]!.id))
      expect(fileName).not.toMatch(/[/\u0000]/);
  });

  it('fails with a sentence where the text cannot be set, and goes on with nothing lost', async () => {
    const { id } = await addWatermark(
      house.database,
      newWatermark('emoji', [groupOf([newText('t1', '😀')])]),
    );
    const run = await marking(id, photos.slice(0, 1));
    expect(run.counts).toEqual({ failed: 1 });
    expect((await listItems(house.database, run.id))[0]!.message).toMatch(/not in Jost/);
    expect(await house.files.has('originals', photos[0]!.sha256)).toBe(true);
  });
});
