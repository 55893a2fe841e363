import { getHouse } from '../../server/house';
import { listRoutines } from '../../storage/routines';
import { listRuns } from '../../storage/runs';
import { unreadableRows } from '../../storage/unreadable';
import { RunsScreen } from '../../ui/runs/RunsScreen';

export const dynamic = 'force-dynamic';

export default async function RunsPage() {
  const { database, watches } = await getHouse();
  const [runs, routines, watched, unreadable] = await Promise.all([
    listRuns(database),
    listRoutines(database),
    watches.list(),
    unreadableRows(database, ['run', 'watch']),
  ]);
  return <RunsScreen runs={runs} routines={routines} watches={watched} unreadable={unreadable} />;
}
