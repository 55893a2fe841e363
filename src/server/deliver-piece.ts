import { inColorway } from '../core/stages/ink/colorways';
import { checkFileName, colorwayFileName, proposedFileName } from '../core/stages/deliver/file-name';
import { KenosisError } from '../core/errors';
import { addDelivery, isDelivered, type Delivery, type NewDelivery } from '../storage/deliveries';
import { cutOfRevision, getPiece } from '../storage/pieces';
import type { House } from './rooms';

export interface DeliveryReport {
  readonly delivery: Delivery;
  /** Whether the file holds the very pixels the bench showed; null if the bench did not say what it showed. */
  readonly sameAsShown: boolean | null;
}

/**
 * Renders one revision of a piece at full size, writes it as PNG, reads it back, compares, and records it. Throws
 * `verification-failed` if the file does not hold the cut; then nothing is recorded.
 */
export async function deliverPiece(
  house: House,
  pieceId: string,
  request: {
    readonly revision: number;
    readonly shownSha256: string | null;
    /** The name of the colorway to deliver; null for the cut as it is. */
    readonly colorway?: string | null;
  },
  signal?: AbortSignal,
): Promise<DeliveryReport> {
  const piece = await getPiece(house.database, pieceId);
  const saved = await cutOfRevision(house.database, pieceId, request.revision);
  const colorway = request.colorway ?? null;
  const cut = colorway === null ? saved : inColorway(saved, colorway);
  const fileName = checkFileName(
    colorway === null
      ? (cut.deliver.fileName ?? proposedFileName(piece.name))
      : colorwayFileName(cut.deliver.fileName, piece.name, colorway),
  );
  const originalPath = await house.originals.pathOf(piece);
  const outPath = await house.files.incomingPath();
  try {
    const { alpha, fileSha256, pixelSha256, ...facts } = await house.pool.run(
      'deliver',
      {
        originalPath,
        originalName: piece.name,
        cut,
        dpi: piece.dpi,
        outPath,
      },
      { signal, pixels: piece.width * piece.height },
    );
    if (request.shownSha256 !== null && request.shownSha256 !== pixelSha256) {
      throw new KenosisError(
        'verification-failed',
        'The file would not hold what the bench showed. It was thrown away; the piece is safe. Reload the bench and deliver again.',
      );
    }
    const delivery = await keepDelivery(house, outPath, {
      pieceId,
      revision: request.revision,
      cut: JSON.stringify(cut),
      fileName,
      sha256: fileSha256,
      pixelSha256,
      ...facts,
      ...alpha,
    });
    return { delivery, sameAsShown: request.shownSha256 === null ? null : true };
  } catch (error) {
    // A piece that was deleted for good meanwhile is said to be gone, whatever that broke.
    await getPiece(house.database, pieceId);
    throw error;
  } finally {
    await house.files.drop(outPath);
  }
}

/** Keeps a delivered file and records it. One file after another for the same bytes, which two pieces may share. */
function keepDelivery(
  { database, files, locks }: House,
  outPath: string,
  fresh: NewDelivery,
): Promise<Delivery> {
  return locks.acquire(`delivery ${fresh.sha256}`, async () => {
    await getPiece(database, fresh.pieceId);
    await files.keep(outPath, 'deliveries', fresh.sha256);
    try {
      return await addDelivery(database, fresh);
    } catch (error) {
      if (!(await isDelivered(database, fresh.sha256))) await files.remove('deliveries', fresh.sha256);
      throw error;
    }
  });
}
