import { existsSync } from 'node:fs';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { gunzipSync, gzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { decidedOtherwise } from '../../tests/make/decisions';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { disc } from '../../tests/make/pictures';
import { factsOf } from '../core/stages/clear/clear';
import { addRevision, currentCut, setTrashed, type Piece } from '../storage/pieces';
import { checkPieces } from './check-pieces';
import { keepDecisions, keptDecisions } from './decisions';
import { deliverPiece } from './deliver-piece';
import { openHouse } from './house';
import { importPiece } from './import-piece';
import type { House } from './rooms';
import { emptyTrash } from './trash';

const master = disc(101, 30);

let folder: string;
let house: House;
let piece: Piece;
let png: Buffer;

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;

beforeEach(async () => {
  folder = await freshFolder();
  house = await openHouse(folder);
  png = await asSharp(master).png().toBuffer();
  ({ piece } = await importPiece(house, 'disc.png', stream(png)));
});
afterEach(() => house.close());

const kept = async () => (await keptDecisions(house, piece))!;
const clearPixels = async () => {
  const { delivery } = await deliverPiece(house, piece.id, { revision: piece.revision, shownSha256: null });
  return delivery.transparent;
};

/** That all of the piece stays, packed. */
async function otherwise(): Promise<Uint8Array> {
  const { cut } = await currentCut(house.database, piece.id);
  return decidedOtherwise(master, factsOf(cut)).packTaken()!;
}

describe('what was decided of a piece', () => {
  it('is kept as it comes in, and is not decided anew by the checks', async () => {
    const before = await readFile(await kept());
    expect(gunzipSync(before).length).toBeLessThan(master.width * master.height);
    await checkPieces(house);
    expect(await readFile(await kept())).toEqual(before);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });

  it('is followed by whatever is made of the piece, though this program would decide otherwise', async () => {
    expect(await clearPixels()).toBeGreaterThan(1000);
    await writeFile(await kept(), gzipSync(await otherwise()));
    // Another picture in between, so that nothing is at hand of this one.
    const other = await asSharp(disc(90, 20)).png().toBuffer();
    await importPiece(house, 'other.png', stream(other));
    await house.close();
    house = await openHouse(folder);
    expect(await clearPixels()).toBe(0);
  });

  it('stays when the same is decided otherwise later, and is joined by what is decided for another cut', async () => {
    const before = await readFile(await kept());
    await keepDecisions(house, piece, await otherwise());
    expect(await readFile(await kept())).toEqual(before);
    const { cut, revision } = await currentCut(house.database, piece.id);
    const clear = { ...cut.clear, pockets: [{ x: 50, y: 50, keep: true }] };
    await addRevision(house.database, piece.id, revision, { ...cut, clear }, 'keep a pocket');
    await checkPieces(house);
    const both = gunzipSync(await readFile(await kept())).toString('latin1');
    expect(/"stays[\\":[{]+x[\\":]+50/.test(both)).toBe(true);
    expect(both.length).toBeGreaterThan(gunzipSync(before).length);
  });

  it('is decided anew, and kept anew, where the file cannot be read', async () => {
    const before = await readFile(await kept());
    await writeFile(await kept(), 'no gzip');
    await house.close();
    house = await openHouse(folder);
    await checkPieces(house);
    expect(await readFile(await kept())).toEqual(before);
  });

  it('is kept of pieces that came before, once they are delivered', async () => {
    const file = await kept();
    const before = await readFile(file);
    await rm(file);
    await house.close();
    house = await openHouse(folder);
    await clearPixels();
    expect(await readFile(file)).toEqual(before);
  });

  it('goes with its piece, also where it comes late', async () => {
    const file = await kept();
    const taken = await otherwise();
    await setTrashed(house.database, [piece.id], true);
    await emptyTrash(house);
    expect(existsSync(file)).toBe(false);
    await keepDecisions(house, piece, taken);
    expect(existsSync(file)).toBe(false);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });
});
