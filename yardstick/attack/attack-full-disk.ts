import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, rm, statfs, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { promisify } from 'node:util';
import { untouchedCut } from '../../src/core/cut/parse';
import { isOutOfSpace } from '../../src/core/errors';
import { deliverPiece } from '../../src/server/deliver-piece';
import { openHouse } from '../../src/server/house';
import { importPiece } from '../../src/server/import-piece';
import { thumbnailOf } from '../../src/server/thumbnail';
import { asSharp } from '../../tests/make/files';
import { blotches, disc } from '../../tests/make/pictures';
import { ask, startServer, type TestServer } from '../../tests/browser/server';
import { filesBelow, piecesOn, request, send, upload } from './pieces-of-server';
import { LONGEST_MS } from './attack-pictures';
import { Tally, type Limits, type PartReport } from './report';

const run = promisify(execFile);
const SIZE = '40m';

/** A disk that is full at every write: a small one of memory where that may be mounted, else a store that says so. */
export async function attackFullDisk(limits: Limits): Promise<PartReport> {
  const tally = new Tally('full disk');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const disk = path.join(root, 'disk');
  await mkdir(disk);
  const mounted = await run('mount', ['-t', 'tmpfs', '-o', `size=${SIZE}`, 'tmpfs', disk]).then(
    () => true,
    () => false,
  );
  try {
    if (mounted) await onSmallDisk(disk, tally, limits);
    else await onStoreThatIsFull(disk, tally);
    tally.figure(
      mounted
        ? `on a disk of ${SIZE}`
        : 'with a store that reports a full disk (no disk may be mounted here)',
    );
  } finally {
    if (mounted) await run('umount', [disk]);
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

async function onSmallDisk(disk: string, tally: Tally, limits: Limits): Promise<void> {
  const folder = path.join(disk, 'data');
  const filling = path.join(disk, 'filling');
  const [small, other] = await Promise.all([8, 12].map((r) => asSharp(disc(60, r)).png().toBuffer()));
  let server = await startServer(folder);
  try {
    const { id, revision } = (await upload(server, 'here.png', small!)).body.piece!;
    for (let round = 0; round < Math.max(1, limits.most) && Date.now() < limits.until; round++) {
      await fill(disk, filling);
      const before = await request(server, `/api/pieces/${id}`);
      await everyWriteAnswers507(server, { id, revision }, other!, tally, round);
      const after = await request(server, `/api/pieces/${id}`);
      tally.expect(
        JSON.stringify(before.body) === JSON.stringify(after.body),
        `round ${round}: the piece changed`,
      );
      tally.expect(
        (await filesBelow(folder, 'incoming')).length === 0,
        `round ${round}: half files in incoming`,
      );
      await server.kill();
      const refused = await startServer(folder).then(
        (started) => started.kill().then(() => 'it started'),
        (error: unknown) => (error as Error).message,
      );
      tally.expect(
        /disk.*is full.*Nothing was changed/s.test(refused),
        `round ${round}: at a start: ${refused}`,
      );
      await rm(filling, { force: true });
      server = await startServer(folder);
      const renamed = await send(server, 'PATCH', `/api/pieces/${id}`, { name: `round ${round}.png` });
      tally.expect(
        renamed.status === 200,
        `round ${round}: after freeing, renaming answers ${renamed.status}`,
      );
      const kept = Buffer.from(await (await ask(server, `/api/pieces/${id}/original`)).arrayBuffer());
      tally.expect(kept.equals(small!), `round ${round}: the original changed`);
      tally.expect((await piecesOn(server)).length === 1, `round ${round}: there are more pieces than one`);
    }
  } finally {
    await server.kill();
  }
}

/** Fills what is left of a disk to the last block. */
async function fill(disk: string, filling: string): Promise<void> {
  const { bavail, bsize } = await statfs(disk);
  await writeFile(filling, Buffer.alloc(Number(bavail) * bsize)).catch(() => undefined);
  for (let tries = 0; (await statfs(disk)).bavail > 0 && tries < 20; tries++)
    await writeFile(`${filling}`, Buffer.alloc(bsize), { flag: 'a' }).catch(() => undefined);
}

async function everyWriteAnswers507(
  server: TestServer,
  { id, revision }: { readonly id: string; readonly revision: number },
  bytes: Buffer,
  tally: Tally,
  round: number,
): Promise<void> {
  const cut = untouchedCut();
  const large = await asSharp(blotches(900, 700, 5))
    .png()
    .toBuffer();
  const writes: [name: string, () => Promise<{ status: number; body: { message?: string }; ms: number }>][] =
    [
      ['import', () => upload(server, 'other.png', bytes)],
      ['a large import', () => upload(server, 'large.png', large)],
      [
        'save',
        () => send(server, 'POST', `/api/pieces/${id}/revisions`, { after: revision, label: 'x', cut }),
      ],
      [
        'deliver',
        () => send(server, 'POST', `/api/pieces/${id}/deliveries`, { revision, shownSha256: null }),
      ],
      ['rename', () => send(server, 'PATCH', `/api/pieces/${id}`, { name: 'other.png' })],
      ['backing', () => send(server, 'PATCH', `/api/pieces/${id}`, { backing: '#ff00ff' })],
      ['findings', () => send(server, 'PUT', `/api/pieces/${id}/findings`, { revision: 0, counts: {} })],
      ['thumbnail', () => request(server, `/api/pieces/${id}/thumbnail?revision=0`)],
      ['trash', () => send(server, 'PUT', '/api/trash', { ids: [id], trashed: true })],
      [
        'scan',
        () =>
          send(server, 'POST', '/api/scanner', {
            sheet: 'signature',
            mode: 'gray',
            dpi: 150,
            lid: 'closed',
            format: 'png',
          }),
      ],
    ];
  for (const [name, write] of writes) {
    const { status, body, ms } = await write();
    tally.count('writes tried');
    // A thumbnail that was made before the disk was full, and a small write that found a last corner, are no failures.
    const made = status === 200 && (name === 'thumbnail' || round > 0);
    tally.expect(status === 507 || made, `round ${round}: ${name} answers ${status} ${body.message ?? ''}`);
    // Nothing hangs; how fast it is depends on the machine and is not asked here.
    tally.expect(ms < LONGEST_MS, `round ${round}: ${name} took ${Math.round(ms)} ms`);
  }
}

async function onStoreThatIsFull(folder: string, tally: Tally): Promise<void> {
  const house = await openHouse(folder);
  const stream = (bytes: Buffer) => Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;
  try {
    const bytes = await asSharp(disc(60, 8)).png().toBuffer();
    const { piece } = await importPiece(house, 'here.png', stream(bytes));
    const full = () => Promise.reject(Object.assign(new Error('ENOSPC'), { code: 'ENOSPC' }));
    const filled = { ...house, files: { ...house.files, keep: full } };
    const other = await asSharp(disc(60, 12)).png().toBuffer();
    for (const [name, work] of [
      ['import', () => importPiece(filled, 'other.png', stream(other))],
      ['deliver', () => deliverPiece(filled, piece.id, { revision: 0, shownSha256: null })],
      ['thumbnail', () => thumbnailOf(filled, piece.id, 0)],
    ] as const) {
      const error = await work().then(
        () => null,
        (cause: unknown) => cause,
      );
      tally.count('writes tried');
      tally.expect(isOutOfSpace(error), `${name}: ${String(error)}`);
      tally.expect((await filesBelow(folder, 'incoming')).length === 0, `${name}: half files in incoming`);
    }
  } finally {
    await house.close();
  }
}
