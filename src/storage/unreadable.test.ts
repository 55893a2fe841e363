import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DOCUMENT_KINDS } from '../core/document';
import { FIRST_ROUTINES } from '../core/routine/first-routines';
import { FIRST_SETS } from '../core/stages/deliver/sets';
import { lineMark } from '../core/watermark/first-watermarks';
import { openDatabase, type Database } from './database';
import { addProof, listProofs } from './proofs';
import { listRoutines, saveRoutine } from './routines';
import { addRun, getRun, listRuns, takeItem } from './runs';
import { listSets, saveSet } from './sets';
import { documentText, unreadableRows } from './unreadable';
import { addWatermark, listWatermarks } from './watermarks';

let folder: string;
let database: Database;
const routine = { ...FIRST_ROUTINES[0]!, name: 'mine' };

/** Each kind twice, the first of them broken afterwards. */
beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'kenosis-unreadable-'));
  database = await openDatabase(folder);
  const { models } = database;
  for (const name of ['broken', 'whole']) {
    await addProof(database, { name });
    await addWatermark(database, { ...lineMark('x'), name });
    await saveRoutine(database, { ...routine, name });
    await saveSet(database, { ...FIRST_SETS[0]!, name });
    const items = [{ name: 'kite.jpg', pieceId: 'aaaa' }];
    await addRun(database, { routine: { ...routine, name }, purpose: 'deliver', date: '2026-11-30', items });
    const folders = { folder: name, out: `${name}-out`, isOn: false };
    await models.Watch.create({ ...folders, routine: JSON.stringify(routine) });
  }
  const newer = JSON.stringify({ version: 99 });
  await models.ProofStep.update({ content: newer }, { where: { ownerId: 1 } });
  await models.WatermarkStep.update({ content: '{"half' }, { where: { ownerId: 1 } });
  await models.Routine.update({ content: newer }, { where: { name: 'broken' } });
  await models.OutputSet.update({ content: '[]' }, { where: { name: 'broken' } });
  await models.Run.update({ routine: newer }, { where: { id: 1 } });
  await models.Watch.update({ routine: newer }, { where: { id: 1 } });
});
afterAll(async () => {
  await database.close();
  await rm(folder, { recursive: true });
});

describe('a row that cannot be read', () => {
  it('is one row that says so; the others of its list are there', async () => {
    expect((await listProofs(database)).map(({ name }) => name)).toEqual(['whole']);
    expect((await listWatermarks(database)).map(({ watermark }) => watermark.name)).toEqual(['whole']);
    const own = (names: string[]) => names.filter((name) => /^(broken|whole)$/.test(name));
    expect(own((await listRoutines(database)).map(({ name }) => name))).toEqual(['whole']);
    expect(own((await listSets(database)).map(({ name }) => name))).toEqual(['whole']);
    expect((await listRuns(database)).map(({ name }) => name)).toEqual(['whole']);
    const rows = await unreadableRows(database);
    expect(rows.map(({ kind, name }) => `${kind} ${name}`)).toEqual(
      DOCUMENT_KINDS.map((kind) => `${kind} broken`),
    );
    expect(rows.find(({ kind }) => kind === 'run')!.why).toMatch(/written by a newer Kenosis/);
    expect(rows.find(({ kind }) => kind === 'watermark')!.why).toMatch(/expected a JSON document/);
  });

  it('gives its document as it is', async () => {
    expect(await documentText(database, 'watermark', '1')).toBe('{"half');
    expect(await documentText(database, 'routine', 'broken')).toBe('{"version":99}');
    await expect(documentText(database, 'set', 'nobody')).rejects.toMatchObject({ code: 'not-found' });
  });

  it('keeps no other run from going on', async () => {
    const taken = await takeItem(database);
    expect(taken?.run.name).toBe('whole');
    await expect(getRun(database, 1)).rejects.toMatchObject({ code: 'newer-routine' });
    const row = await database.models.Run.findByPk(1);
    expect(row).toMatchObject({
      state: 'paused',
      message: expect.stringMatching(/cannot be read/) as string,
    });
  });
});
