import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Uint8ArrayReader, Uint8ArrayWriter, ZipReader, type FileEntry } from '@zip.js/zip.js';
import { afterEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { listBackups } from '../storage/backups';
import { openDatabase } from '../storage/database';
import { currentCut, listPieces, step } from '../storage/pieces';
import { listProofs } from '../storage/proofs';
import { getRoutine, listRoutines } from '../storage/routines';
import { listRuns } from '../storage/runs';
import { listSets } from '../storage/sets';
import { unreadableRows } from '../storage/unreadable';
import { listWatermarks } from '../storage/watermarks';
import { deliverPiece } from './deliver-piece';
import { openHouse } from './house';
import type { House } from './rooms';
import { keepEmbedded } from './watermarks/materials';
import { sharedPool } from '../../tests/make/shared-pool';

const shared = sharedPool();

/** Data folders as earlier versions wrote them, each made by running that version; `expected.json` in each says what it delivered. */
const FOLDER = path.join('tests', 'fixtures', 'houses');

/**
 * Which of the pieces have other pixels today than when that version delivered them, and why: edges of colored backdrops were solved
 * anew in decisions 010 and 011, ink of scans in decision 008. All others are the same byte for byte, those without edges from the
 * very first version on.
 */
const REDRAWN: Readonly<Record<string, readonly string[]>> = {
  '02-proposals': ['emblem.png', 'kite.jpg', 'signature.jpg'],
  '03-edges': ['emblem.png', 'kite.jpg', 'signature.jpg'],
  '04-shapes': ['emblem.png', 'kite.jpg', 'signature.jpg'],
  '05-ink': ['emblem.png', 'kite.jpg'],
  '06-findings': ['emblem.png', 'kite.jpg'],
};

const expectedSchema = z.object({
  deliveries: z.array(
    z.object({
      piece: z.string(),
      name: z.string(),
      revision: z.int(),
      sha256: z.string(),
      pixelSha256: z.string(),
    }),
  ),
  routines: z.array(z.string()).default([]),
  sets: z.array(z.string()).default([]),
  runs: z.int().default(0),
  proofs: z.array(z.string()).default([]),
  watermarks: z.array(z.string()).default([]),
});

let house: House | null = null;
let folder: string;

afterEach(async () => {
  await house?.close();
  house = null;
  await rm(folder, { recursive: true, force: true });
});

/** Lays a data folder of before into a fresh one. Returns what it holds. */
async function lay(name: string): Promise<z.infer<typeof expectedSchema>> {
  folder = await mkdtemp(path.join(tmpdir(), 'kenosis-older-'));
  const zip = new ZipReader(new Uint8ArrayReader(await readFile(path.join(FOLDER, `${name}.zip`))));
  for (const entry of (await zip.getEntries()) as FileEntry[]) {
    const place = path.join(folder, entry.filename);
    await mkdir(path.dirname(place), { recursive: true });
    await writeFile(place, await entry.getData(new Uint8ArrayWriter()));
  }
  const expected = path.join(folder, 'expected.json');
  const read = expectedSchema.parse(JSON.parse(await readFile(expected, 'utf8')));
  await rm(expected);
  return read;
}

const names = (await readdir(FOLDER)).map((file) => file.replace('.zip', '')).sort();

describe('a data folder of an earlier version', () => {
  it.each(names)('%s opens whole: pieces, steps, deliveries, and whatever else it had', async (name) => {
    const expected = await lay(name);
    house = await openHouse(folder, shared);
    const { database, files } = house;
    await keepEmbedded(house);
    expect(await unreadableRows(database)).toEqual([]);
    const pieces = await listPieces(database);
    expect(pieces.map(({ name: called }) => called).sort()).toEqual([
      'emblem.png',
      'kite.jpg',
      'signature.jpg',
    ]);
    for (const { id } of pieces) {
      const now = await currentCut(database, id);
      expect(now.undo).toBe('file name');
      expect(now.redo).toMatch(/^switch (Edge|Clear)? ?(Edge )?off$/);
      await step(database, id, 'redo');
      expect(await step(database, id, 'undo')).toEqual(now);
    }
    for (const { piece, name: called, revision, sha256, pixelSha256 } of expected.deliveries) {
      // What was delivered is there, byte for byte.
      expect(await files.has('deliveries', sha256)).toBe(true);
      // The step in force of every piece, and of one the step that was undone.
      const isOff = revision === Math.max(...expected.deliveries.map((one) => one.revision));
      if (isOff && called !== 'kite.jpg') continue;
      const { delivery } = await deliverPiece(house, piece, { revision, shownSha256: null });
      // The same bytes as before, or it says why not.
      const isRedrawn = delivery.pixelSha256 !== pixelSha256;
      expect('redrawn' in delivery.findings!).toBe(isRedrawn);
      expect([called, isOff, isRedrawn]).toEqual([
        called,
        isOff,
        !isOff && (REDRAWN[name] ?? []).includes(called),
      ]);
    }
    const named = (all: readonly { readonly name: string }[]) => all.map((one) => one.name);
    expect(named(await listRoutines(database))).toEqual(expect.arrayContaining(expected.routines));
    expect(named(await listSets(database))).toEqual(expect.arrayContaining(expected.sets));
    expect((await listProofs(database)).map((one) => one.name)).toEqual(expected.proofs);
    expect((await listWatermarks(database)).map(({ watermark }) => watermark.name)).toEqual(
      expected.watermarks,
    );
    expect(await listRuns(database)).toHaveLength(expected.runs);
    if (expected.watermarks.length > 0) {
      const { mark } = await getRoutine(database, 'mark my mark');
      const [cutout, text] = mark!.watermark.layout.groups[0]!.parts;
      expect(cutout).toMatchObject({ source: { kind: 'kept' } });
      expect(text).toMatchObject({ font: { kind: 'brought', name: 'caveat.woff2' } });
    }
  });

  it('is copied before it is changed, and not changed where it cannot be', async () => {
    await lay('01-first');
    await writeFile(path.join(folder, 'backups'), 'a file where copies would go');
    const before = await readFile(path.join(folder, 'kenosis.sqlite'));
    await expect(openHouse(folder)).rejects.toMatchObject({
      code: 'no-backup',
      message: expect.stringMatching(/could not be copied first .*Nothing was changed/) as string,
    });
    expect(await readFile(path.join(folder, 'kenosis.sqlite'))).toEqual(before);
    await rm(path.join(folder, 'backups'));
    house = await openHouse(folder);
    const [copy] = (await listBackups(folder)).filter(({ name }) => name.startsWith('kept-'));
    // What is kept is the database as it was: it could be brought up to date again.
    const other = await mkdtemp(path.join(tmpdir(), 'kenosis-copy-'));
    await writeFile(path.join(other, 'kenosis.sqlite'), await readFile(copy!.path));
    let copied = 0;
    const again = await openDatabase(other, () => Promise.resolve(void copied++));
    expect(copied).toBe(1);
    expect(await listPieces(again)).toHaveLength(3);
    await again.close();
    await rm(other, { recursive: true });
  });
});
