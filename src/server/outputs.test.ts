import { mkdtemp, readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { BlobReader, Uint8ArrayWriter, ZipReader, type FileEntry } from '@zip.js/zip.js';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../tests/make/files';
import { disc } from '../../tests/make/pictures';
import { outputIn } from '../core/stages/deliver/new-output';
import { AS_IT_IS } from '../core/stages/deliver/output-settings';
import type { Cut } from '../core/cut/schema';
import { listSets, removeSet, saveSet } from '../storage/sets';
import { addRevision, currentCut, listPieces } from '../storage/pieces';
import { deliverPiece } from './deliver-piece';
import { openHouse } from './house';
import { importFile, importPiece } from './import-piece';
import type { House } from './rooms';
import { tryOutput } from './try-output';
import { zipOfDeliveries } from './zip-deliveries';

let house: House;
beforeAll(async () => {
  house = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-outputs-')));
  return () => house.close();
});

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;
const frames = [disc(60, 12), disc(60, 17), disc(60, 22)];
const moving = () =>
  sharp(Buffer.concat(frames.map(({ data }) => data)), {
    raw: { width: 60, height: 180, channels: 4, pageHeight: 60 },
  })
    .webp({ lossless: true })
    .toBuffer();
const SVG = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" width="48" height="24"><circle cx="24" cy="12" r="8"/></svg>',
);

describe('importing a file of several pictures', () => {
  it('asks first, with a small picture of each, and brings in nothing', async () => {
    const before = (await listPieces(house.database)).length;
    const { arrived, choice } = await importFile(house, 'moving.webp', stream(await moving()));
    expect(arrived).toBeNull();
    expect(choice).toMatchObject({ pages: 3, drawn: null });
    expect(choice!.shown.map(({ number, width, height }) => [number, width, height])).toEqual([
      [1, 60, 60],
      [2, 60, 60],
      [3, 60, 60],
    ]);
    for (const { picture } of choice!.shown)
      expect((await sharp(Buffer.from(picture!, 'base64')).metadata()).format).toBe('webp');
    expect(await listPieces(house.database)).toHaveLength(before);
  });

  it('makes a piece of each that is chosen, of one original, and knows them again', async () => {
    const bytes = await moving();
    const { arrived } = await importFile(house, 'moving.webp', stream(bytes), { pages: [1, 3] });
    expect(arrived!.map(({ piece, known }) => [piece.name, known])).toEqual([
      ['moving-1.webp', false],
      ['moving-3.webp', false],
    ]);
    const [first, third] = arrived!.map(({ piece }) => piece);
    expect(first!.sha256).toBe(third!.sha256);
    expect((await currentCut(house.database, third!.id)).cut.page).toEqual({ number: 3, widthPx: null });
    const again = await importFile(house, 'moving.webp', stream(bytes), { pages: [3] });
    expect(again.arrived![0]).toMatchObject({ known: true, piece: { id: third!.id } });
    // What is delivered is that page.
    const { revision } = await currentCut(house.database, third!.id);
    const { delivery } = await deliverPiece(house, third!.id, { revision, shownSha256: null });
    const file = house.files.pathOf('deliveries', delivery.sha256);
    const { data } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    const opaque = data.filter((value, p) => p % 4 === 3 && value === 255).length;
    expect(opaque).toBeGreaterThan(Math.PI * 20 * 20);
  });

  it('refuses a page that is not there, and a cut of another page', async () => {
    const bytes = await moving();
    await expect(importFile(house, 'moving.webp', stream(bytes), { pages: [9] })).rejects.toMatchObject({
      code: 'bad-argument',
    });
    const { arrived } = await importFile(house, 'moving.webp', stream(bytes), { pages: [2] });
    const { id } = arrived![0]!.piece;
    const { revision, cut } = await currentCut(house.database, id);
    await expect(
      addRevision(house.database, id, revision, { ...cut, page: { number: 1, widthPx: null } }, 'x'),
    ).rejects.toMatchObject({ code: 'bad-cut' });
  });

  it('asks how large a drawing is read, and remembers it', async () => {
    const { choice } = await importFile(house, 'kite.svg', stream(SVG));
    expect(choice).toMatchObject({
      pages: 1,
      drawn: { aspect: 0.5, scanWidthPx: null, proposedWidthPx: 1000 },
    });
    const { arrived } = await importFile(house, 'kite.svg', stream(SVG), {
      pages: [1],
      drawn: { kind: 'dpi', dpi: 400 },
    });
    const { piece } = arrived![0]!;
    expect(piece).toMatchObject({ name: 'kite.svg', width: 200, height: 100, dpi: 400, format: 'svg' });
    expect(piece.notes).toEqual([expect.stringMatching(/^Already transparent: 8\d %/)]);
    await expect(
      importFile(house, 'kite.svg', stream(SVG), { pages: [1], drawn: { kind: 'dpi', dpi: 4800 * 40 } }),
    ).rejects.toMatchObject({ code: 'bad-argument' });
  });

  it('a file that has to be asked about is none where nobody can answer', async () => {
    await expect(importPiece(house, 'kite.svg', stream(SVG))).rejects.toMatchObject({
      code: 'unsupported-format',
    });
  });
});

