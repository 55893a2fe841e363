import { parseRoutine } from '../../../core/routine/parse';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { nameRequestSchema } from '../../../server/http/requests';
import { keptRoutine } from '../../../server/watermarks/materials';
import { listRoutines, removeRoutine, saveRoutine } from '../../../storage/routines';
import { z } from 'zod';

export const dynamic = 'force-dynamic';

/** All routines. */
export const GET = guarded(async () =>
  Response.json({ routines: await listRoutines((await getHouse()).database) }),
);

/** A routine that was exported has the cutouts and fonts of its mark in it. */
const MOST_ROUTINE_BYTES = 40_000_000;

/** Saves a routine under its name. */
export const PUT = guarded(async (request) => {
  const house = await getHouse();
  const { database } = house;
  const routine = parseRoutine(await readBody(request, z.unknown(), MOST_ROUTINE_BYTES));
  await saveRoutine(database, await keptRoutine(house, routine));
  return Response.json({ routines: await listRoutines(database) });
});

/** Forgets a saved routine. */
export const DELETE = guarded(async (request) => {
  const { database } = await getHouse();
  await removeRoutine(database, (await readBody(request, nameRequestSchema)).name);
  return Response.json({ routines: await listRoutines(database) });
});
