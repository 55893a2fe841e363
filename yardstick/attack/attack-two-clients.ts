import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { untouchedCut } from '../../src/core/cut/parse';
import { asSharp } from '../../tests/make/files';
import { disc } from '../../tests/make/pictures';
import { ask, startServer, type TestServer } from '../../tests/browser/server';
import { filesBelow, piecesOn, request, send, upload } from './pieces-of-server';
import { Tally, type Limits, type PartReport } from './report';
import { AS_NAMED } from '../../src/core/stages/deliver/settings';

/** Two clients on one piece: saving, stepping back, throwing away, bringing in and delivering at once. */
export async function attackTwoClients(limits: Limits): Promise<PartReport> {
  const tally = new Tally('two clients');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const folder = path.join(root, 'data');
  const server = await startServer(folder);
  try {
    const bytes = await asSharp(disc(60, 12)).png().toBuffer();
    for (let round = 0; round < limits.most && Date.now() < limits.until; round++) {
      const { body } = await upload(server, 'one.png', bytes);
      const { id, revision } = body.piece!;
      await bothSave(server, id, revision, tally, round);
      await bothStep(server, id, tally, round);
      await deliverWhileThrownAway(server, folder, id, tally, round);
      await uploadWhileDeleted(server, id, bytes, tally, round);
      tally.count('rounds');
    }
    tally.expect(
      (await filesBelow(folder, 'originals')).length === (await piecesOn(server)).length,
      'originals and pieces differ in number',
    );
    tally.expect((await filesBelow(folder, 'incoming')).length === 0, 'half files in incoming');
  } finally {
    await server.kill();
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

/** Of two saves behind the same revision one is taken, and the other is told so. */
async function bothSave(
  server: TestServer,
  id: string,
  after: number,
  tally: Tally,
  round: number,
): Promise<void> {
  const save = (who: string) =>
    send<{ revision: number }>(server, 'POST', `/api/pieces/${id}/revisions`, {
      after,
      label: who,
      cut: { ...untouchedCut(), deliver: { ...AS_NAMED, fileName: `${who}.png` } },
    });
  const [one, other] = await Promise.all([save('one'), save('other')]);
  const statuses = [one.status, other.status].sort();
  tally.expect(statuses.join() === '201,409', `round ${round}: two saves answer ${statuses.join(' and ')}`);
  const winner = one.status === 201 ? 'one' : 'other';
  const { body } = await request<{ state: { undo: string } }>(server, `/api/pieces/${id}`);
  tally.expect(
    body.state?.undo === winner,
    `round ${round}: "${body.state?.undo}" is in force, "${winner}" was acknowledged`,
  );
}

async function bothStep(server: TestServer, id: string, tally: Tally, round: number): Promise<void> {
  const step = (move: string) => send(server, 'POST', `/api/pieces/${id}/position`, { move });
  const answers = await Promise.all(['undo', 'redo', 'undo', 'undo', 'redo'].map(step));
  tally.expect(
    answers.every(({ status }) => status === 200 || status === 409),
    `round ${round}: steps answer ${answers.map(({ status }) => status).join()}`,
  );
  const { status } = await request(server, `/api/pieces/${id}`);
  tally.expect(status === 200, `round ${round}: the piece answers ${status} after the steps`);
}

async function deliverWhileThrownAway(
  server: TestServer,
  folder: string,
  id: string,
  tally: Tally,
  round: number,
): Promise<void> {
  const deliver = send<{ delivery: { id: number } }>(server, 'POST', `/api/pieces/${id}/deliveries`, {
    revision: 0,
    shownSha256: null,
  });
  await new Promise((resolve) => setTimeout(resolve, (round * 13) % 60));
  await send(server, 'PUT', '/api/trash', { ids: [id], trashed: true });
  await request(server, '/api/trash', { method: 'DELETE' });
  const { status, body } = await deliver;
  tally.expect(
    [201, 404, 409].includes(status),
    `round ${round}: delivering a deleted piece answers ${status} ${body.message}`,
  );
  tally.expect(
    (await filesBelow(folder, 'deliveries')).length === 0,
    `round ${round}: a delivery of no piece is kept`,
  );
}

/** What is answered for bytes that come in while their piece is deleted is true. */
async function uploadWhileDeleted(
  server: TestServer,
  id: string,
  bytes: Buffer,
  tally: Tally,
  round: number,
): Promise<void> {
  await upload(server, 'one.png', bytes);
  await send(server, 'PUT', '/api/trash', { ids: [id], trashed: true });
  const [{ status, body }] = await Promise.all([
    upload(server, 'again.png', bytes),
    request(server, '/api/trash', { method: 'DELETE' }),
  ]);
  const there = await ask(server, `/api/pieces/${id}/original`);
  const kept = Buffer.from(await there.arrayBuffer());
  tally.expect(
    status < 300 && there.status === 200 && kept.equals(bytes),
    `round ${round}: upload answered ${status} known ${body.known}, the original answers ${there.status}`,
  );
}
