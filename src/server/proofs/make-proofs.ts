import type { ReadableStream } from 'node:stream/web';
import { stat } from 'node:fs/promises';
import { MOST_PDF_BYTES } from '../../codec/pdf/structure';
import { KenosisError } from '../../core/errors';
import { FIRST_GROUNDS, firstPlacement, freshId, newProof } from '../../core/proof/first-proof';
import { PLACED_PX } from '../../core/proof/looks';
import { LONGEST_PROOF_NAME, type Ground, type GroundSource } from '../../core/proof/settings';
import { currentCut, getPiece } from '../../storage/pieces';
import {
  addProof,
  forgetUnusedGrounds,
  getProof,
  removeProof,
  saveGround,
  type ProofState,
} from '../../storage/proofs';
import { isDelivered } from '../../storage/deliveries';
import { receive } from '../import-piece';
import { pieceName } from '../piece-name';
import type { House } from '../rooms';
import { groundFactsOf, type KnownGround } from './ground-files';
import { placedPictureOf } from './placed-picture';

const AS_CUT = { colorway: null, light: false } as const;

/** A new proof of a piece on the grounds that people look at first. Throws `not-found` and `nothing-left`. */
export async function proofOfPiece(house: House, pieceId: string): Promise<ProofState> {
  const piece = await getPiece(house.database, pieceId);
  const grounds: Ground[] = [];
  for (const source of FIRST_GROUNDS) {
    const id = freshId(grounds);
    grounds.push({ id, source, placed: [await placedFirst(house, pieceId, source)] });
  }
  const name = shortened(`Proof of ${piece.name.replace(/\.[^.]*$/, '')}`);
  return addProof(house.database, { name, proof: newProof(grounds) });
}

async function placedFirst(house: House, pieceId: string, source: GroundSource) {
  const facts = await groundFactsOf(house, source);
  const { revision } = await currentCut(house.database, pieceId);
  const { width, height } = await placedPictureOf(house, pieceId, {
    revision,
    look: AS_CUT,
    mostPx: PLACED_PX,
  });
  return firstPlacement(source, facts.unit, facts, height / width, { id: 'p1', piece: pieceId });
}

/** A copy of a proof, under a name of its own. */
export async function copyProof({ database }: House, id: number): Promise<ProofState> {
  const { name, proof, isTemplate } = await getProof(database, id);
  return addProof(database, { name: shortened(`${name}, copy`), proof, isTemplate });
}

/**
 * Makes a template of a proof: its first page with what is placed on it, under a name of its own. Throws `bad-argument` where it
 * has no page.
 */
export async function templateOf(house: House, id: number, name: string): Promise<ProofState> {
  const { proof } = await getProof(house.database, id);
  for (const ground of proof.grounds) {
    const { source } = ground;
    if (source.kind !== 'pdf' && source.kind !== 'shipped') continue;
    const facts = await groundFactsOf(house, source);
    if (facts.unit !== 'mm') continue;
    const isLast = facts.pages > 1 && facts.number === facts.pages;
    const own: GroundSource = source.kind === 'pdf' && isLast ? { ...source, page: null } : source;
    return addProof(house.database, {
      name,
      isTemplate: true,
      proof: newProof([{ ...ground, source: own }]),
    });
  }
  throw new KenosisError(
    'bad-argument',
    'A template is made of a letter or another page, and this proof has none. Nothing was changed.',
  );
}

/** Takes a PDF in as a ground. Throws what reading it throws; then nothing was kept. */
export async function bringPdf(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
): Promise<{ readonly source: GroundSource; readonly facts: KnownGround }> {
  const { files, locks, database } = house;
  const name = pieceName(typedName);
  const incoming = await files.incomingPath();
  try {
    const sha256 = await receive(body, incoming, name, MOST_PDF_BYTES);
    const { size } = await stat(incoming);
    if (size === 0)
      throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was brought.`);
    return await locks.acquire(`ground ${sha256}`, async () => {
      // What cannot be drawn is refused before it is kept.
      const ground = { kind: 'page', path: incoming, name, number: 1 } as const;
      await house.pool.run('ground', { path: incoming, ground }, { pixels: 0 });
      await files.keep(incoming, 'grounds', sha256);
      await saveGround(database, { sha256, name, bytes: size });
      const source: GroundSource = { kind: 'pdf', file: sha256, page: 1 };
      return { source, facts: await groundFactsOf(house, source) };
    });
  } finally {
    await files.drop(incoming);
  }
}

/** A new proof of a PDF, with what a template places on its page. A page that the PDF has not is its last one then. */
export async function proofByTemplate(
  house: House,
  templateId: number,
  typedName: string,
  body: ReadableStream<Uint8Array>,
): Promise<ProofState> {
  const template = await getProof(house.database, templateId);
  const [ground] = template.proof.grounds;
  if (!template.isTemplate || !ground)
    throw new KenosisError('bad-argument', `"${template.name}" is no template. Nothing was brought.`);
  const { source: brought, facts } = await bringPdf(house, typedName, body);
  const wanted = 'page' in ground.source ? ground.source.page : 1;
  const page = wanted === null || wanted > facts.pages ? null : wanted;
  const source = { ...brought, page } as GroundSource;
  const name = shortened(pieceName(typedName).replace(/\.pdf$/i, ''));
  return addProof(house.database, { name, proof: newProof([{ ...ground, source }]) });
}

/** Forgets a proof, and the files that nothing else names. */
export async function forgetProof(house: House, id: number): Promise<void> {
  const { database, files, locks } = house;
  for (const key of await removeProof(database, id))
    await locks.acquire(`delivery ${key}`, async () => {
      if (!(await isDelivered(database, key))) await files.remove('deliveries', key);
    });
  for (const key of await forgetUnusedGrounds(database))
    await locks.acquire(`ground ${key}`, () => files.remove('grounds', key));
}

function shortened(name: string): string {
  return [...name].slice(0, LONGEST_PROOF_NAME).join('').trim() || 'Proof';
}
