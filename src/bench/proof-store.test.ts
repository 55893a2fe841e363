import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { newProof } from '../core/proof/first-proof';
import { MOST_GROUNDS, type Ground, type Placement, type Proof } from '../core/proof/settings';
import { createProofStore, type ProofStore } from './proof-store';
import type { KnownGroundFacts, OpenProofFacts, ProofPieceFacts } from './proofs-api';

const PIECE = '0123456789abcdef';

const placed = (more: Partial<Placement> = {}): Placement => ({
  id: 'p1',
  piece: PIECE,
  colorway: null,
  light: false,
  anchor: 'top-left',
  x: 10,
  y: 20,
  width: 40,
  angleDeg: 0,
  opacity: 100,
  blend: 'normal',
  ...more,
});

const ground = (id: string, ...all: Placement[]): Ground => ({
  id,
  source: { kind: 'shipped', which: 'card' },
  placed: all,
});

const FACTS: KnownGroundFacts = {
  name: 'Business card',
  unit: 'mm',
  width: 85,
  height: 55,
  line: null,
  pages: 1,
  number: 1,
  isSigned: false,
  isPage: true,
};

const MARK: ProofPieceFacts = { id: PIECE, name: 'mark.png', revision: 4, colorways: [] };

/** A server that keeps a proof as the real one does, and notes what it was asked. */
function server(first: Proof) {
  const steps: { label: string; proof: Proof }[] = [{ label: 'a new proof', proof: first }];
  let at = 0;
  let revision = MARK.revision;
  const asked: string[] = [];
  const state = () => ({
    id: 1,
    name: 'Proof',
    isTemplate: false,
    createdAt: '',
    changedAt: '',
    proof: steps[at]!.proof,
    step: at,
    undo: at > 0 ? steps[at]!.label : null,
    redo: steps[at + 1]?.label ?? null,
    seen: {},
  });
  const opened = (): OpenProofFacts => ({
    state: state(),
    grounds: Object.fromEntries(steps[at]!.proof.grounds.map(({ id }) => [id, FACTS])),
    pieces: { [PIECE]: { ...MARK, revision } },
    files: [],
  });
  const answer = (method: string, address: string, body: Record<string, unknown>): unknown => {
    if (address.endsWith('/steps')) {
      steps.splice(at + 1);
      steps.push(body as unknown as { label: string; proof: Proof });
      at++;
      return { state: state() };
    }
    if (address.endsWith('/position')) {
      at += body.to === 'undo' ? -1 : 1;
      return { state: state() };
    }
    if (address.endsWith('/seen')) return { seen: [] };
    if (address.endsWith('/files'))
      return {
        file: {
          id: 7,
          ground: body.ground,
          fileName: 'x.pdf',
          format: 'pdf',
          bytes: 1,
          width: 1,
          height: 1,
          findings: {},
          createdAt: '',
        },
      };
    if (address === '/api/grounds') return { facts: FACTS };
    return method === 'GET' ? opened() : { state: state() };
  };
  vi.stubGlobal('fetch', (address: string, init: RequestInit = {}) => {
    const method = init.method ?? 'GET';
    asked.push(`${method} ${address.split('?')[0]}`);
    if (address.includes('/placed?'))
      return Promise.resolve(new Response('png', { headers: { 'x-kenosis-size': '400x200' } }));
    const body = JSON.parse(typeof init.body === 'string' ? init.body : '{}') as Record<string, unknown>;
    return Promise.resolve(Response.json(answer(method, address, body)));
  });
  return { asked, opened, steps, changeCut: () => revision++ };
}

let store: ProofStore | null = null;
const start = (first: Proof) => {
  const house = server(first);
  store = createProofStore(house.opened());
  return { ...house, ...store };
};

beforeEach(() => {
  vi.stubGlobal('URL', { ...URL, createObjectURL: () => 'blob:1', revokeObjectURL: () => undefined });
});

afterEach(() => {
  store?.actions.close();
  vi.unstubAllGlobals();
});

