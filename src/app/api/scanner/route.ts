import { isKenosisError } from '../../../core/errors';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { scanPiece } from '../../../server/scan-piece';
import { scanSettingsSchema } from '../../../server/scanner/scanner';
import { simulatedFlatbed } from '../../../server/scanner/simulated-flatbed';

export const dynamic = 'force-dynamic';

const scanner = simulatedFlatbed();

/** The scanner and the sheets that can be laid on it. */
export const GET = guarded(async () => Response.json({ name: scanner.name, sheets: await scanner.sheets() }));

/**
 * Scans a sheet into the Shelf. Answers with a line of JSON for each step: `{progress}`, and at the end `{imported}` or
 * `{refused}`.
 */
export const POST = guarded(async (request) => {
  const settings = await readBody(request, scanSettingsSchema);
  const house = await getHouse();
  const encoder = new TextEncoder();
  const abort = new AbortController();
  request.signal.addEventListener('abort', () => abort.abort(), { once: true });
  const body = new ReadableStream<Uint8Array>({
    async start(controller) {
      const line = (value: unknown) => {
        if (!abort.signal.aborted) controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
      };
      try {
        const imported = await scanPiece(house, scanner, settings, abort.signal, (progress) =>
          line({ progress }),
        );
        line({ imported });
      } catch (error) {
        if (!isKenosisError(error)) console.error(error);
        const message = isKenosisError(error)
          ? error.message
          : 'The scan failed inside Kenosis. Your pieces are safe; the terminal shows the details.';
        line({ refused: { message } });
      }
      if (!abort.signal.aborted) controller.close();
    },
    cancel: () => abort.abort(),
  });
  return new Response(body, {
    headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' },
  });
});
