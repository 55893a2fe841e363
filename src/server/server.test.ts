import { existsSync } from 'node:fs';
import { readdir, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { disc, paint } from '../../tests/make/pictures';
import { KenosisError } from '../core/errors';
import { newSample } from '../core/cut/new-sample';
import { untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import { renderCut } from '../core/render';
import { listDeliveries } from '../storage/deliveries';
import { addParts, addRevision, getPiece, listPieces, setTrashed } from '../storage/pieces';
import { deliverPiece } from './deliver-piece';
import { checkNumber, checkPieceId, guarded, readBody } from './guard';
import { openHouse } from './house';
import type { House } from './rooms';
import { importPiece } from './import-piece';
import { isLocalHost } from './local-host';
import { scanPiece, type ScanProgress } from './scan-piece';
import type { ScanSettings } from './scanner/scanner';
import { simulatedFlatbed } from './scanner/simulated-flatbed';
import { readyPiece } from './ready-piece';
import { thumbnailKey, thumbnailOf } from './thumbnail';
import { checkPieces } from './check-pieces';
import { emptyTrash } from './trash';
import { AS_NAMED } from '../core/stages/deliver/settings';

let folder: string;
let house: House;

beforeAll(async () => {
  folder = await freshFolder();
  house = await openHouse(folder);
  return () => house.close();
});

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;
const bring = (name: string, bytes: Uint8Array) => importPiece(house, name, stream(bytes));
const master = disc(101, 30);
const cut: Cut = {
  ...untouchedCut(),
  clear: {
    on: true,
    samples: [newSample('s1', 2, 2, { areaPx: 3, tolerance: 10 })],
    pockets: [],
    marks: [],
    ink: null,
  },
};

describe('importPiece', () => {
  it('keeps the original byte for byte and knows it again', async () => {
    const bytes = await asSharp(master).withMetadata({ density: 300 }).png().toBuffer();
    const first = await bring('C:\\scans\\disc.png', bytes);
    expect(first).toMatchObject({
      known: false,
      piece: { name: 'disc.png', width: 101, height: 101, dpi: 300 },
    });
    expect(await readFile(house.files.pathOf('originals', first.piece.sha256))).toEqual(bytes);
    expect(await bring('again.png', bytes)).toEqual({
      known: true,
      healed: false,
      piece: first.piece,
    });
  });

  it('lets the good ones through beside the bad, and leaves nothing of the bad behind', async () => {
    const before = (await listPieces(house.database)).length;
    const good = await asSharp(disc(51, 10)).png().toBuffer();
    const noise = await asSharp(disc(300, 99)).jpeg().toBuffer();
    const results = await Promise.allSettled([
      bring('text.png', Buffer.from('no picture at all')),
      bring('good.png', good),
      bring('half.jpg', noise.subarray(0, noise.length / 2)),
      bring('empty.png', Buffer.alloc(0)),
    ]);
    expect(results.map(({ status }) => status)).toEqual(['rejected', 'fulfilled', 'rejected', 'rejected']);
    const codes = results.map((result) =>
      result.status === 'rejected' ? (result.reason as KenosisError).code : null,
    );
    expect(codes).toEqual(['not-a-picture', null, 'damaged-picture', 'empty-file']);
    expect((await listPieces(house.database)).length).toBe(before + 1);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });

  it('refuses a stream that breaks off', async () => {
    const body = Readable.from(
      (async function* () {
        yield await Promise.resolve(Buffer.alloc(1000));
        throw new Error('gone');
      })(),
    );
    const broken = importPiece(house, 'cable.png', Readable.toWeb(body) as ReadableStream<Uint8Array>);
    await expect(broken).rejects.toMatchObject({
      code: 'aborted',
      message: expect.stringContaining('cable.png') as string,
    });
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });
});

describe('deliverPiece', () => {
  it('writes, reads back, records, and names what it wrote', async () => {
    const { piece } = await bring(
      'deliver me.png',
      await asSharp(master).withMetadata({ density: 240 }).png().toBuffer(),
    );
    const { revision } = await addRevision(house.database, piece.id, piece.revision, cut, 'add a sample');
    const { delivery } = await deliverPiece(house, piece.id, { revision, shownSha256: null });
    expect(delivery).toMatchObject({ fileName: 'deliver me-cutout.png', dpi: 240, width: 101 });
    const file = house.files.pathOf('deliveries', delivery.sha256);
    const expected = renderCut(master, cut);
    expect((await sharp(file).raw().toBuffer()).equals(expected.raster.data)).toBe(true);
    expect(delivery).toMatchObject(expected.alpha);
    expect(await listDeliveries(house.database, piece.id)).toHaveLength(1);
  });

  it('delivers the same where it was made ready before, also while that is still under way', async () => {
    const { piece } = await bring('ready.png', await asSharp(disc(103, 31)).png().toBuffer());
    const { revision } = await addRevision(house.database, piece.id, piece.revision, cut, 'add a sample');
    const wanted = { revision, shownSha256: null };
    const making = readyPiece(house, piece.id, revision);
    const first = await deliverPiece(house, piece.id, wanted);
    await making;
    const second = await deliverPiece(house, piece.id, wanted);
    expect(first.delivery.pixelSha256).toBe(second.delivery.pixelSha256);
    const file = house.files.pathOf('deliveries', first.delivery.sha256);
    const expected = renderCut(disc(103, 31), cut).raster.data;
    expect((await sharp(file).raw().toBuffer()).equals(expected)).toBe(true);
  });

  it('refuses to deliver what the bench did not show', async () => {
    const { piece } = await bring('other.png', await asSharp(disc(77, 20)).png().toBuffer());
    const wanted = { revision: 0, shownSha256: '0'.repeat(64) };
    await expect(deliverPiece(house, piece.id, wanted)).rejects.toMatchObject({
      code: 'verification-failed',
    });
    expect(await listDeliveries(house.database, piece.id)).toEqual([]);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });
});

describe('thumbnailOf', () => {
  it('is there as soon as the piece is', async () => {
    const { piece } = await bring('pictured.png', await asSharp(disc(602, 180)).png().toBuffer());
    const key = thumbnailKey(piece, piece.revision);
    expect(await house.files.has('thumbnails', key)).toBe(true);
    expect(await thumbnailOf(house, piece.id, piece.revision)).toBe(house.files.pathOf('thumbnails', key));
    const { data, info } = await sharp(house.files.pathOf('thumbnails', key))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    // Of the cut that was proposed: the corner is clear, the middle is not.
    expect([data[3], data[((info.height >> 1) * info.width + (info.width >> 1)) * 4 + 3]]).toEqual([0, 255]);
  });

  it('makes one file for a revision, however often it is asked for', async () => {
    const { piece } = await bring('small.png', await asSharp(disc(640, 200)).png().toBuffer());
    const paths = await Promise.all([1, 2, 3].map(() => thumbnailOf(house, piece.id, 0)));
    expect(new Set(paths).size).toBe(1);
    expect(await sharp(paths[0]).metadata()).toMatchObject({ format: 'webp', width: 512 });
    await rm(paths[0]!);
    await thumbnailOf(house, piece.id, 0);
    expect(existsSync(paths[0]!)).toBe(true);
  });
});

describe('guarded', () => {
  const ask = (method: string, headers: Record<string, string>) =>
    guarded(() => Promise.resolve(Response.json({ ok: true })))(
      new Request('http://127.0.0.1:4680/api', { method, headers }),
      {},
    );

  it.each([
    ['GET', { host: '127.0.0.1:4680' }, 200],
    ['GET', { host: 'kenosis.example' }, 403],
    ['POST', { host: '127.0.0.1:4680', origin: 'http://127.0.0.1:4680' }, 200],
    ['POST', { host: '127.0.0.1:4680', origin: 'http://elsewhere.example' }, 403],
    ['POST', { host: '127.0.0.1:4680' }, 403],
    ['POST', { host: '127.0.0.1:4680', origin: 'null' }, 403],
    ['PATCH', { host: 'rebound.example', origin: 'http://rebound.example' }, 403],
  ])('%s %o -> %i', async (method, headers, status) => {
    expect((await ask(method, headers)).status).toBe(status);
  });

  it('tells coded errors as they are and others in general words', async () => {
    const failing = (error: Error) =>
      guarded(() => Promise.reject(error))(
        new Request('http://localhost/', { headers: { host: 'localhost' } }),
        {},
      );
    const coded = await failing(new KenosisError('not-found', 'gone'));
    expect([coded.status, await coded.json()]).toEqual([404, { code: 'not-found', message: 'gone' }]);
    const log = console.error;
    console.error = () => undefined;
    const other = await failing(new Error('secret path'));
    console.error = log;
    expect(other.status).toBe(500);
    expect(JSON.stringify(await other.json())).not.toContain('secret');
  });
});

describe('what comes in addresses and bodies', () => {
  it('is checked', async () => {
    expect(checkPieceId('0123456789abcdef')).toBe('0123456789abcdef');
    for (const bad of ['..', '../../etc', '0123456789ABCDEF', ''])
      expect(() => checkPieceId(bad)).toThrow(KenosisError);
    expect(checkNumber('revision', '12')).toBe(12);
    for (const bad of ['-1', '1.5', 'x', '', null])
      expect(() => checkNumber('revision', bad)).toThrow(/revision/);
    const schema = z.strictObject({ a: z.number() });
    const body = (text: string) => readBody(new Request('http://x/', { method: 'POST', body: text }), schema);
    await expect(body('{"a":1}')).resolves.toEqual({ a: 1 });
    await expect(body('{"a":"1"}')).rejects.toThrow(/body\.a/);
    await expect(body('{')).rejects.toThrow(/JSON/);
  });

  it('accepts only this machine’s names', () => {
    for (const host of ['127.0.0.1:80', 'localhost', '[::1]:4680']) expect(isLocalHost(host)).toBe(true);
    for (const host of [null, '', '127.0.0.1.example', 'localhost.example:80', '0.0.0.0', '192.168.0.2']) {
      expect(isLocalHost(host)).toBe(false);
    }
  });
});

describe('the simulated flatbed', () => {
  const settings = { sheet: 'signature', mode: 'color', dpi: 150, lid: 'open', format: 'png' } as const;
  const scanner = simulatedFlatbed(() => 3);

  it.each(['png', 'tiff'] as const)(
    'brings a %s with its resolution to the Shelf, with progress',
    async (format) => {
      const told: ScanProgress[] = [];
      const { piece } = await scanPiece(
        house,
        scanner,
        { ...settings, format },
        new AbortController().signal,
        (step) => told.push(step),
      );
      expect(piece).toMatchObject({
        format,
        dpi: 150,
        name: `scan-signature-150dpi.${format === 'png' ? 'png' : 'tif'}`,
      });
      expect(piece.reason).toMatch(/^Ink on .*the sheet squared up/);
      expect(told.length).toBeGreaterThan(1);
      expect(told.at(-1)).toEqual({ step: 'importing', percent: 0 });
      expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
    },
  );

  it('scans in gray, larger at a finer resolution, darker at the far corner with the lid open', async () => {
    const rowsOf = async (change: Partial<ScanSettings>) => {
      const pass = await scanner.scan({ ...settings, ...change });
      const bands: Uint8Array[] = [];
      for await (const band of pass.bands) bands.push(band);
      return { ...pass, rows: Buffer.concat(bands) };
    };
    const gray = await rowsOf({ mode: 'gray' });
    expect(gray.rows.length).toBe(gray.width * gray.height);
    const fine = await rowsOf({ dpi: 300 });
    expect(Math.abs(fine.width - 2 * gray.width)).toBeLessThanOrEqual(2);
    const closed = await rowsOf({ mode: 'gray', lid: 'closed' });
    const at = (scan: typeof gray, across: number, down: number) =>
      scan.rows[Math.floor(down * scan.height) * scan.width + Math.floor(across * scan.width)]!;
    expect(at(closed, 0.9, 0.85) - at(gray, 0.9, 0.85)).toBeGreaterThan(25);
    expect(Math.abs(at(closed, 0.1, 0.2) - at(gray, 0.1, 0.2))).toBeLessThan(8);
    expect(at(closed, 0.005, 0.5)).toBeGreaterThan(200);
    expect(at(gray, 0.005, 0.5)).toBeLessThan(90);
  });

  it('leaves nothing behind when it is cancelled, and knows its sheets', async () => {
    const abort = new AbortController();
    const before = (await listPieces(house.database)).length;
    const scan = scanPiece(house, scanner, { ...settings, dpi: 300 }, abort.signal, () => abort.abort());
    await expect(scan).rejects.toThrow(/The scan was cancelled\. Nothing was imported\./);
    expect((await listPieces(house.database)).length).toBe(before);
    const late = new AbortController();
    const almost = scanPiece(house, scanner, settings, late.signal, ({ percent }) => {
      if (percent === 100) late.abort();
    });
    await expect(almost).rejects.toThrow(/Nothing was imported/);
    expect((await listPieces(house.database)).length).toBe(before);
    expect((await scanner.sheets()).map(({ id }) => id)).toEqual(['signature', 'letter', 'wordmark']);
    await expect(scanner.scan({ ...settings, sheet: 'napkin' })).rejects.toThrow(/no sheet "napkin"/);
  });
});

describe('colorways and empty cutouts', () => {
  it('deliver each under its name, in its color, read back', async () => {
    const { piece } = await bring('two inks.png', await asSharp(disc(81, 22)).png().toBuffer());
    const colored: Cut = { ...cut, ink: { ...cut.ink, colorways: [{ name: 'deep red', color: '#8a1f2d' }] } };
    await addRevision(house.database, piece.id, piece.revision, colored, 'add a colorway');
    const revision = piece.revision + 1;
    const request = { revision, shownSha256: null, colorway: 'deep red' };
    const { delivery } = await deliverPiece(house, piece.id, request);
    expect(delivery.fileName).toBe('two inks-deep-red.png');
    const { data } = await sharp(house.files.pathOf('deliveries', delivery.sha256))
      .raw()
      .toBuffer({ resolveWithObject: true });
    const p = (40 * 81 + 40) * 4;
    expect(data.subarray(p, p + 4).toString('hex')).toBe('8a1f2dff');
    await expect(deliverPiece(house, piece.id, { ...request, colorway: 'rose' })).rejects.toThrow(
      /got "rose"/,
    );
  });

  it('writes no file in which nothing is left', async () => {
    const { piece } = await bring('all gone.png', await asSharp(disc(71, 18)).png().toBuffer());
    const samples = [newSample('s1', 2, 2, { tolerance: 100, reach: 'everywhere' })];
    const empty: Cut = { ...cut, clear: { ...cut.clear, samples } };
    await addRevision(house.database, piece.id, piece.revision, empty, 'clear all');
    const request = { revision: piece.revision + 1, shownSha256: null };
    await expect(deliverPiece(house, piece.id, request)).rejects.toThrow(
      /Everything of "all gone.png" would be cleared/,
    );
    expect(await listDeliveries(house.database, piece.id)).toEqual([]);
  });
});

describe('checking and throwing away', () => {
  const dusty = paint(90, 80, (x, y) => {
    if (Math.hypot(x - 8, y - 9) < 1.6) return [60, 60, 160];
    const inside = Math.min(1, Math.max(0, 20.5 - Math.hypot(x - 45, y - 40)));
    const mix = (own: number) => Math.round(255 + (own - 255) * inside);
    return [mix(150), mix(40), mix(50)];
  });
  const bytes = () => asSharp(dusty).png().toBuffer();

  it('counts what is open in the revision in force, once for each', async () => {
    const { piece } = await bring('dusty.png', await bytes());
    expect(piece.findings).toBeNull();
    await Promise.all([checkPieces(house), checkPieces(house)]);
    expect((await getPiece(house.database, piece.id)).findings).toEqual({ speck: 1 });
    const dismissed: Cut = { ...cut, findings: { dismissed: [{ kind: 'speck', x: 8, y: 9 }] } };
    await addRevision(house.database, piece.id, piece.revision, dismissed, 'dismiss a finding');
    expect((await getPiece(house.database, piece.id)).findings).toBeNull();
    await checkPieces(house);
    expect((await getPiece(house.database, piece.id)).findings).toEqual({});
  });

  it('brings a piece back from the trash when its bytes come in again', async () => {
    const { piece } = await bring('dusty.png', await bytes());
    await setTrashed(house.database, [piece.id], true);
    expect((await listPieces(house.database)).map(({ id }) => id)).not.toContain(piece.id);
    expect((await listPieces(house.database, 'trash')).map(({ id }) => id)).toEqual([piece.id]);
    expect(await bring('again.png', await bytes())).toMatchObject({ known: true, piece: { trashed: false } });
    expect((await listPieces(house.database)).map(({ id }) => id)).toContain(piece.id);
  });

  it('deletes for good what is in the trash, with its files, and nothing else', async () => {
    const { piece } = await bring('dusty.png', await bytes());
    const request = { revision: piece.revision, shownSha256: null };
    const { delivery } = await deliverPiece(house, piece.id, request);
    const files = [
      house.files.pathOf('originals', piece.sha256),
      house.files.pathOf('deliveries', delivery.sha256),
    ];
    expect(files.map((file) => existsSync(file))).toEqual([true, true]);
    const others = (await listPieces(house.database)).filter(({ id }) => id !== piece.id);
    await setTrashed(house.database, [piece.id], true);
    expect(await emptyTrash(house)).toBe(1);
    expect(files.map((file) => existsSync(file))).toEqual([false, false]);
    expect(await listPieces(house.database, 'trash')).toEqual([]);
    expect((await listPieces(house.database)).map(({ id }) => id)).toEqual(others.map(({ id }) => id));
    for (const { sha256 } of others) expect(existsSync(house.files.pathOf('originals', sha256))).toBe(true);
    expect(await emptyTrash(house)).toBe(0);
  });

  it('keeps an original as long as any piece of it is there', async () => {
    const { piece } = await bring('sheet.of.two.png', await bytes());
    const [one, two] = await addParts(house.database, piece.id, [untouchedCut(), untouchedCut()]);
    expect([one!.name, two!.name]).toEqual(['sheet.of.two-1.png', 'sheet.of.two-2.png']);
    expect(new Set([piece.id, one!.id, two!.id]).size).toBe(3);
    for (const part of [one!, two!]) {
      expect(part.sha256).toBe(piece.sha256);
      const { delivery } = await deliverPiece(house, part.id, { revision: 1, shownSha256: null });
      expect(delivery.width).toBe(piece.width);
    }
    const original = house.files.pathOf('originals', piece.sha256);
    await setTrashed(house.database, [piece.id, one!.id], true);
    await emptyTrash(house);
    expect(existsSync(original)).toBe(true);
    const [more] = await addParts(house.database, two!.id, [untouchedCut()]);
    expect(more!.id).not.toBe(two!.id);
    expect(await bring('sheet.png', await bytes())).toMatchObject({ known: false, piece: { id: piece.id } });
    await setTrashed(house.database, [piece.id, two!.id, more!.id], true);
    await emptyTrash(house);
    expect(existsSync(original)).toBe(false);
    await expect(addParts(house.database, piece.id, [untouchedCut()])).rejects.toMatchObject({
      code: 'not-found',
    });
  });

  it('writes a print size into the file as its resolution', async () => {
    const { piece } = await bring('dusty.png', await bytes());
    const printed: Cut = {
      ...cut,
      deliver: { ...AS_NAMED, fileName: null, print: { widthMm: 10, leastDpi: 300 } },
    };
    const state = await addRevision(house.database, piece.id, piece.revision, printed, 'print 10 mm wide');
    const { delivery } = await deliverPiece(house, piece.id, { revision: state.revision, shownSha256: null });
    expect(delivery.dpi).toBeCloseTo((90 * 25.4) / 10, 0);
    const { density } = await sharp(house.files.pathOf('deliveries', delivery.sha256)).metadata();
    expect(density).toBeCloseTo((90 * 25.4) / 10, 0);
  });
});
