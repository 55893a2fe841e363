import { notFound } from 'next/navigation';
import { isKenosisError } from '../../../core/errors';
import { checkNumber } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { openWatermark } from '../../../server/watermarks/open-watermark';
import { WatermarkScreen } from '../../../ui/watermarks/WatermarkScreen';

export const dynamic = 'force-dynamic';

interface Props {
  readonly params: Promise<{ watermark: string }>;
  readonly searchParams: Promise<{ tab?: string }>;
}

export default async function WatermarkPage({ params, searchParams }: Props) {
  const opened = await open((await params).watermark);
  if (!opened) notFound();
  const { tab } = await searchParams;
  const first = tab === 'look' || tab === 'place' || tab === 'photos' ? tab : 'parts';
  return <WatermarkScreen key={opened.state.id} opened={opened} tab={first} />;
}

async function open(text: string) {
  try {
    return await openWatermark(await getHouse(), checkNumber('watermark', text));
  } catch (error) {
    if (isKenosisError(error)) return null;
    throw error;
  }
}
