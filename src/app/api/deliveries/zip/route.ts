import contentDisposition from 'content-disposition';
import { KenosisError } from '../../../../core/errors';
import { checkNumber, guarded } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { zipOfDeliveries } from '../../../../server/zip-deliveries';

export const dynamic = 'force-dynamic';

const MOST = 1000;

/** Delivered files in one ZIP, as `?numbers=3,4,5&name=kite`. */
export const GET = guarded(async (request) => {
  const query = new URL(request.url).searchParams;
  const numbers = (query.get('numbers') ?? '').split(',').map((text) => checkNumber('numbers', text));
  if (numbers.length > MOST)
    throw new KenosisError('bad-argument', `numbers: expected at most ${MOST}, got ${numbers.length}`);
  const stem = (query.get('name') ?? '').replace(/[^\p{L}\p{N} ._-]/gu, '').slice(0, 100) || 'deliveries';
  return new Response(await zipOfDeliveries(await getHouse(), numbers), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': contentDisposition(`${stem}.zip`),
      'cache-control': 'no-store',
    },
  });
});
