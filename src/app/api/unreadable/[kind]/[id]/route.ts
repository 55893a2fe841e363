import contentDisposition from 'content-disposition';
import { DOCUMENT_KINDS, type RowKind } from '../../../../../core/document';
import { badArgument } from '../../../../../core/errors';
import { guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { documentText } from '../../../../../storage/unreadable';

export const dynamic = 'force-dynamic';

/** The document of a row that cannot be read, as it is, to be saved elsewhere. */
export const GET = guarded(
  async (_request, { params }: { readonly params: Promise<{ kind: string; id: string }> }) => {
    const { kind, id } = await params;
    if (!DOCUMENT_KINDS.includes(kind as RowKind)) throw badArgument('kind', DOCUMENT_KINDS.join(', '), kind);
    const text = await documentText((await getHouse()).database, kind as RowKind, id);
    return new Response(text, {
      headers: {
        'content-type': 'application/octet-stream',
        'content-disposition': contentDisposition(`${kind} ${id}.json`),
      },
    });
  },
);
