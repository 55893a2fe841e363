import { notFound } from 'next/navigation';
import { isKenosisError } from '../../../core/errors';
import { checkPieceId } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { currentCut, getPiece, listPieces, proposedCut } from '../../../storage/pieces';
import { LayScreen } from '../../../ui/runs/LayScreen';

export const dynamic = 'force-dynamic';

export default async function LayPage({ params }: { readonly params: Promise<{ id: string }> }) {
  const opened = await open((await params).id);
  if (!opened) notFound();
  return <LayScreen {...opened} />;
}

async function open(text: string) {
  const { database } = await getHouse();
  try {
    const id = checkPieceId(text);
    const [piece, { cut }, proposed, pieces] = await Promise.all([
      getPiece(database, id),
      currentCut(database, id),
      proposedCut(database, id),
      listPieces(database),
    ]);
    return { piece, cut, proposed, pieces: pieces.filter((one) => one.id !== id) };
  } catch (error) {
    if (isKenosisError(error)) return null;
    throw error;
  }
}