describe('delivering several files', () => {
  const outputs: Cut['deliver']['outputs'] = [
    outputIn('png'),
    { ...outputIn('webp'), size: { ...AS_IT_IS, to: { kind: 'width', px: 50 } } } as never,
    outputIn('svg'),
    outputIn('jpeg'),
  ];
  let id: string;
  let revision: number;
  beforeAll(async () => {
    const { piece } = await importPiece(
      house,
      'disc.png',
      stream(await asSharp(disc(101, 30)).png().toBuffer()),
    );
    id = piece.id;
    const state = await currentCut(house.database, id);
    const colorways = [{ name: 'navy', color: '#1d2a6b' }];
    const cut: Cut = {
      ...state.cut,
      ink: { ...state.cut.ink, colorways },
      deliver: { ...state.cut.deliver, outputs },
    };
    revision = (await addRevision(house.database, id, state.revision, cut, 'four files')).revision;
  });

  it('writes each as itself, records what was found, and refuses one that is not there', async () => {
    const made = [];
    for (const output of outputs.keys()) {
      const { delivery } = await deliverPiece(house, id, { revision, shownSha256: null, output });
      made.push([delivery.fileName, delivery.format, delivery.width]);
      expect(delivery.findings).toMatchObject({
        decoder: expect.any(String) as string,
        scale: expect.any(Number) as number,
      });
    }
    expect(made).toEqual([
      ['disc-cutout.png', 'png', 101],
      ['disc-cutout.webp', 'webp', 50],
      ['disc-cutout.svg', 'svg', 101],
      ['disc-cutout.jpg', 'jpeg', 101],
    ]);
    const navy = await deliverPiece(house, id, { revision, shownSha256: null, colorway: 'navy', output: 2 });
    expect(navy.delivery.fileName).toBe('disc-navy.svg');
    const file = house.files.pathOf('deliveries', navy.delivery.sha256);
    expect(await readFile(file, 'utf8')).toContain('fill="#1d2a6b"');
    await expect(deliverPiece(house, id, { revision, shownSha256: null, output: 4 })).rejects.toMatchObject({
      code: 'bad-argument',
    });
  });

  it('tries one without keeping it', async () => {
    const before = await house.files.keysOf('deliveries');
    const { bytes, mime, width, findings } = await tryOutput(house, id, {
      revision,
      output: 3,
      colorway: null,
    });
    expect([mime, width]).toEqual(['image/jpeg', 101]);
    expect((await sharp(bytes).metadata()).format).toBe('jpeg');
    expect(findings.kind).toBe('quality 90 on #ffffff');
    expect(await house.files.keysOf('deliveries')).toEqual(before);
  });

  it('gives them in one ZIP, under names of their own, with a report', async () => {
    const numbers: number[] = [];
    for (const output of [0, 0, 1]) {
      const { delivery } = await deliverPiece(house, id, { revision, shownSha256: null, output });
      numbers.push(delivery.id);
    }
    const zip = await new Response(await zipOfDeliveries(house, numbers)).blob();
    const entries = (await new ZipReader(new BlobReader(zip)).getEntries()) as FileEntry[];
    expect(entries.map(({ filename }) => filename)).toEqual([
      'disc-cutout.png',
      'disc-cutout-2.png',
      'disc-cutout.webp',
      'report.json',
    ]);
    const webp = await entries[2]!.getData(new Uint8ArrayWriter());
    expect((await sharp(Buffer.from(webp)).metadata()).width).toBe(50);
    const report = JSON.parse(Buffer.from(await entries[3]!.getData(new Uint8ArrayWriter())).toString()) as {
      deliveries: { name: string; format: string; findings: object }[];
    };
    expect(report.deliveries.map(({ name, format }) => [name, format])).toEqual([
      ['disc-cutout.png', 'png'],
      ['disc-cutout-2.png', 'png'],
      ['disc-cutout.webp', 'webp'],
    ]);
    await expect(zipOfDeliveries(house, [999_999])).rejects.toMatchObject({ code: 'not-found' });
  });

  it('a name that is none is refused before anything is made', async () => {
    const state = await currentCut(house.database, id);
    const long = { ...state.cut, deliver: { ...state.cut.deliver, fileName: 'x'.repeat(200) } };
    const next = await addRevision(house.database, id, state.revision, long, 'a long name');
    const { delivery } = await deliverPiece(house, id, { revision: next.revision, shownSha256: null });
    expect(delivery.fileName.length).toBeLessThanOrEqual(200);
  });
});

describe('sets', () => {
  it('are there from the beginning, and can be saved, replaced and forgotten', async () => {
    const { database } = house;
    const names = async () => (await listSets(database)).map(({ name }) => name);
    expect(await names()).toEqual(['site', 'print', 'shop']);
    await saveSet(database, { name: 'mail', outputs: [outputIn('gif')], hidden: 'removed' });
    await saveSet(database, { name: 'site', outputs: [outputIn('avif')], hidden: 'bled' });
    expect(await names()).toEqual(['print', 'shop', 'mail', 'site']);
    expect((await listSets(database)).find(({ name }) => name === 'site')).toMatchObject({ hidden: 'bled' });
    await removeSet(database, 'site');
    await removeSet(database, 'mail');
    expect(await names()).toEqual(['site', 'print', 'shop']);
  });
});
