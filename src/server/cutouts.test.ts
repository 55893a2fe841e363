import { existsSync } from 'node:fs';
import { readdir, readFile, rename } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { gunzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { disc } from '../../tests/make/pictures';
import { newSample } from '../core/cut/new-sample';
import { untouchedCut } from '../core/cut/parse';
import { unpackCutout } from '../core/packed-cutout';
import { wholeOf } from '../core/raster/raster';
import { renderCut } from '../core/render';
import { addRevision, setTrashed, type Piece } from '../storage/pieces';
import { checkPieces } from './check-pieces';
import { keptCutout, receiveCutout } from './cutouts';
import { deliverPiece } from './deliver-piece';
import { openHouse } from './house';
import { importPiece } from './import-piece';
import { readyPiece } from './ready-piece';
import type { House } from './rooms';
import { emptyTrash } from './trash';

const master = disc(101, 30);
const cut = {
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', 2, 2, { areaPx: 3, tolerance: 10 })] },
};

let folder: string;
let house: House;
let piece: Piece;

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;

beforeEach(async () => {
  folder = await freshFolder();
  house = await openHouse(folder);
  const png = await asSharp(master).png().toBuffer();
  ({ piece } = await importPiece(house, 'disc.png', stream(png)));
});
afterEach(() => house.close());

const isLeft = async (file: string | null) => [file !== null && existsSync(file), await halfWritten()];
const halfWritten = async () => (await readdir(path.join(folder, 'incoming'))).length;

describe('a cutout that is kept for the bench', () => {
  it('is made by the checks and by making ready, of the newest revision alone', async () => {
    expect(await keptCutout(house, piece.id, piece.revision)).toBeNull();
    await checkPieces(house);
    const first = await keptCutout(house, piece.id, piece.revision);
    expect(await isLeft(first)).toEqual([true, 0]);
    const { revision } = await addRevision(house.database, piece.id, piece.revision, cut, 'add a sample');
    await readyPiece(house, piece.id, revision);
    const second = (await keptCutout(house, piece.id, revision))!;
    expect(unpackCutout(gunzipSync(await readFile(second)), master, wholeOf(master))).toEqual(
      renderCut(master, cut),
    );
    expect(await isLeft(first)).toEqual([false, 0]);
  });

  it('is taken from the bench, but not from that of another program, and not without end', async () => {
    const from = { revision: piece.revision, program: house.program };
    const bytes = new Uint8Array(90_000);
    const sent = (change: Partial<typeof from>, body = bytes) =>
      receiveCutout(house, piece.id, { ...from, ...change }, stream(body));
    await expect(sent({ program: 'abc' })).rejects.toMatchObject({ code: 'conflict' });
    await expect(sent({}, new Uint8Array(90_000))).rejects.toMatchObject({ code: 'too-many-bytes' });
    await expect(receiveCutout(house, '0'.repeat(16), from, stream(new Uint8Array(9)))).rejects.toMatchObject(
      { code: 'not-found' },
    );
    expect(await isLeft(await keptCutout(house, piece.id, piece.revision))).toEqual([false, 0]);
    await sent({}, bytes.subarray(0, 900));
    const kept = (await keptCutout(house, piece.id, piece.revision))!;
    expect(await readFile(kept)).toHaveLength(900);
    expect(await halfWritten()).toBe(0);
  });

  it('is forgotten where the bench showed something else than is rendered', async () => {
    await checkPieces(house);
    const kept = await keptCutout(house, piece.id, piece.revision);
    const wanted = { revision: piece.revision, shownSha256: '0'.repeat(64) };
    await expect(deliverPiece(house, piece.id, wanted)).rejects.toMatchObject({
      code: 'verification-failed',
    });
    expect(await isLeft(kept)).toEqual([false, 0]);
  });

  it('goes with its piece, and with the program that made it', async () => {
    await checkPieces(house);
    const kept = (await keptCutout(house, piece.id, piece.revision))!;
    const others = kept.replace(house.program, '123456789abc');
    await rename(kept, others);
    await house.close();
    house = await openHouse(folder);
    expect(existsSync(others)).toBe(false);
    await readyPiece(house, piece.id, piece.revision);
    expect(existsSync(kept)).toBe(true);
    await setTrashed(house.database, [piece.id], true);
    await emptyTrash(house);
    expect(existsSync(kept)).toBe(false);
  });
});
