import {
  appendFile,
  chmod,
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rename,
  rm,
  symlink,
  writeFile,
} from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../../tests/make/files';
import { freshFolder } from '../../../tests/make/folder';
import { blotches, disc } from '../../../tests/make/pictures';
import { newRoutine } from '../../core/routine/first-routines';
import type { JobEngine } from '../../engine/node/jobs/job-engine';
import { poolEngine } from '../../engine/node/jobs/pool-engine';
import { reportCsv, reportJson } from '../runs/report';
import type { FileToDo } from './folder-run';
import { LEDGER_FILE, openLedger, type Settled } from './ledger';
import { runFiles, type FilesRun } from './run-files';
import { assertWatchable, watchFolder } from './watch-folder';

const routine = newRoutine('plain');
let engine: JobEngine;
let root: string;
let kites: FileToDo[];

beforeAll(async () => {
  root = await freshFolder();
  engine = poolEngine(2);
  kites = [];
  for (const side of [40, 50, 60, 70]) {
    const name = `kite-${side}.png`;
    await asSharp(disc(side, side / 4))
      .png()
      .toFile(path.join(root, name));
    kites.push({ path: path.join(root, name), name });
  }
});
afterAll(() => engine.close());

const fresh = () => mkdtemp(path.join(root, 'out-'));

/** The engine for a run, which closes it in the end, although the next test needs it again. */
const lent = (): JobEngine => ({ ...engine, close: () => Promise.resolve() });

async function run(out: string, change: Partial<FilesRun> = {}): Promise<Settled[]> {
  return runFiles({
    out,
    routine,
    materials: {},
    date: () => '2026-11-30',
    engine: () => Promise.resolve(lent()),
    files: kites,
    resume: false,
    tell: () => undefined,
    ...change,
  });
}

const delivered = async (out: string) => (await readdir(out)).filter((name) => !name.startsWith('.')).sort();
const cutouts = (files: readonly FileToDo[]) =>
  files.map(({ name }) => name.replace('.png', '-cutout.png')).sort();

describe('a run into a folder', () => {
  it('delivers every file once, and says what became of each in their order', async () => {
    const out = await fresh();
    const told: string[] = [];
    const settled = await run(out, { tell: ({ name }) => told.push(name) });
    expect(await delivered(out)).toEqual(cutouts(kites));
    expect(settled.map(({ name, state, sure }) => [name, state, sure])).toEqual(
      kites.map(({ name }) => [name, 'delivered', true]),
    );
    expect(told.sort()).toEqual(kites.map(({ name }) => name).sort());
    const { data, info } = await import('sharp').then(({ default: sharp }) =>
      sharp(path.join(out, 'kite-60-cutout.png')).raw().toBuffer({ resolveWithObject: true }),
    );
    expect([info.width, info.height, data[3]]).toEqual([60, 60, 0]);
  });

  it('goes on where one file is unreadable, one vanished, one is a link and one is not sure', async () => {
    const out = await fresh();
    await writeFile(path.join(root, 'broken.png'), 'no picture');
    await asSharp(blotches(90, 70, 3))
      .png()
      .toFile(path.join(root, 'busy.png'));
    await symlink(kites[0]!.path, path.join(root, 'link.png')).catch(() => undefined);
    const name = (file: string) => ({ path: path.join(root, file), name: file });
    const settled = await run(out, {
      files: [kites[0]!, name('broken.png'), name('gone.png'), name('link.png'), name('busy.png'), kites[1]!],
    });
    expect(settled.map(({ state }) => state)).toEqual([
      'delivered',
      'failed',
      'failed',
      'failed',
      'held',
      'delivered',
    ]);
    expect(settled[1]!.message).toContain('is not a picture that can be read');
    expect(settled[2]!.message).toBe('"gone.png" is not there any more. Nothing of it was delivered.');
    expect(settled[3]!.message).toContain('is a link, and links are not followed');
    expect(settled[4]).toMatchObject({ sure: false, files: [] });
    expect(settled[4]!.message).not.toBe('');
    expect(await delivered(out)).toEqual(cutouts([kites[0]!, kites[1]!]));
  });

  it('writes over nothing: what has the name keeps it', async () => {
    const out = await fresh();
    await writeFile(path.join(out, 'kite-40-cutout.png'), 'somebody else');
    const [first] = await run(out, { files: kites.slice(0, 1) });
    expect(first!.files[0]!.name).toBe('kite-40-cutout-2.png');
    expect(await readFile(path.join(out, 'kite-40-cutout.png'), 'utf8')).toBe('somebody else');
  });

  it('gives two files of one name names of their own', async () => {
    const out = await fresh();
    const settled = await run(out, { files: [kites[0]!, { path: kites[1]!.path, name: kites[0]!.name }] });
    expect(settled.map(({ files }) => files[0]!.name).sort()).toEqual([
      'kite-40-cutout-2.png',
      'kite-40-cutout.png',
    ]);
  });

  it('holds the folder against a second run', async () => {
    const out = await fresh();
    const ledger = await openLedger(out);
    await expect(run(out)).rejects.toMatchObject({ code: 'folder-in-use' });
    await ledger.close();
    await run(out);
  });

  it('says so where nothing may be written', async () => {
    const out = path.join(await fresh(), 'none');
    await expect(run(out)).rejects.toMatchObject({ code: 'cannot-write' });
  });
});

