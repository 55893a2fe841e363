import { z } from 'zod';
import { LONGEST_COLORWAY } from '../../../../../core/stages/ink/settings';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { tryOutput } from '../../../../../server/try-output';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({
  revision: z.int().min(0),
  output: z.int().min(0),
  colorway: z.string().max(LONGEST_COLORWAY).nullable().default(null),
});

/** A file as it would be delivered: its bytes, and in a header what was found when they were read back. */
export const POST = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const wanted = await readBody(request, bodySchema);
  const trial = await tryOutput(house, checkPieceId((await params).id), wanted, request.signal);
  const { bytes, mime, width, height, findings } = trial;
  return new Response(new Uint8Array(bytes), {
    headers: {
      'content-type': mime,
      'cache-control': 'no-store',
      // Never shown as a page: a drawing may hold anything.
      'content-disposition': 'attachment',
      'x-trial': JSON.stringify({ width, height, ...findings }),
    },
  });
});
