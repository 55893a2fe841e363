import { checkNumber, guarded } from '../../../../../../server/guard';
import { getHouse } from '../../../../../../server/house';
import { sendFile } from '../../../../../../server/send-file';
import { getProofFile } from '../../../../../../storage/proofs';

interface Context {
  readonly params: Promise<{ number: string }>;
}

export const dynamic = 'force-dynamic';

const TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  pdf: 'application/pdf',
};

/** A file that was handed over, under its name. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  const file = await getProofFile(house.database, checkNumber('file', (await params).number));
  return sendFile(house.files.pathOf('deliveries', file.sha256), {
    type: TYPES[file.format] ?? 'application/octet-stream',
    cache: 'private, no-cache',
    attachment: file.fileName,
  });
});
