import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { kenosis, kenosisFed } from '../../tests/make/kenosis';
import { blotches, disc } from '../../tests/make/pictures';
import { startRedis, type TestRedis } from '../../tests/make/redis';
import { newRoutine } from '../core/routine/first-routines';
import { readRunArguments } from './run-args';

let root: string;
let kites: string;
beforeAll(async () => {
  root = await freshFolder();
  kites = path.join(root, 'kites');
  await mkdir(path.join(kites, 'more'), { recursive: true });
  for (const side of [40, 50, 60])
    await asSharp(disc(side, side / 4))
      .png()
      .toFile(path.join(kites, `kite-${side}.png`));
  await asSharp(disc(70, 17))
    .png()
    .toFile(path.join(kites, 'more', 'kite-70.png'));
  await writeFile(path.join(kites, 'notes.txt'), 'no picture');
});

const fresh = () => mkdtemp(path.join(root, 'out-'));

/** Names and SHA-256 of what was delivered. */
async function hashes(folder: string): Promise<Record<string, string>> {
  const names = (await readdir(folder)).filter((name) => !name.startsWith('.')).sort();
  const entries = names.map(async (name) => [
    name,
    createHash('sha256')
      .update(await readFile(path.join(folder, name)))
      .digest('hex'),
  ]);
  return Object.fromEntries((await Promise.all(entries)) as [string, string][]);
}

const rowsOf = (stdout: string) =>
  stdout
    .split('\n')
    .filter((line) => line !== '')
    .map((line) => JSON.parse(line) as { name: string; state: string; files: { name: string }[] });

