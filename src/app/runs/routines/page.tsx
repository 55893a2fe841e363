import { getHouse } from '../../../server/house';
import { listRoutines } from '../../../storage/routines';
import { listSets } from '../../../storage/sets';
import { unreadableRows } from '../../../storage/unreadable';
import { RoutinesScreen } from '../../../ui/runs/RoutinesScreen';

export const dynamic = 'force-dynamic';

export default async function RoutinesPage() {
  const { database } = await getHouse();
  const [routines, sets, unreadable] = await Promise.all([
    listRoutines(database),
    listSets(database),
    unreadableRows(database, ['routine', 'set']),
  ]);
  return <RoutinesScreen routines={routines} sets={sets} unreadable={unreadable} />;
}
