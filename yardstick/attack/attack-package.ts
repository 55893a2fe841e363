import { execFile, spawn } from 'node:child_process';
import { copyFile, mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { Tally, type Limits, type PartReport } from './report';

const run = promisify(execFile);

/**
 * Packs the program, and opens it by `npx` in an empty folder with an empty home, as somebody does who was given the tarball: the
 * house answers with its demo, and the command line cuts a picture. Takes some minutes: packages are installed anew.
 */
export async function attackPackage({ seed }: Limits): Promise<PartReport> {
  const tally = new Tally('package');
  tally.figure(`the same whatever the seed is (${seed})`);
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-package-'));
  try {
    await run(process.execPath, ['scripts/pack.mjs'], { maxBuffer: 1e8 });
    const { name, version } = JSON.parse(await readFile('package.json', 'utf8')) as {
      name: string;
      version: string;
    };
    const tarball = `${name}-${version}.tgz`;
    const [home, cwd] = [path.join(folder, 'home'), path.join(folder, 'work')];
    await mkdir(home);
    await mkdir(cwd);
    await copyFile(tarball, path.join(cwd, tarball));
    await copyFile('demo/pictures/ostrel-badge.png', path.join(cwd, 'badge.png'));
    // Where compiling takes headers that lie on this machine.
    const { stdout } = await run('npm', ['config', 'get', 'nodedir']).catch(() => ({ stdout: '' }));
    if (stdout.trim().startsWith('/'))
      await writeFile(path.join(home, '.npmrc'), `nodedir=${stdout.trim()}\n`);
    const port = await freePort();
    const env = { ...process.env, HOME: home, PORT: String(port), KENOSIS_DATA: path.join(cwd, 'data') };
    const begun = Date.now();
    const house = spawn('npx', ['--yes', `./${tarball}`, 'demo'], {
      cwd,
      env,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    house.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
    house.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    const ended = new Promise<void>((resolve) => house.once('close', () => resolve()));
    while (!said.includes('Kenosis runs at') && house.exitCode === null)
      await new Promise((resolve) => setTimeout(resolve, 200));
    tally.figure(`from the tarball to an open house: ${Math.round((Date.now() - begun) / 1000)} s`);
    tally.expect(said.includes('Kenosis runs at'), `the house did not open: ${said.slice(-2000)}`);
    const pieces = await fetch(`http://127.0.0.1:${port}/api/pieces`).then((answer) => answer.text(), String);
    tally.expect(pieces.includes('ostrel-kite.jpg'), `the demo is not on its Shelf: ${pieces.slice(0, 200)}`);
    const shelf = await fetch(`http://127.0.0.1:${port}/`).then(({ status }) => status, String);
    tally.expect(shelf === 200, `the Shelf answers ${shelf}`);
    house.kill('SIGTERM');
    await ended;
    const cut = await run('npx', ['--yes', `./${tarball}`, 'cut', 'badge.png', '-o', 'cutout.png'], {
      cwd,
      env,
    });
    tally.expect(cut.stderr.includes('failed') === false, cut.stderr);
    const bytes = await readFile(path.join(cwd, 'cutout.png')).catch(() => Buffer.alloc(0));
    tally.expect(bytes.toString('latin1', 1, 4) === 'PNG', 'the command line of the package wrote no PNG');
  } catch (error) {
    tally.wrong(`${(error as Error).message}`);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  return tally.report();
}

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}