describe('kenosis run', () => {
  it('takes a folder with what is in it, prints a line of JSON for each picture, and reports', async () => {
    const out = await fresh();
    const report = path.join(root, 'report.csv');
    const { code, stdout, stderr } = await kenosis(
      'run',
      'product-on-transparent',
      kites,
      '-o',
      out,
      '--report',
      report,
    );
    expect([code, stderr]).toEqual([
      0,
      'kenosis: 1 file that are no pictures, or links, were passed over.\n',
    ]);
    expect(
      rowsOf(stdout)
        .map(({ name, state }) => `${name} ${state}`)
        .sort(),
    ).toEqual([40, 50, 60, 70].map((side) => `kite-${side}.png delivered`));
    expect(Object.keys(await hashes(out))).toHaveLength(4);
    expect((await readFile(report, 'utf8')).split('\r\n')).toHaveLength(6);
  });

  it.each([
    ['0 where all is delivered', ['kite-40.png'], 0],
    ['4 where one is not sure', ['kite-40.png', 'busy.png'], 4],
    ['1 where one failed, whatever else', ['kite-40.png', 'busy.png', 'broken.png'], 1],
  ])('ends with %s', async (_what, names, exit) => {
    const folder = await fresh();
    await asSharp(blotches(90, 70, 3))
      .png()
      .toFile(path.join(folder, 'busy.png'));
    await writeFile(path.join(folder, 'broken.png'), 'no picture');
    await writeFile(path.join(folder, 'kite-40.png'), await readFile(path.join(kites, 'kite-40.png')));
    const { code } = await kenosis(
      'run',
      'product-on-transparent',
      ...names.map((name) => path.join(folder, name)),
      '-o',
      await fresh(),
    );
    expect(code).toBe(exit);
  });

  it('ends with 3 where something was delivered that has findings', async () => {
    const folder = await fresh();
    // A disc that touches the frame.
    const picture = disc(80, 20);
    for (let x = 0; x < 40; x++)
      for (let y = 38; y < 43; y++) picture.data.set([200, 30, 30, 255], (y * 80 + x) * 4);
    await asSharp(picture).png().toFile(path.join(folder, 'touching.png'));
    const { code, stdout } = await kenosis(
      'run',
      'product-on-transparent',
      path.join(folder, 'touching.png'),
      '-o',
      await fresh(),
    );
    expect([code, stdout]).toEqual([3, expect.stringContaining('"frame":1')]);
  });

  it('reads from a pipe and writes into one', async () => {
    const picture = await readFile(path.join(kites, 'kite-50.png'));
    const { code, bytes } = await kenosisFed(picture, 'run', 'product-on-transparent', '-', '-o', '-');
    expect(code).toBe(0);
    const out = await fresh();
    await kenosis('run', 'product-on-transparent', path.join(kites, 'kite-50.png'), '-o', out);
    expect(createHash('sha256').update(bytes).digest('hex')).toBe((await hashes(out))['kite-50-cutout.png']);
    const many = await kenosisFed(picture, 'run', 'logo-to-all-sizes', '-', '-o', '-');
    expect([many.code, many.bytes.length]).toEqual([2, 0]);
    expect(many.stderr).toContain('makes 6 files');
  });

  it('carries out a routine out of a file, and says what is wrong with one', async () => {
    const file = path.join(root, 'mine.json');
    await writeFile(
      file,
      JSON.stringify(
        newRoutine('mine', { deliver: { ...newRoutine('x').deliver!, fileName: 'cut-{piece}' } }),
      ),
    );
    const out = await fresh();
    await kenosis('run', file, path.join(kites, 'kite-40.png'), '-o', out);
    expect(Object.keys(await hashes(out))).toEqual(['cut-kite-40.png']);
    await writeFile(file, JSON.stringify({ ...newRoutine('mine'), version: 9 }));
    const newer = await kenosis('run', file, kites, '-o', out);
    expect([newer.code, newer.stderr]).toEqual([1, expect.stringContaining('written by a newer Kenosis')]);
    const unknown = await kenosis('run', 'nothing', kites, '-o', out);
    expect([unknown.code, unknown.stderr]).toEqual([2, expect.stringContaining('one of signature-to-ink')]);
  });

  it.each([
    [['run'], 'ROUTINE'],
    [['run', 'r'], '-o: expected the folder'],
    [['run', 'r', '-o', 'x'], 'IN: expected pictures'],
    [['run', 'r', 'a', '-', '-o', 'x'], 'IN: expected - alone'],
    [['run', 'r', 'a', '-o', '-'], '-o: expected a folder'],
    [['run', 'r', '-', '-o', 'x', '--resume'], '--resume: expected named pictures'],
    [['run', 'r', 'a', '-o', 'x', '--jobs', '0'], '--jobs: expected 1 to 64'],
    [['run', 'r', 'a', '-o', 'x', '--speed', '1'], 'speed'],
    [['watch', 'r', 'a', 'b', '-o', 'x'], 'FOLDER: expected one folder'],
    [['watch', 'r', 'a', '-o', 'x', '--resume'], 'resume'],
    [['worker', 'x'], 'worker: expected no names'],
    [['worker', '-o', 'x'], 'Unknown option'],
  ])('refuses %j', (args, why) => expect(() => readRunArguments(args)).toThrow(why));
});

