import { notFound } from 'next/navigation';
import { isKenosisError } from '../../../core/errors';
import { checkNumber } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { openProof } from '../../../server/proofs/open-proof';
import { ProofScreen } from '../../../ui/proofs/ProofScreen';

export const dynamic = 'force-dynamic';

interface Props {
  readonly params: Promise<{ proof: string }>;
  readonly searchParams: Promise<{ ground?: string }>;
}

export default async function ProofPage({ params, searchParams }: Props) {
  const opened = await open((await params).proof);
  if (!opened) notFound();
  const { ground = null } = await searchParams;
  return <ProofScreen key={opened.state.id} opened={opened} ground={ground} />;
}

async function open(text: string) {
  try {
    return await openProof(await getHouse(), checkNumber('proof', text));
  } catch (error) {
    if (isKenosisError(error)) return null;
    throw error;
  }
}
