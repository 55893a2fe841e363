import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { seededRandom } from '../../src/core/numeric/random';
import { startServer, type TestServer } from '../../tests/browser/server';
import { asSharp } from '../../tests/make/files';
import { disc } from '../../tests/make/pictures';
import { startRedis } from '../../tests/make/redis';
import { filesBelow, request, send, upload } from './pieces-of-server';
import { Tally, type Limits, type PartReport } from './report';

/** Pictures of one run. */
const MANY = 8;

/** SIGKILL at random moments of runs: of the server, of the command line, and of workers. Every file is delivered exactly once. */
export async function attackRuns(limits: Limits): Promise<PartReport> {
  const tally = new Tally('runs');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const random = seededRandom(limits.seed);
  const begun = Date.now();
  const share = (part: number): Limits => ({
    ...limits,
    most: Math.ceil(limits.most / 3),
    until: begun + ((limits.until - begun) * part) / 3,
  });
  try {
    const pictures = path.join(root, 'pictures');
    await mkdir(pictures);
    for (let k = 0; k < MANY; k++)
      await asSharp(disc(260 + 30 * k, 70 + 4 * k))
        .png()
        .toFile(path.join(pictures, `kite-${k}.png`));
    const reference = await hashesOf(await delivered(root, pictures));
    tally.expect(reference.size === MANY, `the reference has ${reference.size} files`);
    await killServer(root, pictures, reference, random, share(1), tally);
    await killCommandLine(root, pictures, reference, random, share(2), tally);
    await killWorkers(root, pictures, reference, random, share(3), tally);
  } finally {
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** SHA-256 of the delivered files in a folder, by their names. */
async function hashesOf(folder: string): Promise<Map<string, string>> {
  const hashes = new Map<string, string>();
  for (const name of await readdir(folder))
    if (!name.startsWith('.')) hashes.set(name, sha256(await readFile(path.join(folder, name))));
  return hashes;
}

function kenosis(args: readonly string[], env: Record<string, string> = {}): ChildProcess {
  return spawn(process.execPath, ['scripts/kenosis.mjs', ...args], {
    env: { ...process.env, ...env },
    stdio: 'ignore',
  });
}

const endOf = (child: ChildProcess) =>
  new Promise<number | null>((resolve) => child.once('close', (code) => resolve(code)));

async function delivered(root: string, pictures: string): Promise<string> {
  const out = await mkdtemp(path.join(root, 'out-'));
  await endOf(kenosis(['run', 'product-on-transparent', pictures, '-o', out]));
  return out;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function killServer(
  root: string,
  pictures: string,
  reference: ReadonlyMap<string, string>,
  random: () => number,
  limits: Limits,
  tally: Tally,
): Promise<void> {
  const folder = path.join(root, 'data');
  let server = await startServer(folder);
  const ids: string[] = [];
  for (const name of await readdir(pictures)) {
    const { body } = await upload(server, name, await readFile(path.join(pictures, name)));
    ids.push(body.piece!.id);
  }
  try {
    let kills = 0;
    for (let n = 1; kills < limits.most && Date.now() < limits.until; n++) {
      const { body } = await send<{ run: { id: number } }>(server, 'POST', '/api/runs', {
        routine: 'product-on-transparent',
        pieces: ids,
      });
      const id = body.run!.id;
      for (let state = 'running'; state === 'running';) {
        await pause(random() * 1500);
        if (kills < limits.most && Date.now() < limits.until) {
          await server.kill();
          kills++;
          tally.count('kills of the server');
          server = await startServer(folder);
        }
        state =
          (await request<{ run: { state: string } }>(server, `/api/runs/${id}`)).body.run?.state ?? 'running';
      }
      await auditServer(server, folder, id, reference, `run ${n}, seed ${limits.seed}`, tally);
    }
  } finally {
    await server.kill();
  }
}

async function auditServer(
  server: TestServer,
  folder: string,
  id: number,
  reference: ReadonlyMap<string, string>,
  told: string,
  tally: Tally,
): Promise<void> {
  const { body } = await request<{
    rows: { name: string; state: string; files: { name: string; sha256: string }[] }[];
  }>(server, `/api/runs/${id}/report?as=json`);
  const files = body.rows!.flatMap((row) => row.files);
  tally.expect(
    body.rows!.every(({ state }) => state === 'delivered'),
    `${told}: not all is delivered`,
  );
  tally.expect(files.length === reference.size, `${told}: ${files.length} files`);
  for (const file of files)
    tally.expect(reference.get(file.name) === file.sha256, `${told}: ${file.name} is another file`);
  const kept = await filesBelow(folder, 'deliveries');
  tally.expect(kept.length === reference.size, `${told}: ${kept.length} delivered files are kept`);
  for (const file of kept)
    tally.expect(
      sha256(await readFile(path.join(folder, 'deliveries', file.slice(0, 2), file))) === file,
      `${told}: ${file} is damaged`,
    );
  const pieces = await request<{ pieces: { name: string; deliveries: number }[] }>(server, '/api/pieces');
  for (const { name, deliveries } of pieces.body.pieces!)
    tally.expect(deliveries === id, `${told}: ${name} has ${deliveries} deliveries after ${id} runs`);
  tally.expect((await filesBelow(folder, 'incoming')).length === 0, `${told}: half files in incoming`);
}

/** Everything of the reference is in the folder, once, and nothing else. */
async function auditFolder(
  out: string,
  reference: ReadonlyMap<string, string>,
  told: string,
  tally: Tally,
): Promise<void> {
  const hashes = await hashesOf(out);
  tally.expect(
    JSON.stringify([...hashes].sort()) === JSON.stringify([...reference].sort()),
    `${told}: ${[...hashes.keys()].join(', ')}`,
  );
  const half = (await readdir(out)).filter((name) => name.endsWith('.part'));
  tally.expect(half.length === 0, `${told}: ${half.length} half files are left`);
}

async function killCommandLine(
  root: string,
  pictures: string,
  reference: ReadonlyMap<string, string>,
  random: () => number,
  limits: Limits,
  tally: Tally,
): Promise<void> {
  let kills = 0;
  for (let n = 1; kills < limits.most && Date.now() < limits.until; n++) {
    const out = await mkdtemp(path.join(root, 'out-'));
    for (let code: number | null = -1, tries = 0; code !== 0; tries++) {
      const resume = (await readdir(out)).includes('.kenosis-run.jsonl') ? ['--resume'] : [];
      const child = kenosis(['run', 'product-on-transparent', pictures, '-o', out, ...resume]);
      const ended = endOf(child);
      if (kills < limits.most && Date.now() < limits.until) {
        await Promise.race([ended, pause(700 + random() * 2600)]);
        if (child.exitCode === null) {
          child.kill('SIGKILL');
          kills++;
          tally.count('kills of the command line');
        }
      }
      code = await ended;
      // A kill before it began leaves nothing to resume.
      if (tries > 60) return tally.wrong(`run ${n} of the command line does not end (${code})`);
    }
    await auditFolder(out, reference, `run ${n} of the command line, seed ${limits.seed}`, tally);
  }
}

async function killWorkers(
  root: string,
  pictures: string,
  reference: ReadonlyMap<string, string>,
  random: () => number,
  limits: Limits,
  tally: Tally,
): Promise<void> {
  const redis = await startRedis();
  const shared = await mkdtemp(path.join(root, 'shared-'));
  const env = { KENOSIS_QUEUE: redis.url, KENOSIS_SHARED: shared };
  const startWorker = () => kenosis(['worker', '--jobs', '1'], env);
  let workers = [startWorker(), startWorker()];
  try {
    let kills = 0;
    for (let n = 1; kills < limits.most && Date.now() < limits.until; n++) {
      const out = await mkdtemp(path.join(root, 'out-'));
      const run = kenosis(['run', 'product-on-transparent', pictures, '-o', out], env);
      const ended = endOf(run);
      while (run.exitCode === null && kills < limits.most && Date.now() < limits.until) {
        await Promise.race([ended, pause(1500 + random() * 3500)]);
        if (run.exitCode !== null) break;
        const [victim, ...others] = workers;
        victim!.kill('SIGKILL');
        kills++;
        tally.count('kills of a worker');
        workers = [...others, startWorker()];
      }
      const code = await ended;
      tally.expect(code === 0, `run ${n} with workers ended with ${code}`);
      await auditFolder(out, reference, `run ${n} with workers, seed ${limits.seed}`, tally);
      const left = (await readdir(shared, { recursive: true, withFileTypes: true })).filter((entry) =>
        entry.isFile(),
      );
      tally.expect(left.length === 0, `run ${n} with workers left ${left.length} files in the shared folder`);
    }
  } finally {
    for (const worker of workers) worker.kill('SIGKILL');
    await redis.close();
  }
}
