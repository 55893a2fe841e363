import { notFound } from 'next/navigation';
import { isKenosisError } from '../../../core/errors';
import { checkNumber } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { getRun, listItems, unshelvedIn } from '../../../storage/runs';
import { RunScreen } from '../../../ui/runs/RunScreen';

export const dynamic = 'force-dynamic';

export default async function RunPage({ params }: { readonly params: Promise<{ run: string }> }) {
  const opened = await open((await params).run);
  if (!opened) notFound();
  return <RunScreen key={opened.run.id} {...opened} />;
}

async function open(text: string) {
  const { database, runs } = await getHouse();
  try {
    const id = checkNumber('run', text);
    const [run, items, unshelved] = await Promise.all([
      getRun(database, id),
      listItems(database, id),
      unshelvedIn(database, id),
    ]);
    return { run, items, unshelved, ...runs.facts() };
  } catch (error) {
    if (isKenosisError(error)) return null;
    throw error;
  }
}
