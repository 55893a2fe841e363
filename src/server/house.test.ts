import { existsSync } from 'node:fs';
import { appendFile, mkdir, readdir, rm, truncate, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { blotches, disc } from '../../tests/make/pictures';
import { sharedPool } from '../../tests/make/shared-pool';
import { DATABASE_FILE } from '../storage/database-file';
import { addRevision, currentCut, getPiece, listPieces, renamePiece, setTrashed } from '../storage/pieces';
import { deliverPiece } from './deliver-piece';
import { openHouse } from './house';
import type { House } from './rooms';
import { importPiece } from './import-piece';
import { thumbnailOf } from './thumbnail';
import { emptyTrash } from './trash';

const shared = sharedPool();
let folder: string;
let house: House;
const pictures: Buffer[] = [];

beforeEach(async () => {
  folder = await freshFolder();
  house = await openHouse(folder, shared);
  if (pictures.length === 0)
    for (const radius of [20, 24, 28]) pictures.push(await asSharp(disc(81, radius)).png().toBuffer());
});
afterEach(() => house.close());

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;
const bring = (name: string, bytes: Uint8Array, damaged: 'refuse' | 'accept' = 'refuse') =>
  importPiece(house, name, stream(bytes), { damaged });
const inFolder = (...parts: string[]) => path.join(folder, ...parts);
const filesBelow = async (name: string) =>
  (await readdir(inFolder(name), { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile())
    .map((entry) => entry.name);

async function reopen(options: Parameters<typeof openHouse>[1] = {}): Promise<House> {
  await house.close();
  house = await openHouse(folder, { ...options, ...shared });
  return house;
}

describe('opening the house', () => {
  it('refuses a folder that another one has open, and leaves what is on its way there alone', async () => {
    await writeFile(await house.files.incomingPath(), 'on its way');
    await expect(openHouse(folder)).rejects.toMatchObject({ code: 'folder-in-use' });
    expect(await filesBelow('incoming')).toHaveLength(1);
  });

  it('sets aside what a kill left without a row, and says so', async () => {
    await bring('one.png', pictures[0]!);
    const orphan = 'd'.repeat(64);
    await mkdir(inFolder('originals', 'dd'));
    await writeFile(inFolder('originals', 'dd', orphan), 'orphan');
    await reopen();
    expect(await filesBelow('originals')).toHaveLength(1);
    expect(await filesBelow('quarantine')).toEqual([orphan]);
    expect(await house.files.quarantined()).toMatchObject({ files: 1, bytes: 6, days: 7 });
  });

  it('sets nothing aside while there are no pieces', async () => {
    await mkdir(inFolder('originals', 'dd'));
    await writeFile(inFolder('originals', 'dd', 'd'.repeat(64)), 'orphan');
    await reopen();
    expect(await filesBelow('originals')).toHaveLength(1);
  });
});

describe('a database that is gone', () => {
  it('makes pieces of the originals again, says that names are lost, and removes nothing', async () => {
    const ids = [];
    for (const [k, bytes] of pictures.entries()) ids.push((await bring(`name-${k}.png`, bytes)).piece.id);
    const { piece } = await bring('name-0.png', pictures[0]!);
    await deliverPiece(house, piece.id, { revision: piece.revision, shownSha256: null });
    const stranger = 'e'.repeat(64);
    await mkdir(inFolder('originals', 'ee'));
    await writeFile(inFolder('originals', 'ee', stranger), 'no picture');
    await house.close();
    for (const ending of ['', '-wal', '-shm']) await rm(inFolder(DATABASE_FILE + ending), { force: true });
    house = await openHouse(folder);
    expect(house.notices.join(' ')).toMatch(/being rebuilt from 4 originals/);
    await house.recovery;
    const found = await listPieces(house.database);
    expect(found.map(({ id }) => id).sort()).toEqual([...ids].sort());
    for (const one of found) {
      expect(one.name).toMatch(/^recovered-[0-9a-f]{8}\.png$/);
      expect(one.notes[0]).toMatch(/name and its work were lost/);
    }
    await reopen();
    await reopen();
    expect((await filesBelow('originals')).sort()).toEqual(
      [...found.map(({ sha256 }) => sha256), stranger].sort(),
    );
    expect(await filesBelow('deliveries')).toHaveLength(1);
    expect(await filesBelow('quarantine')).toEqual([]);
  });

  it('goes on with rebuilding at the next start where it was cut short', async () => {
    for (const bytes of pictures) await bring('one.png', bytes);
    await house.close();
    await rm(inFolder(DATABASE_FILE));
    house = await openHouse(folder);
    await reopen();
    await house.recovery;
    expect(await listPieces(house.database)).toHaveLength(pictures.length);
  });

  it('is offered its newest copy, which brings names and cuts back', async () => {
    const { piece } = await bring('kept.png', pictures[0]!);
    await renamePiece(house.database, piece.id, 'the name');
    await reopen();
    await house.close();
    await rm(inFolder(DATABASE_FILE));
    house = await openHouse(folder);
    const copy = /KENOSIS_RESTORE=(\S+) npm start/.exec(house.notices.join(' '))![1]!;
    await house.recovery;
    await reopen({ restore: copy });
    expect((await listPieces(house.database)).map(({ name }) => name)).toEqual(['the name']);
  });

  it('that was replaced by an older copy loses no piece that came after it', async () => {
    const first = await bring('first.png', pictures[0]!);
    await reopen();
    const second = await bring('second.png', pictures[1]!);
    await reopen({ restore: 'latest' });
    await house.recovery;
    const both = [first.piece.id, second.piece.id].sort();
    expect((await listPieces(house.database)).map(({ id }) => id).sort()).toEqual(both);
    await reopen();
    expect(await filesBelow('originals')).toHaveLength(2);
  });

  it('that is damaged is left as it is, and its copy is offered', async () => {
    await bring('one.png', pictures[0]!);
    await reopen();
    await house.close();
    await writeFile(inFolder(DATABASE_FILE), 'no database at all');
    await expect(openHouse(folder)).rejects.toMatchObject({
      code: 'damaged-database',
      message: expect.stringMatching(
        /Nothing was changed\. The newest copy is of 20.* KENOSIS_RESTORE=latest/,
      ) as string,
    });
    house = await openHouse(folder, { restore: 'latest' });
    await house.recovery;
    expect(await listPieces(house.database)).toHaveLength(1);
  });
});

describe('kept originals', () => {
  const work = (id: string) => thumbnailOf(house, id, 0);

  it.each([
    ['missing', (file: string) => rm(file), 'missing-original', /is missing from the data folder/],
    [
      'cut short',
      (file: string) => truncate(file, 100),
      'changed-original',
      /was cut short .*100 of \d+ bytes/,
    ],
    [
      'replaced',
      (file: string) => writeFile(file, pictures[2]!),
      'changed-original',
      /was replaced or damaged|was cut short/,
    ],
    ['longer', (file: string) => appendFile(file, 'more'), 'changed-original', /was replaced or damaged/],
  ] as const)('that are %s are told, and the same file heals them', async (_what, spoil, code, message) => {
    const { piece } = await bring('one.png', pictures[1]!);
    await addRevision(
      house.database,
      piece.id,
      piece.revision,
      (await currentCut(house.database, piece.id)).cut,
      'kept',
    );
    await spoil(house.files.pathOf('originals', piece.sha256));
    for (const attempt of [
      () => work(piece.id),
      () => deliverPiece(house, piece.id, { revision: piece.revision, shownSha256: null }),
    ])
      await expect(attempt()).rejects.toMatchObject({
        code,
        message: expect.stringMatching(message) as string,
      });
    const again = await bring('again.png', pictures[1]!);
    expect(again).toMatchObject({ known: true, healed: true, piece: { name: 'one.png' } });
    await work(piece.id);
    expect((await currentCut(house.database, piece.id)).undo).toBe('kept');
  });
});

describe('damaged pictures', () => {
  it('come in only when that is asked for, with a note, and are worked on as they are', async () => {
    const jpeg = await asSharp(blotches(400, 300, 2))
      .jpeg()
      .toBuffer();
    const half = Buffer.concat([jpeg.subarray(0, jpeg.length >> 1), Buffer.from([0xff, 0xd9])]);
    await expect(bring('half.jpg', half)).rejects.toMatchObject({
      code: 'damaged-picture',
      wayOut: 'accept-damaged',
    });
    expect(await listPieces(house.database)).toEqual([]);
    const { piece } = await bring('half.jpg', half, 'accept');
    expect(piece.notes).toEqual([expect.stringMatching(/^Damaged: only what could be read was taken/)]);
    expect(existsSync(await thumbnailOf(house, piece.id, 0))).toBe(true);
    expect(await filesBelow('incoming')).toEqual([]);
  });
});

describe('the trash', () => {
  it('takes thumbnails along, and a piece that comes again shows nothing of before', async () => {
    const { piece } = await bring('one.png', pictures[0]!);
    const before = await thumbnailOf(house, piece.id, 0);
    await setTrashed(house.database, [piece.id], true);
    expect(await emptyTrash(house)).toBe(1);
    expect(await filesBelow('thumbnails')).toEqual([]);
    const again = await bring('one.png', pictures[0]!);
    expect(again.known).toBe(false);
    expect(await thumbnailOf(house, piece.id, 0)).not.toBe(before);
  });

  it('and the same bytes coming in: whatever is answered is there, with its file', async () => {
    for (let round = 0; round < 25; round++) {
      const { piece } = await bring('one.png', pictures[0]!);
      await setTrashed(house.database, [piece.id], true);
      const [answer] = await Promise.all([bring('again.png', pictures[0]!), emptyTrash(house)]);
      const there = await getPiece(house.database, answer.piece.id);
      expect(there.trashed).toBe(false);
      expect(await house.originals.isIntact(there)).toBe(true);
    }
  });

  it('says that a piece is gone to a delivery that was on its way', async () => {
    const { piece } = await bring('one.png', pictures[0]!);
    const delivery = deliverPiece(house, piece.id, { revision: piece.revision, shownSha256: null });
    await setTrashed(house.database, [piece.id], true);
    await emptyTrash(house);
    await expect(delivery).rejects.toMatchObject({
      code: expect.stringMatching(/^(not-found|missing-original)$/) as string,
    });
    expect(await filesBelow('deliveries')).toEqual([]);
  });
});

describe('work that nobody waits for any more', () => {
  it('ends with the request, and leaves nothing behind', async () => {
    const large = await asSharp(blotches(1600, 1200, 3))
      .png()
      .toBuffer();
    const abort = new AbortController();
    const arriving = importPiece(house, 'large.png', stream(large), { signal: abort.signal });
    void expect
      .poll(() => filesBelow('incoming'))
      .toHaveLength(1)
      .then(() => abort.abort());
    await expect(arriving).rejects.toMatchObject({ code: 'aborted' });
    expect(await listPieces(house.database)).toEqual([]);
    expect(await filesBelow('incoming')).toEqual([]);
  });

  it('a thumbnail goes on while one of several waits for it', async () => {
    const { piece } = await bring('one.png', pictures[0]!);
    const impatient = new AbortController();
    const both = [thumbnailOf(house, piece.id, 0, impatient.signal), thumbnailOf(house, piece.id, 0)];
    impatient.abort();
    expect(new Set(await Promise.all(both)).size).toBe(1);
  });
});