describe('kenosis watch', () => {
  it('delivers what comes until it is ended, with a line of JSON each', async () => {
    const [folder, out] = [await fresh(), await fresh()];
    const child = spawn(process.execPath, [
      'scripts/kenosis.mjs',
      'watch',
      'product-on-transparent',
      folder,
      '-o',
      out,
    ]);
    let [stdout, stderr] = ['', ''];
    child.stdout.on('data', (chunk: Buffer) => (stdout += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (stderr += chunk.toString()));
    await expect.poll(() => stderr, { timeout: 30_000 }).toContain('watching');
    await writeFile(path.join(folder, 'one.png'), await readFile(path.join(kites, 'kite-40.png')));
    await expect.poll(() => stdout, { timeout: 30_000 }).toContain('one.png');
    const ended = new Promise<number | null>((resolve) => child.once('close', resolve));
    child.kill('SIGINT');
    expect(await ended).toBe(0);
    expect(rowsOf(stdout)).toMatchObject([{ name: 'one.png', state: 'delivered' }]);
    expect(Object.keys(await hashes(out))).toEqual(['one-cutout.png']);
    expect(await readdir(path.join(folder, 'done'))).toEqual(['one.png']);
  });
});

describe('with workers', () => {
  let redis: TestRedis;
  beforeAll(async () => {
    redis = await startRedis();
    return () => redis.close();
  });

  const workers: ChildProcess[] = [];
  afterAll(() => {
    for (const worker of workers) worker.kill('SIGKILL');
  });
  const environment = (shared: string) => ({ KENOSIS_QUEUE: redis.url, KENOSIS_SHARED: shared });

  /** A worker, and what it has done. */
  async function startWorker(shared: string) {
    const child = spawn(process.execPath, ['scripts/kenosis.mjs', 'worker', '--jobs', '1'], {
      env: { ...process.env, ...environment(shared) },
    });
    workers.push(child);
    const done: string[] = [];
    let said = '';
    child.stdout.on('data', (chunk: Buffer) =>
      done.push(...rowsOf(chunk.toString()).map(({ name }) => name)),
    );
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    await expect.poll(() => said, { timeout: 30_000 }).toContain('working for');
    return { done, kill: () => child.kill('SIGKILL') };
  }

  it('gives the same files byte for byte as without, although one of two is killed in the middle', async () => {
    const folder = await fresh();
    for (let k = 0; k < 6; k++)
      await asSharp(disc(300 + 20 * k, 60))
        .png()
        .toFile(path.join(folder, `kite-${k}.png`));
    // What cannot be read is refused by a worker as it is here, and leaves nothing in the queue.
    await writeFile(path.join(folder, 'broken.png'), 'no picture');
    const alone = await fresh();
    await kenosis('run', 'product-on-transparent', folder, '-o', alone);
    const shared = await fresh();
    const [first, second] = [await startWorker(shared), await startWorker(shared)];
    const out = await fresh();
    const run = spawn(
      process.execPath,
      ['scripts/kenosis.mjs', 'run', 'product-on-transparent', folder, '-o', out],
      {
        env: { ...process.env, ...environment(shared) },
      },
    );
    let stdout = '';
    run.stdout.on('data', (chunk: Buffer) => (stdout += chunk.toString()));
    const ended = new Promise<number | null>((resolve) => run.once('close', resolve));
    // Killed at work, so that the other one has to take over what it was doing.
    await expect.poll(() => first.done.length, { timeout: 60_000, interval: 5 }).toBeGreaterThan(0);
    first.kill();
    expect(await ended).toBe(1);
    expect(second.done.length).toBeGreaterThan(0);
    expect(rowsOf(stdout)).toHaveLength(7);
    expect(await hashes(out)).toEqual(await hashes(alone));
    // Nothing is left of it: neither jobs, nor pictures, nor results.
    expect((await redis.keys()).filter((key) => /:[0-9a-f]{40}/.test(key))).toEqual([]);
    const left = await readdir(shared, { recursive: true, withFileTypes: true });
    expect(left.filter((entry) => entry.isFile())).toEqual([]);
  }, 180_000);

  it('says so where the queue does not let us in, or half of it is named', async () => {
    const ask = async (env: Record<string, string>) =>
      new Promise<{ code: number | null; stderr: string }>((resolve) => {
        const child = spawn(process.execPath, ['scripts/kenosis.mjs', 'worker'], {
          env: { ...process.env, ...env },
        });
        let stderr = '';
        child.stderr.on('data', (chunk: Buffer) => (stderr += chunk.toString()));
        child.once('close', (code) => resolve({ code, stderr }));
      });
    const shared = await fresh();
    const wrong = await ask({ KENOSIS_QUEUE: redis.wrongUrl, KENOSIS_SHARED: shared });
    expect(wrong).toEqual({ code: 1, stderr: expect.stringContaining('does not let us in') as string });
    expect(wrong.stderr).not.toContain('wrong@');
    expect((await ask({ KENOSIS_QUEUE: redis.url })).stderr).toContain('KENOSIS_SHARED');
    expect((await ask({ KENOSIS_QUEUE: 'http://here', KENOSIS_SHARED: shared })).stderr).toContain(
      'KENOSIS_QUEUE: expected an address',
    );
  });
});
