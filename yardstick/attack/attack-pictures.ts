import { spawn } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { ask, startServer, type TestServer } from '../../tests/browser/server';
import { bytesOf, damagedCases, type DamagedCase } from './damage';
import { filesBelow, piecesOn, request, send, upload, type PieceAnswer } from './pieces-of-server';
import { basePictures, type BasePicture } from './pictures';
import { Tally, type Limits, type PartReport } from './report';
import { secondOpinion, type SecondOpinion } from './second-decoder';

/** Nothing may take longer than this. */
export const LONGEST_MS = 10_000;

/** Files that travel at once; every so many go through the command line, and the Shelf is cleared, as well. */
const AT_ONCE = 4;
const COMMAND_LINE = 50;
const CLEARED = 400;

interface Scene {
  readonly server: TestServer;
  readonly folder: string;
  readonly bases: readonly BasePicture[];
  readonly tally: Tally;
}

/** Damaged pictures of every readable format, through the real routes and the command line. */
export async function attackPictures(limits: Limits): Promise<PartReport> {
  const tally = new Tally('damaged pictures');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const folder = path.join(root, 'data');
  const server = await startServer(folder);
  const scene: Scene = { server, folder, bases: await basePictures(limits.seed), tally };
  try {
    await tryWhole(scene);
    const cases = damagedCases(scene.bases.length, limits.most, limits.seed);
    let slowest = 0;
    for (let from = 0; from < cases.length && Date.now() < limits.until; from += AT_ONCE) {
      const batch = cases.slice(from, from + AT_ONCE);
      const times = await Promise.all(batch.map((one, k) => tryCase(scene, one, from + k, limits.seed)));
      slowest = Math.max(slowest, ...times);
      if (from % COMMAND_LINE < AT_ONCE) await tryCommandLine(scene, batch[0]!, root, from);
      if (from % CLEARED < AT_ONCE) await clearShelf(server);
    }
    tally.figure(`slowest answer ${Math.round(slowest)} ms`);
    const [left, kept, listed] = [
      await filesBelow(folder, 'incoming'),
      await filesBelow(folder, 'originals'),
      await piecesOn(server),
    ];
    tally.expect(left.length === 0, `${left.length} files left in incoming`);
    tally.expect(kept.length === listed.length, `${kept.length} originals for ${listed.length} pieces`);
  } finally {
    await server.kill();
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

/** Whole pictures come in without a note and look the same to both decoders: or nothing below would mean anything. */
async function tryWhole({ server, bases, tally }: Scene): Promise<void> {
  for (const { name, bytes } of bases) {
    const { status, body } = await upload(server, name, bytes);
    tally.expect(
      status === 201 && body.piece !== undefined && remarksOn(body.piece).length === 0,
      `whole ${name}: ${status} ${body.message ?? ''}`,
    );
    const second = secondOpinion(bytes);
    tally.expect(second !== 'damaged', `whole ${name}: the second decoder calls it damaged`);
    if (body.piece && second && second !== 'damaged' && name !== 'profile.png')
      await compare(tally, server, body.piece, second, `whole ${name}`);
  }
}

/** What was remarked on a picture beside what is true of whole ones. */
function remarksOn({ notes }: PieceAnswer): readonly string[] {
  return notes.filter((note) => !/^(Already transparent|Its colors were converted)/.test(note));
}

async function tryCase(scene: Scene, one: DamagedCase, number: number, seed: number): Promise<number> {
  const { server, bases, tally } = scene;
  const base = bases[one.base]!;
  const bytes = bytesOf(one, bases);
  const told = `seed ${seed}, case ${number}: ${base.name} ${JSON.stringify(one.damages)}`;
  const { status, body, ms } = await upload(server, base.name, bytes);
  tally.count('tried');
  tally.expect(ms < LONGEST_MS, `${told}: took ${Math.round(ms)} ms`);
  if (status === 200 || status === 201) {
    await judgeAccepted(scene, body.piece!, bytes, told);
    return ms;
  }
  tally.count('refused');
  const isSaid = status === 400 || status === 413;
  tally.expect(
    isSaid && (body.message?.includes(base.name) ?? false),
    `${told}: ${status} ${body.message ?? ''}`,
  );
  if (body.wayOut === 'accept-damaged' && number % 5 === 0) {
    const taken = await upload(server, base.name, bytes, '&damaged=accept');
    tally.count('taken as far as it could be read');
    tally.expect(
      taken.status === 201 && (taken.body.piece?.notes.length ?? 0) > 0,
      `${told}: accept answered ${taken.status} ${taken.body.message ?? ''}`,
    );
  }
  return ms;
}

async function judgeAccepted(
  { server, tally }: Scene,
  piece: PieceAnswer,
  bytes: Buffer,
  told: string,
): Promise<void> {
  if (remarksOn(piece).length > 0) return tally.count('accepted with a note');
  tally.count('accepted');
  const second = secondOpinion(bytes);
  if (second === null) return tally.count('unknown to the second decoder');
  if (second === 'damaged')
    return tally.wrong(`${told}: accepted without a note, the second decoder calls it damaged`);
  // A profile converts colors, which the second decoders do not.
  if (!bytes.includes('ICC') && !bytes.includes('iCCP')) await compare(tally, server, piece, second, told);
}

async function compare(
  tally: Tally,
  server: TestServer,
  piece: PieceAnswer,
  second: SecondOpinion,
  told: string,
): Promise<void> {
  const response = await ask(server, `/api/pieces/${piece.id}/master`);
  const master = new Uint8Array(await response.arrayBuffer());
  const pixels = second.width * second.height;
  tally.count('compared');
  if (master.length !== pixels * 4) return tally.wrong(`${told}: the second decoder sees another size`);
  const colors = second.channels < 3 ? 1 : 3;
  let off = 0;
  for (let i = 0; i < pixels; i++)
    for (let c = 0; c < 3; c++)
      off += Math.abs(master[i * 4 + c]! - second.data[i * second.channels + (colors === 1 ? 0 : c)]!);
  const mean = off / (pixels * 3);
  if (mean <= second.close) return;
  // Of a damaged file two decoders may make two pictures, and neither is wrong; of a whole one they may not.
  if (told.startsWith('whole')) tally.wrong(`${told}: differs by ${mean.toFixed(2)} from the second decoder`);
  else tally.count('read otherwise by the second decoder');
}

export async function clearShelf(server: TestServer): Promise<void> {
  const ids = (await piecesOn(server)).map(({ id }) => id);
  if (ids.length === 0) return;
  await send(server, 'PUT', '/api/trash', { ids, trashed: true });
  await request(server, '/api/trash', { method: 'DELETE' });
}

async function tryCommandLine(
  { bases, tally }: Scene,
  one: DamagedCase,
  root: string,
  number: number,
): Promise<void> {
  const file = path.join(root, `case-${bases[one.base]!.name}`);
  await writeFile(file, bytesOf(one, bases));
  const begun = Date.now();
  const code = await new Promise<number | null>((resolve) => {
    const child = spawn(process.execPath, ['scripts/kenosis.mjs', 'check', file], { stdio: 'ignore' });
    const timer = setTimeout(() => child.kill('SIGKILL'), LONGEST_MS + 5000);
    child.on('exit', (ended) => {
      clearTimeout(timer);
      resolve(ended);
    });
  });
  tally.count('on the command line');
  const took = Date.now() - begun;
  tally.expect(
    [0, 1, 3].includes(code ?? -1) && took < LONGEST_MS,
    `case ${number}: check ended with ${code} after ${took} ms`,
  );
  await rm(file, { force: true });
}
