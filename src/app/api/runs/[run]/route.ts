import { checkNumber, guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { runActionSchema } from '../../../../server/http/requests';
import { changeRun } from '../../../../server/runs/change-run';
import { forgetRun, getRun } from '../../../../storage/runs';

interface Context {
  readonly params: Promise<{ run: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('run', (await params).run);

/** How a run stands. */
export const GET = guarded(async (_request, context: Context) => {
  const { database } = await getHouse();
  return Response.json({ run: await getRun(database, await numberOf(context)) });
});

/** Pauses, resumes or cancels a run, tries again what failed, or takes back what it laid on its pieces. */
export const PATCH = guarded(async (request, context: Context) => {
  const { action } = await readBody(request, runActionSchema);
  return Response.json(await changeRun(await getHouse(), await numberOf(context), action));
});

/** Forgets a run; its pieces and their deliveries stay. */
export const DELETE = guarded(async (_request, context: Context) => {
  const { database } = await getHouse();
  await forgetRun(database, await numberOf(context));
  return Response.json({ forgotten: true });
});
