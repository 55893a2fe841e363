import { guarded, readBody, refuse, type Refusal } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { assertRoom, scanPiece } from '../../../server/scan-piece';
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
  // Once progress is told the answer's status is given away.
  await assertRoom(house);
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
        line({ refused: (await refuse(error).json()) as Refusal });
      }
      if (!abort.signal.aborted) controller.close();
    },
    cancel: () => abort.abort(),
  });
  return new Response(body, {
    headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' },
  });
});
