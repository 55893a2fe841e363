import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { keepRoutineSchema } from '../../../../../server/http/requests';
import { markingRoutine } from '../../../../../server/watermarks/make-watermarks';
import { saveRoutine } from '../../../../../storage/routines';

export const dynamic = 'force-dynamic';

/** Keeps a routine that puts a watermark on photos, under its name; one of that name is replaced. */
export const POST = guarded(
  async (request, { params }: { readonly params: Promise<{ watermark: string }> }) => {
    const id = checkNumber('watermark', (await params).watermark);
    const { marked } = await readBody(request, keepRoutineSchema);
    const house = await getHouse();
    const routine = await markingRoutine(house, id, marked);
    await saveRoutine(house.database, routine);
    return Response.json({ routine: routine.name }, { status: 201 });
  },
);
