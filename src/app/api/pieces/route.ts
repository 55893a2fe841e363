import { KenosisError } from '../../../core/errors';
import type { ReadableStream } from 'node:stream/web';
import { z } from 'zod';
import { tooManyBytes } from '../../../codec/inspect';
import { MAX_BYTES } from '../../../core/intake-limits';
import { guarded } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { MOST_PAGES, PAGE_WIDTH_PX } from '../../../core/cut/page';
import { importFile } from '../../../server/import-piece';
import type { DrawnSize } from '../../../server/page-choice';
import { listPieces } from '../../../storage/pieces';

export const dynamic = 'force-dynamic';

/** The Shelf. */
export const GET = guarded(async () => {
  const house = await getHouse();
  return Response.json({ pieces: await listPieces(house.database) });
});

const whole = (text: string) => Number(text);

/** What the query says beside the name. */
const querySchema = z.strictObject({
  damaged: z.enum(['refuse', 'accept'], 'damaged: expected refuse or accept').default('refuse'),
  pages: z
    .string()
    .regex(/^\d{1,4}(,\d{1,4})*$/, 'pages: expected page numbers with commas between them')
    .transform((text) => [...new Set(text.split(',').map(whole))])
    .pipe(
      z
        .array(z.int().min(1, 'pages: expected numbers from 1'))
        .max(MOST_PAGES, `pages: at most ${MOST_PAGES}`),
    )
    .nullable()
    .default(null),
  cut: z.enum(['proposed', 'none'], 'cut: expected proposed or none').default('proposed'),
  dpi: z.coerce
    .number('dpi: expected a number')
    .min(1, 'dpi: expected 1 to 4800')
    .max(4800, 'dpi: expected 1 to 4800')
    .nullable()
    .default(null),
  width: z.coerce
    .number('width: expected a number')
    .int('width: expected whole pixels')
    .min(PAGE_WIDTH_PX.min, 'width: expected at least 1 px')
    .max(PAGE_WIDTH_PX.max, `width: expected at most ${PAGE_WIDTH_PX.max} px`)
    .nullable()
    .default(null),
});

/**
 * Imports the pictures of one file: its bytes are the body, its name is in the query, and whether a damaged one is refused or
 * taken as far as it can be read. Where something has to be chosen first the answer is that, and nothing came in.
 */
export const POST = guarded(async (request) => {
  const query = new URL(request.url).searchParams;
  const name = query.get('name') ?? '';
  const wanted = querySchema.safeParse(Object.fromEntries([...query].filter(([key]) => key !== 'name')));
  if (!wanted.success) throw new KenosisError('bad-argument', wanted.error.issues[0]!.message);
  const { damaged, pages, dpi, width, cut } = wanted.data;
  if (Number(request.headers.get('content-length') ?? 0) > MAX_BYTES) throw tooManyBytes(name);
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was imported from it.`);
  const house = await getHouse();
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  const drawn = drawnSize(dpi, width);
  const { arrived, choice } = await importFile(house, name, body, {
    damaged,
    pages,
    drawn,
    proposes: cut === 'proposed',
    signal: request.signal,
  });
  if (choice) return Response.json({ choice });
  return Response.json(
    { ...arrived[0], arrived },
    { status: arrived.every(({ known }) => known) ? 200 : 201 },
  );
});

function drawnSize(dpi: number | null, widthPx: number | null): DrawnSize {
  if (widthPx !== null) return { kind: 'width', widthPx };
  return dpi === null ? { kind: 'proposed' } : { kind: 'dpi', dpi };
}