describe('the proof store', () => {
  it('opens the one ground there is, with the piece on it held; several are a wall', () => {
    expect(start(newProof([ground('g1', placed())])).store.getState()).toMatchObject({
      opened: 'g1',
      held: 'p1',
    });
    expect(start(newProof([ground('g1'), ground('g2')])).store.getState()).toMatchObject({
      opened: null,
      held: null,
    });
  });

  it('shows what moves at once, and saves it as one step when it rests', async () => {
    const { store: own, actions, steps } = start(newProof([ground('g1', placed())]));
    actions.draftPlacement('g1', 'p1', { x: 11 });
    actions.draftPlacement('g1', 'p1', { x: 15 });
    expect(own.getState().proof.grounds[0]!.placed[0]!.x).toBe(15);
    expect(steps).toHaveLength(1);
    actions.changePlacement('g1', 'p1', { x: 18 });
    await actions.whenSaved();
    expect(steps.map(({ label }) => label)).toEqual(['a new proof', 'move a piece']);
    actions.changePlacement('g1', 'p1', { x: 18 });
    await actions.whenSaved();
    expect(steps).toHaveLength(2);
  });

  it('takes steps back and brings them again, and lets go of what went with them', async () => {
    const { store: own, actions } = start(newProof([ground('g1', placed())]));
    actions.take('g1', 'p1');
    expect(own.getState().held).toBeNull();
    actions.undo();
    await actions.whenSaved();
    expect(own.getState().proof.grounds[0]!.placed).toHaveLength(1);
    expect(own.getState()).toMatchObject({ undo: null, redo: 'take a piece away' });
    actions.redo();
    await actions.whenSaved();
    expect(own.getState().proof.grounds[0]!.placed).toEqual([]);
    actions.removeGround('g1');
    expect(own.getState().opened).toBeNull();
  });

  it('keeps a piece in its place when it is held by another anchor, and pieces in order', async () => {
    const both = newProof([ground('g1', placed(), placed({ id: 'p2', x: 30 }))]);
    const { store: own, actions } = start(both);
    await expect.poll(() => actions.pictureOf(placed())).toMatchObject({ width: 400, height: 200 });
    actions.anchor('g1', placed(), 'bottom-right', FACTS);
    expect(own.getState().proof.grounds[0]!.placed[0]).toMatchObject({
      anchor: 'bottom-right',
      x: 85 - 10 - 40,
      y: 55 - 20 - 20,
    });
    const order = () => own.getState().proof.grounds[0]!.placed.map(({ id }) => id);
    actions.reorder('g1', 'p1', 1);
    expect(order()).toEqual(['p2', 'p1']);
    actions.reorder('g1', 'p1', 1);
    expect(order()).toEqual(['p2', 'p1']);
  });

  it('tries a new ground with the piece that lies on the others, and lays no more grounds than a proof holds', async () => {
    const { store: own, actions } = start(newProof([ground('g1', placed())]));
    await actions.addGround({ kind: 'shipped', which: 'card' });
    const added = own.getState().proof.grounds[1]!;
    expect(added.placed[0]).toMatchObject({ piece: PIECE, blend: 'multiply' });
    expect(own.getState().opened).toBe(added.id);
    const full = start(newProof(Array.from({ length: MOST_GROUNDS }, (_, k) => ground(`g${k}`))));
    await full.actions.addGround({ kind: 'shipped', which: 'card' });
    expect(full.store.getState().trouble).toContain(`A proof holds ${MOST_GROUNDS} grounds`);
    expect(full.store.getState().proof.grounds).toHaveLength(MOST_GROUNDS);
  });

  it('follows a cut that was changed elsewhere, and says of which piece', async () => {
    const { store: own, actions, changeCut } = start(newProof([ground('g1', placed())]));
    await actions.lookAgain();
    expect(own.getState().changed).toEqual([]);
    changeCut();
    await actions.lookAgain();
    expect(own.getState().changed).toEqual([PIECE]);
    expect(own.getState().pieces[PIECE]!.revision).toBe(5);
    actions.dismissChanged();
    expect(own.getState().changed).toEqual([]);
  });

  it('hands over only what is saved, and keeps the file in its list', async () => {
    const { store: own, actions, asked } = start(newProof([ground('g1', placed())]));
    actions.changePlacement('g1', 'p1', { width: 30 });
    const file = await actions.handOver({ ground: 'g1', format: 'pdf', dpi: 300 });
    expect(file!.id).toBe(7);
    expect(asked.indexOf('POST /api/proofs/1/steps')).toBeLessThan(asked.indexOf('POST /api/proofs/1/files'));
    expect(own.getState()).toMatchObject({ handing: { kind: 'done' }, files: [{ id: 7 }] });
    vi.stubGlobal('fetch', () =>
      Promise.resolve(Response.json({ code: 'forbidden', message: 'It is signed.' }, { status: 403 })),
    );
    expect(await actions.handOver({ ground: 'g1', format: 'pdf', dpi: 300 })).toBeNull();
    expect(own.getState().handing).toEqual({ kind: 'failed', message: 'It is signed.' });
  });

  it('says of a piece that was deleted that it was', () => {
    const { actions } = start(newProof([ground('g1', placed())]));
    expect(actions.pictureOf(placed({ piece: 'f'.repeat(16) }))).toEqual({
      trouble: 'This piece was deleted.',
    });
  });
});