describe('a run that was killed', () => {
  /** A run that stops after so many files, as a kill would: nothing is ended or tidied. */
  async function killedAfter(count: number, out: string): Promise<void> {
    const done = kites.slice(0, count);
    await run(out, { files: done });
    const lines = (await readFile(path.join(out, LEDGER_FILE), 'utf8'))
      .split('\n')
      .filter((line) => line !== '');
    const begun = lines[0]!.replace('"files":' + count, '"files":4');
    await writeFile(path.join(out, LEDGER_FILE), [begun, ...lines.slice(1, -1)].join('\n') + '\n');
  }

  it('is not done again by accident, and goes on when it is told to', async () => {
    const out = await fresh();
    await killedAfter(2, out);
    await expect(run(out)).rejects.toThrow('(2 of 4 done). Nothing was done. --resume goes on with it');
    const before: boolean[] = [];
    await run(out, { resume: true, tell: (_settled, isBefore) => before.push(isBefore) });
    expect(before.filter(Boolean)).toHaveLength(2);
    expect(await delivered(out)).toEqual(cutouts(kites));
    // It is over now: the same again is another run.
    await run(out);
    expect(await delivered(out)).toHaveLength(8);
  });

  it('goes on after its last line was cut short', async () => {
    const out = await fresh();
    await killedAfter(2, out);
    await appendFile(path.join(out, LEDGER_FILE), '{"kind":"settled","key":"abc');
    await run(out, { resume: true });
    expect(await delivered(out)).toEqual(cutouts(kites));
    const ledger = await openLedger(out);
    expect(ledger.history).toHaveLength(4);
    await ledger.close();
  });

  it('gives what was half placed the same names, once', async () => {
    const out = await fresh();
    await killedAfter(2, out);
    const [file] = await run(await fresh(), { files: [kites[2]!] });
    const key = file!.key;
    const { sha256, name } = file!.files[0]!;
    // Killed between giving the name and writing that down; the temporary file is gone too.
    await run(out, { resume: true, files: [kites[2]!] });
    await rm(path.join(out, LEDGER_FILE));
    const begun = {
      kind: 'begun',
      id: crypto.randomUUID(),
      routine: 'plain',
      routineKey: await keyOfRoutine(),
      files: 4,
      at: new Date().toISOString(),
    };
    const placing = { kind: 'placing', key, files: [{ made: '.kenosis-1-x.part', name, sha256 }] };
    await writeFile(path.join(out, LEDGER_FILE), `${JSON.stringify(begun)}\n${JSON.stringify(placing)}\n`);
    const settled = await run(out, { resume: true, files: [kites[2]!] });
    expect(settled[0]!.files[0]!.name).toBe(name);
    expect((await delivered(out)).filter((one) => one.startsWith('kite-60'))).toEqual([name]);
  });

  it('is not resumed with another routine', async () => {
    const out = await fresh();
    await killedAfter(1, out);
    await expect(run(out, { resume: true, routine: newRoutine('other') })).rejects.toThrow(
      'one of another routine (plain)',
    );
  });

  it('leaves half-written files of nobody', async () => {
    const out = await fresh();
    const dead = `.kenosis-999999999-${crypto.randomUUID()}.part`;
    const foreign = '.kenosis-notes.part';
    await writeFile(path.join(out, dead), 'x');
    await writeFile(path.join(out, foreign), 'x');
    await run(out);
    const left = (await readdir(out)).filter((name) => name.endsWith('.part'));
    expect(left).toEqual([foreign]);
  });
});

