import { createHash } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { untouchedCut } from '../../src/core/cut/parse';
import { seededRandom } from '../../src/core/numeric/random';
import { rowsOf, withConnection } from '../../src/storage/database-file';
import { asSharp } from '../../tests/make/files';
import { blotches } from '../../tests/make/pictures';
import { ask, startServer, type TestServer } from '../../tests/browser/server';
import { filesBelow, piecesOn, request, send, upload, type PieceAnswer } from './pieces-of-server';
import { Tally, type Limits, type PartReport } from './report';
import { AS_NAMED } from '../../src/core/stages/deliver/settings';

/** A restart may take no longer than this, with PIECES pieces on the Shelf. */
const RESTART_MS = 6000;
const RESTART_TIMES = 8;

/** What was acknowledged of one piece. */
interface Ledger {
  readonly sha256: string;
  /** The highest revision that was acknowledged, and its label. */
  revision: number;
  label: string | null;
  /** The numbers of deliveries that were acknowledged. */
  readonly deliveries: Map<number, number>;
  /** Asked to be deleted for good: it may be there or not. */
  doomed: boolean;
}

/** SIGKILL at random moments of every kind of work, with a ledger of what was acknowledged. */
export async function attackKills(limits: Limits, pieces = 0): Promise<PartReport> {
  const tally = new Tally('kills');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const folder = path.join(root, 'data');
  const random = seededRandom(limits.seed);
  const ledger = new Map<string, Ledger>();
  let slowest = 0;
  const first = Date.now();
  let server = await startServer(folder);
  // A machine that starts slowly starts again slowly.
  const longest = Math.max(RESTART_MS, RESTART_TIMES * (Date.now() - first));
  try {
    // One piece that always stays: while there is none, nothing is set aside, by design.
    for (let n = 0; n <= pieces; n++) await bring(server, ledger, 100_000 + n, tally);
    for (let round = 0; round < limits.most && Date.now() < limits.until; round++) {
      const work = Array.from({ length: 3 }, (_, k) =>
        doSomething(server, ledger, random, round * 3 + k, tally),
      );
      await new Promise((resolve) =>
        setTimeout(resolve, Math.floor(random() * (round % 7 === 0 ? 1200 : 250))),
      );
      await server.kill();
      await Promise.all(work);
      tally.count('kills');
      const begun = Date.now();
      if (round % 9 === 4) await killWhileStarting(folder, random);
      server = await startServer(folder);
      slowest = Math.max(slowest, Date.now() - begun);
      await audit(server, folder, ledger, tally, `seed ${limits.seed}, round ${round}`);
    }
    tally.expect(slowest < longest, `a restart took ${slowest} ms, and at most ${longest} were expected`);
    tally.figure(`slowest restart ${slowest} ms, ${ledger.size} pieces in the ledger`);
  } finally {
    await server.kill();
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

async function killWhileStarting(folder: string, random: () => number): Promise<void> {
  const abort = new AbortController();
  setTimeout(() => abort.abort(), 200 + random() * 1200);
  await startServer(folder, { signal: abort.signal }).then(
    (server) => server.kill(),
    () => undefined,
  );
}

async function bring(
  server: TestServer,
  ledger: Map<string, Ledger>,
  number: number,
  tally: Tally,
): Promise<void> {
  const bytes = await asSharp(blotches(60 + (number % 40), 50, number))
    .png()
    .toBuffer();
  const { status, body } = await upload(server, `piece-${number}.png`, bytes);
  if (status !== 201 || !body.piece) return;
  tally.count('imports acknowledged');
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  ledger.set(body.piece.id, {
    sha256,
    revision: body.piece.revision,
    label: null,
    deliveries: new Map(),
    doomed: false,
  });
}

async function doSomething(
  server: TestServer,
  ledger: Map<string, Ledger>,
  random: () => number,
  number: number,
  tally: Tally,
): Promise<void> {
  const ids = [...ledger].filter(([, { doomed }]) => !doomed).map(([id]) => id);
  const id = ids[Math.floor(random() * ids.length)];
  const kind = Math.floor(random() * 6);
  const [lasting] = ledger.keys();
  if (!id || kind < 2 || (kind === 5 && id === lasting)) return bring(server, ledger, number, tally);
  const entry = ledger.get(id)!;
  if (kind < 4) return save(server, id, entry, number, tally);
  if (kind === 4) return deliver(server, id, entry, tally);
  return throwAway(server, id, entry, random, tally);
}

async function save(
  server: TestServer,
  id: string,
  entry: Ledger,
  number: number,
  tally: Tally,
): Promise<void> {
  const cut = { ...untouchedCut(), deliver: { ...AS_NAMED, fileName: `n${number}.png` } };
  for (let k = 0; k < 4; k++) {
    const label = `save ${number}.${k}`;
    const { status, body } = await send<{ revision: number }>(server, 'POST', `/api/pieces/${id}/revisions`, {
      after: entry.revision,
      label,
      cut,
    });
    // An answer that was cut off in the middle acknowledges nothing.
    if (status !== 201 || body.revision === undefined) return;
    tally.count('saves acknowledged');
    Object.assign(entry, { revision: body.revision, label });
  }
}

async function deliver(server: TestServer, id: string, entry: Ledger, tally: Tally): Promise<void> {
  const { status, body } = await send<{ delivery: { id: number; bytes: number } }>(
    server,
    'POST',
    `/api/pieces/${id}/deliveries`,
    { revision: entry.revision, shownSha256: null },
  );
  if (status !== 201 || !body.delivery) return;
  tally.count('deliveries acknowledged');
  entry.deliveries.set(body.delivery.id, body.delivery.bytes);
}

async function throwAway(
  server: TestServer,
  id: string,
  entry: Ledger,
  random: () => number,
  tally: Tally,
): Promise<void> {
  const forGood = random() < 0.5;
  if (forGood) entry.doomed = true;
  await send(server, 'PUT', '/api/trash', { ids: [id], trashed: true });
  if (forGood) await request(server, '/api/trash', { method: 'DELETE' });
  else await send(server, 'PUT', '/api/trash', { ids: [id], trashed: false });
  tally.count('thrown away');
}

/** Everything that was acknowledged is there, nothing else is, and the database is whole. */
async function audit(
  server: TestServer,
  folder: string,
  ledger: Map<string, Ledger>,
  tally: Tally,
  told: string,
): Promise<void> {
  const ids = [...ledger].map(([id]) => id);
  await send(server, 'PUT', '/api/trash', { ids: ids.length > 0 ? ids : ['0'.repeat(16)], trashed: false });
  const listed = await piecesOn(server);
  const there = new Map(listed.map((piece) => [piece.id, piece]));
  for (const [id, entry] of ledger) {
    const piece = there.get(id);
    if (entry.doomed && !piece) {
      ledger.delete(id);
      continue;
    }
    if (!piece) {
      tally.wrong(`${told}: piece ${id} is lost`);
      ledger.delete(id);
      continue;
    }
    entry.doomed = false;
    await auditPiece(server, piece, entry, tally, told);
  }
  // An import whose answer was lost in the kill may be there; from now on it is known.
  for (const { id, sha256, revision } of listed)
    if (!ledger.has(id))
      ledger.set(id, { sha256, revision, label: null, deliveries: new Map(), doomed: false });
  const originals = await filesBelow(folder, 'originals');
  tally.expect(
    originals.length === listed.length,
    `${told}: ${originals.length} originals for ${listed.length} pieces`,
  );
  tally.expect((await filesBelow(folder, 'incoming')).length === 0, `${told}: half files in incoming`);
  const file = path.join(folder, 'kenosis.sqlite');
  const [check] = await withConnection(file, 'write', (connection) =>
    rowsOf<{ integrity_check: string }>(connection, 'PRAGMA integrity_check'),
  );
  tally.expect(check?.integrity_check === 'ok', `${told}: the database says ${check?.integrity_check}`);
}

async function auditPiece(
  server: TestServer,
  piece: PieceAnswer,
  entry: Ledger,
  tally: Tally,
  told: string,
): Promise<void> {
  tally.expect(
    piece.revision >= entry.revision,
    `${told}: ${piece.id} is at ${piece.revision}, ${entry.revision} was saved`,
  );
  const saved = piece.revision === entry.revision;
  if (saved && entry.label !== null) {
    const { body } = await request<{ state: { undo: string } }>(server, `/api/pieces/${piece.id}`);
    tally.expect(
      body.state?.undo === entry.label,
      `${told}: ${piece.id} has "${body.state?.undo}" for "${entry.label}"`,
    );
  }
  // A save whose answer was lost in the kill.
  if (!saved) Object.assign(entry, { revision: piece.revision, label: null });
  if (entry.deliveries.size === 0) return;
  const [[delivery, bytes]] = [...entry.deliveries].slice(-1) as [[number, number]];
  const response = await ask(server, `/api/deliveries/${delivery}`);
  const length = (await response.arrayBuffer()).byteLength;
  tally.expect(
    response.status === 200 && length === bytes,
    `${told}: delivery ${delivery} answers ${response.status}, ${length} bytes`,
  );
}
