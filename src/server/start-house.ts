import { loadDemoPieces } from './demo-pieces';
import { getHouse } from './house';

/** Opens the house and loads the demo pieces where `KENOSIS_DEMO` is 1 and they were not loaded before. */
export async function startHouse(): Promise<void> {
  const house = await getHouse();
  if (process.env.KENOSIS_DEMO === '1') await loadDemoPieces(house);
}
