import { shownRun } from '../../server/runs/shown-run';
import { getHouse } from '../../server/house';
import { listRoutines } from '../../storage/routines';
import { listRuns } from '../../storage/runs';
import { RunsScreen } from '../../ui/runs/RunsScreen';

export const dynamic = 'force-dynamic';

export default async function RunsPage() {
  const { database, watches } = await getHouse();
  const [runs, routines, watched] = await Promise.all([
    listRuns(database).then((runs) => runs.map(shownRun)),
    listRoutines(database),
    watches.list(),
  ]);
  return <RunsScreen runs={runs} routines={routines} watches={watched} />;
}
