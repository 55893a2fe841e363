import { TextReader, ZipWriter } from '@zip.js/zip.js';
import { INPUT_FORMATS, isInputFormat } from '../core/formats';
import { listDeliveries, type Delivery } from '../storage/deliveries';
import { getPiece, revisionsOf, type Piece } from '../storage/pieces';
import { BUNDLE_DOCUMENT, decisionsEntry } from './bundle-format';
import { keptDecisions } from './decisions';
import type { House } from './rooms';
import { bytesToPack } from './zip-file';

/**
 * Pieces as one ZIP, streamed: their originals byte for byte, each once; a document with every revision of their cuts and the
 * records of their deliveries; the cut in force of each as a file of its own; and what was decided of it. Throws `not-found`, `missing-original` and
 * `changed-original`.
 */
export async function exportBundle(
  house: Pick<House, 'database' | 'originals' | 'files'>,
  ids: readonly string[],
): Promise<ReadableStream<Uint8Array>> {
  const pieces: Piece[] = [];
  for (const id of new Set(ids)) pieces.push(await getPiece(house.database, id));
  const originals = new Map<string, string>();
  const told: object[] = [];
  const cuts: { readonly name: string; readonly text: string }[] = [];
  const decisions: { readonly name: string; readonly path: string }[] = [];
  for (const [k, piece] of pieces.entries()) {
    const file = `originals/${piece.sha256}${endingOf(piece)}`;
    originals.set(file, await house.originals.pathOf(piece));
    const revisions = await revisionsOf(house.database, piece.id);
    const { name, backing, reason, notes, revision: position, createdAt } = piece;
    const deliveries = (await listDeliveries(house.database, piece.id)).map(recordOf);
    const original = { sha256: piece.sha256, file };
    told.push({ name, original, backing, reason, notes, position, revisions, deliveries, createdAt });
    const current = revisions.find(({ number }) => number === position);
    const decided = await keptDecisions(house, piece);
    if (decided) decisions.push({ name: decisionsEntry(k), path: decided });
    cuts.push({ name: `cuts/${k + 1}.cut.json`, text: `${JSON.stringify(current?.cut, null, 2)}\n` });
  }
  const document = { format: 'kenosis-bundle', version: 1, pieces: told };
  const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>();
  const zip = new ZipWriter(writable);
  void (async () => {
    await zip.add(BUNDLE_DOCUMENT, new TextReader(`${JSON.stringify(document, null, 2)}\n`));
    for (const { name, text } of cuts) await zip.add(name, new TextReader(text));
    // Pictures and decisions are packed already.
    for (const { name, path } of decisions) await zip.add(name, bytesToPack(path), { level: 0 });
    for (const [name, path] of originals) await zip.add(name, bytesToPack(path), { level: 0 });
    await zip.close();
  })().catch((cause: unknown) => writable.abort(cause).catch(() => undefined));
  return readable;
}

function endingOf({ format }: Piece): string {
  return isInputFormat(format) ? INPUT_FORMATS[format].ending : '.bin';
}

/** A delivery without what is only of use in this house. */
function recordOf(delivery: Delivery): object {
  const { fileName, format, revision, sha256, pixelSha256, bytes, width, height, dpi } = delivery;
  const { transparent, partly, opaque, findings, createdAt } = delivery;
  const file = { fileName, format, revision, sha256, pixelSha256, bytes, width, height, dpi };
  return { ...file, transparent, partly, opaque, findings, createdAt };
}
