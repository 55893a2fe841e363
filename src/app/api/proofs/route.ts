import { parseProof } from '../../../core/proof/parse';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { newProofSchema } from '../../../server/http/requests';
import { copyProof, proofOfPiece, templateOf } from '../../../server/proofs/make-proofs';
import { addProof, listProofs } from '../../../storage/proofs';

export const dynamic = 'force-dynamic';

/** All proofs and templates. */
export const GET = guarded(async () =>
  Response.json({ proofs: await listProofs((await getHouse()).database) }),
);

/** A new proof. */
export const POST = guarded(async (request) => {
  const house = await getHouse();
  const wanted = await readBody(request, newProofSchema);
  const made =
    'piece' in wanted
      ? await proofOfPiece(house, wanted.piece)
      : 'copyOf' in wanted
        ? await copyProof(house, wanted.copyOf)
        : 'templateOf' in wanted
          ? await templateOf(house, wanted.templateOf, wanted.name)
          : await addProof(house.database, {
              name: wanted.name,
              ...(wanted.proof === undefined ? {} : { proof: parseProof(wanted.proof) }),
            });
  return Response.json({ state: made }, { status: 201 });
});
