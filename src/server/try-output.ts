import { readFile } from 'node:fs/promises';
import { KenosisError } from '../core/errors';
import { OUTPUT_FORMATS } from '../core/formats';
import { inColorway } from '../core/stages/ink/colorways';
import { cutOfRevision, getPiece } from '../storage/pieces';
import type { DeliveryFindings } from './deliver-piece';
import { pieceInput } from './decisions';
import type { House } from './rooms';

/** A file as it would be delivered, which is not kept. */
export interface Trial {
  readonly bytes: Buffer;
  readonly mime: string;
  readonly width: number;
  readonly height: number;
  readonly findings: DeliveryFindings;
}

/**
 * Makes one of a saved cut's outputs to be looked at: nothing is recorded. Throws what delivering throws.
 */
export async function tryOutput(
  house: House,
  pieceId: string,
  request: { readonly revision: number; readonly output: number; readonly colorway: string | null },
  signal?: AbortSignal,
): Promise<Trial> {
  const piece = await getPiece(house.database, pieceId);
  const saved = await cutOfRevision(house.database, pieceId, request.revision);
  const cut = request.colorway === null ? saved : inColorway(saved, request.colorway);
  const output = saved.deliver.outputs[request.output];
  if (!output) throw new KenosisError('bad-argument', `output: there is none of number ${request.output}`);
  const input = await pieceInput(house, piece, cut);
  const outPath = await house.files.incomingPath();
  try {
    const { verified, scale } = await house.pool.run(
      'deliver',
      { ...input, dpi: piece.dpi, output, outPath },
      { signal, pixels: piece.width * piece.height },
    );
    const { width, height, kind, decoder, independent, color, alpha } = verified;
    return {
      bytes: await readFile(outPath),
      mime: OUTPUT_FORMATS[output.format].mime,
      width,
      height,
      findings: { kind, decoder, independent, color, alpha, scale },
    };
  } finally {
    await house.files.drop(outPath);
  }
}
