import { existsSync } from 'node:fs';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { gunzipSync, gzipSync } from 'node:zlib';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { decidedOtherwise } from '../../tests/make/decisions';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { disc } from '../../tests/make/pictures';
import type { Raster } from '../core/raster/raster';
import { factsOf } from '../core/stages/clear/clear';
import { addRevision, currentCut, setTrashed, step, type Piece } from '../storage/pieces';
import { checkPieces } from './check-pieces';
import { keepDecisions, keptDecisions } from './decisions';
import { deliverPiece } from './deliver-piece';
import { openHouse } from './house';
import { importPiece } from './import-piece';
import { proposeAnew } from './propose-anew';
import type { House } from './rooms';
import { emptyTrash } from './trash';

let folder: string;
let house: House;

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;

/** A disc as a piece. */
interface Brought {
  readonly picture: Raster;
  readonly piece: Piece;
  /** What was decided of it as it came in. */
  readonly file: string;
  readonly decided: Buffer;
}

async function bring(radius: number): Promise<Brought> {
  const picture = disc(101, radius);
  const png = await asSharp(picture).png().toBuffer();
  const { piece } = await importPiece(house, `disc-${radius}.png`, stream(png));
  const file = (await keptDecisions(house, piece))!;
  return { picture, piece, file, decided: await readFile(file) };
}

const clearPixels = async ({ piece: { id, revision } }: Brought) =>
  (await deliverPiece(house, id, { revision, shownSha256: null })).delivery.transparent;

/** That all of a piece stays, packed. */
async function otherwise({ piece, picture }: Brought): Promise<Uint8Array> {
  const { cut } = await currentCut(house.database, piece.id);
  return decidedOtherwise(picture, factsOf(cut)).packTaken()!;
}

let usual: Brought;
let other: Brought;
let damaged: Brought;
let old: Brought;

beforeAll(async () => {
  folder = await freshFolder();
  house = await openHouse(folder);
  usual = await bring(30);
  other = await bring(31);
  damaged = await bring(32);
  old = await bring(33);
  await writeFile(other.file, gzipSync(await otherwise(other)));
  await writeFile(damaged.file, 'no gzip');
  await rm(old.file);
  // Its threads forget what they have open.
  await house.close();
  house = await openHouse(folder);
  return () => house.close();
});

describe('what was decided of a piece', () => {
  it('is kept as it comes in, and followed by whatever is made of it, though this program would decide otherwise', async () => {
    expect(gunzipSync(usual.decided).length).toBeLessThan(101 * 101);
    expect(await clearPixels(usual)).toBeGreaterThan(1000);
    expect(await clearPixels(other)).toBe(0);
  });

  it('is kept of pieces that came before, once they are delivered', async () => {
    await clearPixels(old);
    expect(await readFile(old.file)).toEqual(old.decided);
  });

  it('is decided anew, and kept anew, where the file cannot be read; all else is as it was after the checks', async () => {
    const before = await readFile(other.file);
    await checkPieces(house);
    expect(await readFile(damaged.file)).toEqual(damaged.decided);
    expect(await readFile(usual.file)).toEqual(usual.decided);
    expect(await readFile(other.file)).toEqual(before);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });

  it('stays when the same is decided otherwise later, and is joined by what is decided for another cut', async () => {
    await keepDecisions(house, usual.piece, await otherwise(usual));
    expect(await readFile(usual.file)).toEqual(usual.decided);
    const { cut, revision } = await currentCut(house.database, usual.piece.id);
    const clear = { ...cut.clear, pockets: [{ x: 50, y: 50, keep: true }] };
    await addRevision(house.database, usual.piece.id, revision, { ...cut, clear }, 'keep a pocket');
    await checkPieces(house);
    const both = gunzipSync(await readFile(usual.file)).toString('latin1');
    expect(/"stays[\\":[{]+x[\\":]+50/.test(both)).toBe(true);
    expect(both.length).toBeGreaterThan(gunzipSync(usual.decided).length);
  });

  it('stays where the piece is proposed for anew: the new cut is decided beside it, and undo leads back', async () => {
    const { id } = other.piece;
    const { cut, revision } = await currentCut(house.database, id);
    expect(await proposeAnew(house, usual.piece.id, usual.piece.revision)).toEqual({
      cut: null,
      isSame: true,
      reason: expect.any(String) as string,
      picture: null,
    });
    const anew = await proposeAnew(house, id, revision);
    expect(anew).toMatchObject({ isSame: false, cut: { edge: cut.edge, deliver: cut.deliver } });
    expect(await sharp(Buffer.from(anew.picture!, 'base64')).metadata()).toMatchObject({ format: 'webp' });
    const before = await readFile(other.file);
    const added = await addRevision(house.database, id, revision, anew.cut!, 'take a new proposal');
    const taken = await deliverPiece(house, id, { revision: added.revision, shownSha256: null });
    expect(taken.delivery.transparent).toBeGreaterThan(1000);
    expect((await readFile(other.file)).length).toBeGreaterThan(before.length);
    await step(house.database, id, 'undo');
    expect(await clearPixels(other)).toBe(0);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });

  it('goes with its piece, also where it comes late', async () => {
    const taken = await otherwise(old);
    await setTrashed(house.database, [old.piece.id], true);
    await emptyTrash(house);
    expect(existsSync(old.file)).toBe(false);
    await keepDecisions(house, old.piece, taken);
    expect(existsSync(old.file)).toBe(false);
    expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
  });
});