async function keyOfRoutine(): Promise<string> {
  const { routineKey } = await import('./folder-run');
  return routineKey(routine);
}

describe('a watched folder', () => {
  async function watching(folder: string, out: string) {
    const told: Settled[] = [];
    const watch = await watchFolder({
      folder,
      out,
      routine,
      materials: () => Promise.resolve({}),
      date: () => '2026-11-30',
      engine: lent(),
      tell: ({ settled }) => settled && told.push(settled),
    });
    return { ...watch, told };
  }
  const drop = async (folder: string, from: string, name: string) =>
    writeFile(path.join(folder, name), await readFile(from));
  const names = async (folder: string) => (await readdir(folder).catch(() => [])).sort();

  it('takes what comes, once it has stopped growing, and moves it where it belongs with a reason', async () => {
    const [folder, out] = [await fresh(), await fresh()];
    await drop(folder, kites[0]!.path, 'first.png');
    await symlink(kites[1]!.path, path.join(folder, 'link.png'));
    await mkdir(path.join(folder, 'deeper'));
    await drop(path.join(folder, 'deeper'), kites[1]!.path, 'deep.png');
    const { told, close } = await watching(folder, out);
    // A file that comes slowly is taken whole.
    const slow = await readFile(kites[3]!.path);
    await writeFile(path.join(folder, 'slow.png'), slow.subarray(0, 200));
    await new Promise((resolve) => setTimeout(resolve, 900));
    await appendFile(path.join(folder, 'slow.png'), slow.subarray(200));
    await writeFile(path.join(folder, 'broken.png'), 'no picture');
    await asSharp(blotches(90, 70, 3))
      .png()
      .toFile(path.join(root, 'busy-too.png'));
    await drop(folder, path.join(root, 'busy-too.png'), 'busy.png');
    await expect.poll(() => told.length, { timeout: 30_000 }).toBe(5);
    await close();
    expect(Object.fromEntries(told.map(({ name, state }) => [name, state]))).toEqual({
      'first.png': 'delivered',
      'slow.png': 'delivered',
      'broken.png': 'failed',
      'busy.png': 'held',
      'link.png': 'failed',
    });
    expect(await delivered(out)).toEqual(['first-cutout.png', 'slow-cutout.png']);
    expect(await names(path.join(folder, 'done'))).toEqual(['first.png', 'slow.png']);
    expect(await names(path.join(folder, 'failed'))).toEqual([
      'broken.png',
      'broken.png.txt',
      'link.png.txt',
    ]);
    expect(await readFile(path.join(folder, 'failed', 'broken.png.txt'), 'utf8')).toContain(
      'is not a picture',
    );
    expect(await names(path.join(folder, 'held'))).toEqual(['busy.png', 'busy.png.txt']);
    // Links, and what lies deeper, are not touched.
    expect(await names(folder)).toEqual(['deeper', 'done', 'failed', 'held', 'link.png', 'skipped']);
    expect(await names(path.join(folder, 'deeper'))).toEqual(['deep.png']);
  });

  it('does no file twice after a restart, and knows what it did', async () => {
    const [folder, out] = [await fresh(), await fresh()];
    const first = await watching(folder, out);
    await drop(folder, kites[0]!.path, 'one.png');
    await expect.poll(() => first.told.length, { timeout: 30_000 }).toBe(1);
    await first.close();
    await drop(folder, kites[1]!.path, 'two.png');
    const second = await watching(folder, out);
    await expect.poll(() => second.told.length, { timeout: 30_000 }).toBe(1);
    expect(second.history.map(({ name }) => name)).toEqual(['one.png', 'two.png']);
    await second.close();
    expect(await delivered(out)).toEqual(['one-cutout.png', 'two-cutout.png']);
  });

  it('delivers what cannot be moved away once, and says that it stays', async () => {
    const [folder, out] = [await fresh(), await fresh()];
    const first = await watching(folder, out);
    // Somebody put a link in the place of the folder for what is done.
    await rm(path.join(folder, 'done'), { recursive: true });
    await symlink(out, path.join(folder, 'done'));
    await drop(folder, kites[0]!.path, 'one.png');
    const one = () => first.told.find(({ name }) => name === 'one.png');
    await expect.poll(one, { timeout: 30_000 }).toMatchObject({ state: 'delivered', stays: true });
    expect(one()!.message).toContain('"one.png" stays where it is');
    await first.close();
    await rm(path.join(folder, 'done'));
    const second = await watching(folder, out);
    await drop(folder, kites[1]!.path, 'two.png');
    await expect.poll(() => second.told.length, { timeout: 30_000 }).toBe(1);
    await second.close();
    expect(await delivered(out)).toEqual(['one-cutout.png', 'two-cutout.png']);
  });

  it('is refused where its folders cannot be', async () => {
    const folder = await fresh();
    const inner = path.join(folder, 'inner');
    await mkdir(inner);
    const link = path.join(root, `link-${Date.now()}`);
    await symlink(folder, link);
    const file = kites[0]!.path;
    for (const [bad, why] of [
      [{ folder: 'pictures', out: inner }, 'a full path'],
      [{ folder: path.join(folder, 'none'), out: inner }, 'there is no such file or folder'],
      [{ folder: link, out: inner }, 'not a link to one'],
      [{ folder: file, out: folder }, 'expected a folder'],
      [{ folder, out: inner }, 'neither in it nor around it'],
      [{ folder: inner, out: folder }, 'neither in it nor around it'],
      [{ folder, out: folder }, 'neither in it nor around it'],
    ] as const)
      await expect(assertWatchable(bad), why).rejects.toThrow(why);
  });
});

