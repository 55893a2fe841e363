import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { ask, startServer, type TestServer } from '../../tests/browser/server';
import { clearShelf, LONGEST_MS } from './attack-pictures';
import { bytesOf, damagedCases } from './damage';
import { filesBelow, piecesOn, upload } from './pieces-of-server';
import { otherPictures, type BasePicture } from './pictures';
import { Tally, type Limits, type PartReport } from './report';

/** Files that travel at once, and how often the Shelf is cleared. */
const AT_ONCE = 4;
const CLEARED = 200;

/** Damaged files of the formats that have readers of their own, through the real intake: all pages of what asks to be chosen. */
export async function attackFormats(limits: Limits): Promise<PartReport> {
  const tally = new Tally('damaged files of other formats');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const folder = path.join(root, 'data');
  const server = await startServer(folder);
  const bases = await otherPictures();
  try {
    for (const base of bases) {
      const status = await bring(server, base, base.bytes);
      tally.expect(status.taken, `whole ${base.name}: ${status.told}`);
    }
    const cases = damagedCases(bases.length, limits.most, limits.seed + 1);
    const slowest = new Map<string, number>();
    for (let from = 0; from < cases.length && Date.now() < limits.until; from += AT_ONCE) {
      const batch = cases.slice(from, from + AT_ONCE);
      await Promise.all(
        batch.map(async (one, k) => {
          const base = bases[one.base]!;
          const { taken, told, ms } = await bring(server, base, bytesOf(one, bases));
          const what = `seed ${limits.seed}, case ${from + k}: ${base.name} ${JSON.stringify(one.damages)}: ${told}`;
          tally.count('tried');
          tally.count(`${base.format} ${taken ? 'taken' : 'refused'}`);
          slowest.set(base.format, Math.max(slowest.get(base.format) ?? 0, ms));
          tally.expect(ms < LONGEST_MS, `${what} took ${Math.round(ms)} ms`);
          tally.expect(taken || /^(400|413) /.test(told), what);
        }),
      );
      if (from % CLEARED < AT_ONCE) await clearShelf(server);
    }
    for (const [format, ms] of slowest) tally.figure(`slowest ${format} ${Math.round(ms)} ms`);
    tally.expect((await ask(server, '/api/health')).status === 200, 'the server does not answer any more');
    const left = await filesBelow(folder, 'incoming');
    tally.expect(left.length === 0, `${left.length} files left in incoming`);
    const kept = await filesBelow(folder, 'originals');
    const named = new Set((await piecesOn(server)).map(({ sha256 }) => sha256));
    tally.expect(kept.length === named.size, `${kept.length} originals for ${named.size} that are named`);
  } finally {
    await server.kill();
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

interface Brought {
  readonly taken: boolean;
  readonly told: string;
  readonly ms: number;
}

/** Brings a file in; where something has to be chosen, its first two pages, small. */
async function bring(server: TestServer, { name }: BasePicture, bytes: Buffer): Promise<Brought> {
  const first = await upload(server, name, bytes);
  const { choice } = first.body as { choice?: { pages: number; drawn: object | null } };
  if (!choice)
    return {
      taken: first.body.piece !== undefined,
      told: `${first.status} ${first.body.message ?? ''}`,
      ms: first.ms,
    };
  const pages = choice.pages > 1 ? '1,2' : '1';
  const next = await upload(server, name, bytes, `&pages=${pages}${choice.drawn ? '&width=64' : ''}`);
  const ms = Math.max(first.ms, next.ms);
  return { taken: next.body.piece !== undefined, told: `${next.status} ${next.body.message ?? ''}`, ms };
}
