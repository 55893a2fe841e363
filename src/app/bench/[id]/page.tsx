import { notFound } from 'next/navigation';
import { isKenosisError } from '../../../core/errors';
import { STAGES } from '../../../core/stages/stages';
import { checkPieceId } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { currentCut, getPiece } from '../../../storage/pieces';
import { BenchScreen } from '../../../ui/bench/BenchScreen';

export const dynamic = 'force-dynamic';

interface Props {
  readonly params: Promise<{ id: string }>;
  readonly searchParams: Promise<{ run?: string; at?: string; stage?: string }>;
}

export default async function BenchPage({ params, searchParams }: Props) {
  const { id } = await params;
  const opened = await open(id);
  if (!opened) notFound();
  const { run, at, stage: wanted } = await searchParams;
  const stage = STAGES.find(({ key }) => key === wanted)?.key ?? null;
  const isNumber = (text: string | undefined) => text !== undefined && /^\d{1,9}$/.test(text);
  const review = isNumber(run) && isNumber(at) ? { runId: Number(run), number: Number(at) } : null;
  return <BenchScreen key={id} piece={opened.piece} state={opened.state} review={review} stage={stage} />;
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