describe('a report', () => {
  it('has a line for each file, and for each picture without', async () => {
    const rows = await run(await fresh(), {
      files: [kites[0]!, { path: path.join(root, 'nothing.png'), name: '=1+1, "x".png' }],
    });
    const json = JSON.parse(reportJson('plain', rows)) as { pictures: number; counts: object };
    expect(json).toMatchObject({ pictures: 2, counts: { delivered: 1, failed: 1 } });
    const csv = reportCsv(rows).split('\r\n');
    expect(csv[0]).toBe(
      'picture,state,sure,findings,milliseconds,message,file,format,bytes,width,height,sha256',
    );
    expect(csv[1]).toMatch(
      /^kite-40\.png,delivered,yes,0,\d+,,kite-40-cutout\.png,png,\d+,40,40,[0-9a-f]{64}$/,
    );
    // A spreadsheet must not take a name for a formula.
    expect(csv[2]).toMatch(/^"'=1\+1, ""x""\.png",failed,/);
    expect(csv).toHaveLength(4);
  });
});

describe('folders without rights', () => {
  it.skipIf(process.getuid?.() === 0)('are told as such', async () => {
    const out = await fresh();
    await chmod(out, 0o500);
    await expect(run(out)).rejects.toMatchObject({ code: 'cannot-write' });
    await chmod(out, 0o700);
    await rename(out, `${out}-over`);
  });
});
