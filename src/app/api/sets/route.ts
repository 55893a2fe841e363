import { z } from 'zod';
import { parseSet } from '../../../core/stages/deliver/set-document';
import { setNameSchema } from '../../../core/stages/deliver/set-settings';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { listSets, removeSet, saveSet } from '../../../storage/sets';

export const dynamic = 'force-dynamic';

/** All sets of outputs. */
export const GET = guarded(async () => Response.json({ sets: await listSets((await getHouse()).database) }));

/** Saves a set under its name. */
export const PUT = guarded(async (request) => {
  const { database } = await getHouse();
  await saveSet(database, parseSet(await readBody(request, z.unknown())));
  return Response.json({ sets: await listSets(database) });
});

/** Forgets a set. */
export const DELETE = guarded(async (request) => {
  const { database } = await getHouse();
  const { name } = await readBody(request, z.strictObject({ name: setNameSchema }));
  await removeSet(database, name);
  return Response.json({ sets: await listSets(database) });
});
