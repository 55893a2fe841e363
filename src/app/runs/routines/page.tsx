import { getHouse } from '../../../server/house';
import { listRoutines } from '../../../storage/routines';
import { listSets } from '../../../storage/sets';
import { RoutinesScreen } from '../../../ui/runs/RoutinesScreen';

export const dynamic = 'force-dynamic';

export default async function RoutinesPage() {
  const { database } = await getHouse();
  const [routines, sets] = await Promise.all([listRoutines(database), listSets(database)]);
  return <RoutinesScreen routines={routines} sets={sets} />;
}
