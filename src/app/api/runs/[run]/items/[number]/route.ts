import { checkNumber, guarded, readBody } from '../../../../../../server/guard';
import { getHouse } from '../../../../../../server/house';
import { itemActionSchema } from '../../../../../../server/http/requests';
import { answerHeld } from '../../../../../../server/runs/change-run';

interface Context {
  readonly params: Promise<{ run: string; number: string }>;
}

export const dynamic = 'force-dynamic';

/** What is said of a picture that was held back for a look: it is delivered, or left out. */
export const POST = guarded(async (request, { params }: Context) => {
  const { run, number } = await params;
  const { action } = await readBody(request, itemActionSchema);
  const item = await answerHeld(
    await getHouse(),
    checkNumber('run', run),
    checkNumber('picture', number),
    action,
  );
  return Response.json({ item });
});
