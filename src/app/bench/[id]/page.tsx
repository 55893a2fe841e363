import { notFound } from 'next/navigation';
import { isKenosisError } from '../../../core/errors';
import { checkPieceId } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { currentCut, getPiece } from '../../../storage/pieces';
import { BenchScreen } from '../../../ui/bench/BenchScreen';

export const dynamic = 'force-dynamic';

export default async function BenchPage({ params }: { readonly params: Promise<{ id: string }> }) {
  const { id } = await params;
  const opened = await open(id);
  if (!opened) notFound();
  return <BenchScreen key={id} piece={opened.piece} state={opened.state} />;
}

async function open(id: string) {
  const house = await getHouse();
  try {
    const piece = await getPiece(house.database, checkPieceId(id));
    return { piece, state: await currentCut(house.database, piece.id) };
  } catch (error) {
    if (isKenosisError(error) && error.code === 'not-found') return null;
    throw error;
  }
}
