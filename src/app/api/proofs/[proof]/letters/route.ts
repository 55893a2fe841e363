import type { ReadableStream } from 'node:stream/web';
import { KenosisError } from '../../../../../core/errors';
import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { proofByTemplate } from '../../../../../server/proofs/make-proofs';

interface Context {
  readonly params: Promise<{ proof: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('proof', (await params).proof);

/** A new proof of a PDF, which is the body, with what a template places on its page. */
export const POST = guarded(async (request, context: Context) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was brought.`);
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  const state = await proofByTemplate(await getHouse(), await numberOf(context), name, body);
  return Response.json({ state }, { status: 201 });
});
