import { checkNumber, guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { watchSwitchSchema } from '../../../../server/http/requests';

interface Context {
  readonly params: Promise<{ watch: string }>;
}

export const dynamic = 'force-dynamic';

/** Switches a watched folder on or off. */
export const PATCH = guarded(async (request, { params }: Context) => {
  const { watches } = await getHouse();
  const { isOn } = await readBody(request, watchSwitchSchema);
  await watches.switch(checkNumber('watch', (await params).watch), isOn);
  return Response.json({ watches: await watches.list() });
});

/** Watches a folder no longer; nothing in it is touched. */
export const DELETE = guarded(async (_request, { params }: Context) => {
  const { watches } = await getHouse();
  await watches.remove(checkNumber('watch', (await params).watch));
  return Response.json({ watches: await watches.list() });
});
