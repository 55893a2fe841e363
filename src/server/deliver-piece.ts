import type { Verified } from '../codec/outputs/output-codec';
import { dayOf } from '../core/day-of';
import { KenosisError } from '../core/errors';
import { finishedName, plannedFiles } from '../core/stages/deliver/planned-files';
import { inColorway } from '../core/stages/ink/colorways';
import {
  addDelivery,
  isDelivered,
  listDeliveries,
  type Delivery,
  type NewDelivery,
} from '../storage/deliveries';
import { cutOfRevision, getPiece } from '../storage/pieces';
import { forgetCutout } from './cutouts';
import { keepDecisions, pieceInput } from './decisions';
import type { House } from './rooms';

export interface DeliveryReport {
  readonly delivery: Delivery;
  /** Whether the file was made of the very pixels the bench showed; null if the bench did not say what it showed. */
  readonly sameAsShown: boolean | null;
}

/** What the record of a delivery says of how its file was found when it was read back. */
export type DeliveryFindings = Pick<Verified, 'kind' | 'decoder' | 'independent' | 'color' | 'alpha'> & {
  /** Pixels of the file per pixel of the cutout. */
  readonly scale: number;
  /**
   * The same step was delivered under the same name with other pixels by an earlier Kenosis: what a cut means was found more exactly
   * since. That file is as it was.
   */
  readonly redrawn?: true;
};

/**
 * Renders one revision of a piece at full size, writes it as one of the cut's outputs, reads it back, compares, and records it.
 * Throws `verification-failed` if the file does not hold the cut, and `bad-argument` for an output that is not there; then
 * nothing is recorded.
 */
export async function deliverPiece(
  house: House,
  pieceId: string,
  request: {
    readonly revision: number;
    readonly shownSha256: string | null;
    /** The name of the colorway to deliver; null for the cut as it is. */
    readonly colorway?: string | null;
    /** Which of the cut's outputs. */
    readonly output?: number;
    /** Today, as `2026-11-30`, where the person is. */
    readonly date?: string;
  },
  signal?: AbortSignal,
): Promise<DeliveryReport> {
  const piece = await getPiece(house.database, pieceId);
  const saved = await cutOfRevision(house.database, pieceId, request.revision);
  const { colorway = null, output = 0, date = dayOf(new Date()) } = request;
  const cut = colorway === null ? saved : inColorway(saved, colorway);
  const planned = plannedFiles(saved, piece.name, date).find(
    (file) => file.colorway === colorway && file.outputAt === output,
  );
  if (!planned)
    throw new KenosisError(
      'bad-argument',
      `output: expected 0 to ${saved.deliver.outputs.length - 1}, got ${output}`,
    );
  // A name that is none is refused before anything is made.
  finishedName(planned, 1, 1);
  const input = await pieceInput(house, piece, cut);
  const outPath = await house.files.incomingPath();
  try {
    const made = await house.pool.run(
      'deliver',
      { ...input, dpi: piece.dpi, output: planned.output, outPath },
      { signal, pixels: piece.width * piece.height },
    );
    const { verified, scale, alpha, bytes, fileSha256, pixelSha256 } = made;
    await keepDecisions(house, piece, made.decisions);
    if (request.shownSha256 !== null && request.shownSha256 !== pixelSha256) {
      await forgetCutout(house, piece, request.revision);
      throw new KenosisError(
        'verification-failed',
        'The file would not hold what the bench showed. It was thrown away; the piece is safe. Reload the bench and deliver again.',
      );
    }
    const { width, height, dpi, ...rest } = verified;
    const fileName = finishedName(planned, width, height);
    const others = await listDeliveries(house.database, pieceId);
    const isRedrawn = others.some(
      (one) =>
        one.revision === request.revision &&
        one.fileName === fileName &&
        one.width === width &&
        one.pixelSha256 !== pixelSha256,
    );
    const findings: DeliveryFindings = { ...rest, scale, ...(isRedrawn ? { redrawn: true } : {}) };
    const delivery = await keepDelivery(house, outPath, {
      pieceId,
      revision: request.revision,
      cut: JSON.stringify(cut),
      fileName,
      format: planned.output.format,
      sha256: fileSha256,
      pixelSha256,
      bytes,
      width,
      height,
      dpi,
      ...alpha,
      findings,
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

/** Keeps a delivered file and records it. */
function keepDelivery(house: House, outPath: string, fresh: NewDelivery): Promise<Delivery> {
  return keepRecorded(house, outPath, fresh.sha256, async () => {
    await getPiece(house.database, fresh.pieceId);
    return () => addDelivery(house.database, fresh);
  });
}

/**
 * Keeps a file under its hash and records it, one after another for the same bytes, which several records may share. `ready`
 * throws where it is not to be kept after all. A file that could not be recorded is removed, unless others name it.
 */
export function keepRecorded<T>(
  { database, files, locks }: House,
  outPath: string,
  sha256: string,
  ready: () => Promise<() => Promise<T>>,
): Promise<T> {
  return locks.acquire(`delivery ${sha256}`, async () => {
    const record = await ready();
    await files.keep(outPath, 'deliveries', sha256);
    try {
      return await record();
    } catch (error) {
      if (!(await isDelivered(database, sha256))) await files.remove('deliveries', sha256);
      throw error;
    }
  });
}
