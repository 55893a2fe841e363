import { guarded } from '../../../server/guard';
import { openApiDocument } from '../../../server/http/openapi';

export const dynamic = 'force-dynamic';

/** The description of this interface. */
export const GET = guarded((request) =>
  Promise.resolve(Response.json(openApiDocument(`http://${request.headers.get('host')}`))),
);
