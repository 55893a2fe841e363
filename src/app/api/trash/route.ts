import { z } from 'zod';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { emptyTrash } from '../../../server/trash';
import { setTrashed } from '../../../storage/pieces';

const bodySchema = z.strictObject({
  ids: z
    .array(z.string().regex(/^[0-9a-f]{16}$/, 'expected the id of a piece'))
    .min(1)
    .max(10_000),
  trashed: z.boolean(),
});

export const dynamic = 'force-dynamic';

/** Puts pieces into the trash, or back on the Shelf. */
export const PUT = guarded(async (request) => {
  const { database } = await getHouse();
  const { ids, trashed } = await readBody(request, bodySchema);
  await setTrashed(database, ids, trashed);
  return Response.json({ ids, trashed });
});

/** Deletes for good what is in the trash. */
export const DELETE = guarded(async () => Response.json({ deleted: await emptyTrash(await getHouse()) }));
