import { mkdtemp, readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { gunzipSync } from 'node:zlib';
import {
  BlobReader,
  BlobWriter,
  TextReader,
  Uint8ArrayWriter,
  ZipReader,
  ZipWriter,
  type FileEntry,
} from '@zip.js/zip.js';
import { beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../tests/make/files';
import { blotches, disc } from '../../tests/make/pictures';
import { sharedPool } from '../../tests/make/shared-pool';
import type { Cut } from '../core/cut/schema';
import {
  addParts,
  addRevision,
  currentCut,
  getPiece,
  listPieces,
  revisionsOf,
  setTrashed,
  step,
} from '../storage/pieces';
import { BUNDLE_DOCUMENT } from './bundle-format';
import { keptDecisions } from './decisions';
import { deliverPiece } from './deliver-piece';
import { exportBundle } from './export-bundle';
import { openHouse } from './house';
import { importBundle } from './import-bundle';
import { importPiece } from './import-piece';
import type { House } from './rooms';

const shared = sharedPool();

let here: House;
let elsewhere: House;
let id: string;

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;
const bundleOf = async (ids: readonly string[]) =>
  Buffer.from(await new Response(await exportBundle(here, ids)).arrayBuffer());
const take = (bytes: Buffer, house = elsewhere) => importBundle(house, 'kite-bundle.zip', stream(bytes));
const deliver = async (house: House, piece: string) => {
  const { revision } = await currentCut(house.database, piece);
  return (await deliverPiece(house, piece, { revision, shownSha256: null })).delivery;
};

/** What was decided of a piece; null where nothing is kept. */
const decided = async (house: House, piece: string) => {
  const file = await keptDecisions(house, await getPiece(house.database, piece));
  return file && gunzipSync(await readFile(file));
};

/** A bundle with its document, or its files, changed. */
async function spoiled(
  bytes: Buffer,
  change: (document: { pieces: Record<string, unknown>[] }) => void,
  files: (name: string, content: Uint8Array) => Uint8Array | null = (_name, content) => content,
): Promise<Buffer> {
  const entries = (await new ZipReader(
    new BlobReader(new Blob([bytes as BlobPart])),
  ).getEntries()) as FileEntry[];
  const zip = new ZipWriter(new BlobWriter());
  for (const entry of entries) {
    const content = await entry.getData(new Uint8ArrayWriter());
    if (entry.filename === BUNDLE_DOCUMENT) {
      const document = JSON.parse(Buffer.from(content).toString()) as { pieces: Record<string, unknown>[] };
      change(document);
      await zip.add(entry.filename, new TextReader(JSON.stringify(document)));
    } else {
      const changed = files(entry.filename, content);
      if (changed) await zip.add(entry.filename, new BlobReader(new Blob([changed as BlobPart])));
    }
  }
  return Buffer.from(await (await zip.close()).arrayBuffer());
}

beforeAll(async () => {
  here = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-bundle-')), shared);
  elsewhere = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-bundle-')), shared);
  const bytes = await asSharp(disc(101, 30)).withMetadata({ density: 300 }).png().toBuffer();
  ({ id } = (await importPiece(here, 'kite.png', stream(bytes))).piece);
  const state = await currentCut(here.database, id);
  const softer: Cut = { ...state.cut, edge: { ...state.cut.edge, softnessPx: 3 } };
  const next = await addRevision(here.database, id, state.revision, softer, 'softness 3 px');
  const inked: Cut = { ...softer, ink: { ...softer.ink, color: '#1d2a6b' } };
  await addRevision(here.database, id, next.revision, inked, 'one color');
  await step(here.database, id, 'undo');
  await deliver(here, id);
  return async () => {
    await here.close();
    await elsewhere.close();
  };
});

describe('a bundle', () => {
  it('gives the same pixels elsewhere, with every step, the one in force, and what was said', async () => {
    const [arrived] = await take(await bundleOf([id]));
    expect(arrived).toMatchObject({ known: false, piece: { name: 'kite.png', width: 101, dpi: 300 } });
    const there = arrived!.piece.id;
    const bare = async (house: House, piece: string) =>
      (await revisionsOf(house.database, piece)).map(({ number, label, cut }) => ({ number, label, cut }));
    expect(await bare(elsewhere, there)).toEqual(await bare(here, id));
    expect((await currentCut(elsewhere.database, there)).redo).toBe('one color');
    expect((await deliver(elsewhere, there)).pixelSha256).toBe((await deliver(here, id)).pixelSha256);
    const piece = await getPiece(elsewhere.database, there);
    expect(piece.reason).toBe((await getPiece(here.database, id)).reason);
    expect(piece.notes).toEqual(['1 delivery was made of it where it comes from.']);
    const original = (house: House) => readFile(house.files.pathOf('originals', piece.sha256));
    expect(await original(elsewhere)).toEqual(await original(here));
    expect(await decided(elsewhere, there)).toEqual(await decided(here, id));
  });

  it('is known where it is there already, also in the trash, and lies beside other work on the same picture', async () => {
    const bytes = await bundleOf([id]);
    const [again] = await take(bytes);
    expect(again!.known).toBe(true);
    await setTrashed(elsewhere.database, [again!.piece.id], true);
    expect((await take(bytes))[0]).toMatchObject({
      known: true,
      piece: { id: again!.piece.id, trashed: false },
    });
    const state = await currentCut(elsewhere.database, again!.piece.id);
    const other: Cut = { ...state.cut, edge: { ...state.cut.edge, firmness: 40 } };
    await addRevision(elsewhere.database, again!.piece.id, state.revision, other, 'firmness 40');
    const [beside] = await take(bytes);
    expect(beside!.known).toBe(false);
    expect(beside!.piece.id).not.toBe(again!.piece.id);
    expect(beside!.piece.sha256).toBe(again!.piece.sha256);
  });

  it('holds several pieces, and an original that they share once', async () => {
    const { cut } = await currentCut(here.database, id);
    const [part] = await addParts(here.database, id, [cut]);
    const photo = await asSharp(blotches(60, 40, 3))
      .png()
      .toBuffer();
    const { piece } = await importPiece(here, 'photo.png', stream(photo));
    const bytes = await bundleOf([id, part!.id, piece.id]);
    const names = (await new ZipReader(new BlobReader(new Blob([bytes as BlobPart]))).getEntries()).map(
      ({ filename }) => filename,
    );
    expect(names.filter((name) => name.startsWith('originals/'))).toHaveLength(2);
    expect(names.filter((name) => name.startsWith('cuts/'))).toHaveLength(3);
    const fresh = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-bundle-')), shared);
    try {
      expect(await take(bytes, fresh)).toHaveLength(3);
      expect((await listPieces(fresh.database)).map(({ name }) => name).sort()).toEqual([
        'kite-1.png',
        'kite.png',
        'photo.png',
      ]);
    } finally {
      await fresh.close();
    }
  });

  type Piece = Record<string, unknown> & { revisions: { number: number; cut: Record<string, unknown> }[] };
  const first = (document: { pieces: Record<string, unknown>[] }) => document.pieces[0] as Piece;
  it.each<[string, (document: { pieces: Record<string, unknown>[] }) => void, RegExp]>([
    ['a version of tomorrow', (document) => Object.assign(document, { version: 2 }), /version/],
    ['a field that nobody knows', (document) => Object.assign(first(document), { mood: 'glad' }), /mood/],
    [
      'a cut that is none',
      (document) => Object.assign(first(document).revisions[1]!.cut, { edge: 7 }),
      /revisions\.1.*edge/,
    ],
    ['revisions that do not begin', (document) => void first(document).revisions.shift(), /expected 0 first/],
    [
      'revisions that fall',
      (document) => Object.assign(first(document).revisions[2]!, { number: 1 }),
      /rise/,
    ],
    [
      'a position that is not there',
      (document) => Object.assign(first(document), { position: 99 }),
      /no revision 99/,
    ],
    [
      'another hash',
      (document) =>
        Object.assign(first(document), {
          original: { sha256: 'a'.repeat(64), file: `originals/${'a'.repeat(64)}.png` },
        }),
      /original of "kite.png" is not in it/,
    ],
    [
      'a path out of it',
      (document) =>
        Object.assign(first(document), { original: { sha256: 'a'.repeat(64), file: '../../etc/passwd' } }),
      /original\.file/,
    ],
    [
      'a crop outside of the picture',
      (document) =>
        Object.assign(first(document).revisions[1]!.cut.prepare as object, {
          crop: { x: 900, y: 900, width: 5, height: 5 },
        }),
      /a cut of "kite.png"/,
    ],
  ])('is refused with %s, and nothing stays', async (_what, change, message) => {
    const before = (await listPieces(elsewhere.database)).length;
    const bytes = await spoiled(await bundleOf([id]), change);
    await expect(take(bytes)).rejects.toMatchObject({
      code: 'bad-bundle',
      message: expect.stringMatching(message) as string,
    });
    expect(await listPieces(elsewhere.database)).toHaveLength(before);
  });

  it('is decided anew elsewhere where what was decided of it is damaged', async () => {
    const again = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-bundle-')), shared);
    try {
      const damaged = await spoiled(
        await bundleOf([id]),
        () => undefined,
        (name, content) => (name.startsWith('decisions/') ? Buffer.from('none') : content),
      );
      const [arrived] = await take(damaged, again);
      expect(await decided(here, id)).not.toBeNull();
      expect(await decided(again, arrived!.piece.id)).toBeNull();
      const delivered = await deliver(again, arrived!.piece.id);
      expect(delivered.pixelSha256).toBe((await deliver(here, id)).pixelSha256);
    } finally {
      await again.close();
    }
  });

  it('is refused where an original has other bytes, is missing, or it is no ZIP', async () => {
    const bytes = await bundleOf([id]);
    const flipped = await spoiled(
      bytes,
      () => undefined,
      (name, content) => {
        if (!name.startsWith('originals/')) return content;
        const other = content.slice();
        other[other.length >> 1]! ^= 1;
        return other;
      },
    );
    await expect(take(flipped)).rejects.toMatchObject({
      message: expect.stringContaining('other bytes than it says') as string,
    });
    const without = await spoiled(
      bytes,
      () => undefined,
      (name, content) => (name.startsWith('originals/') ? null : content),
    );
    await expect(take(without)).rejects.toMatchObject({
      message: expect.stringContaining('is not in it') as string,
    });
    await expect(take(bytes.subarray(0, bytes.length >> 1))).rejects.toMatchObject({ code: 'bad-bundle' });
    await expect(take(Buffer.from('no archive'))).rejects.toMatchObject({
      code: 'bad-bundle',
      message: expect.stringContaining('Nothing of it came in. Export it anew') as string,
    });
  });
});
