import { isKenosisError, isOutOfSpace } from '../core/errors';
import { renderAhead } from './check-pieces';
import { loadDemo, loadSeries } from './demo-pieces';
import { getHouse } from './house';
import type { House } from './rooms';
import { getSetting } from '../storage/settings';
import { keepEmbedded } from './watermarks/materials';
import { giveDemoWatermark, giveFirstWatermarks } from './watermarks/make-watermarks';

/**
 * Opens the house and loads the demo pieces where `KENOSIS_DEMO` is 1, or `few` for those without the series, and they were not
 * loaded before; goes on with runs and watched folders. Where the data
 * cannot be opened it says so in one sentence and ends the process with 1.
 */
export async function startHouse(): Promise<void> {
  try {
    const house = await getHouse();
    house.pool.begin();
    for (const notice of house.notices) say(notice);
    await sayQuarantine(house);
    const demo = process.env.KENOSIS_DEMO;
    await keepEmbedded(house);
    await giveFirstWatermarks(house);
    if (demo === '1' || demo === 'few') {
      if (demo === '1') await loadDemo(house, 'photos');
      await loadDemo(house, 'pieces');
      await giveDemoWatermark(house, await getSetting(house.database, 'demo:ostrel-kite.jpg'));
    }
    await house.runs.start();
    await house.watches.start();
    // Nobody needs to wait for these.
    void (demo === '1' ? loadSeries(house) : Promise.resolve())
      .then(() => renderAhead(house))
      .catch((error: unknown) => say(`what was begun behind did not end (${(error as Error).message}).`));
  } catch (error) {
    if (isKenosisError(error)) say(error.message);
    else if (isOutOfSpace(error))
      say('the disk with the data folder is full. Nothing was changed. Free some space and start again.');
    else {
      const { code, message } = error as NodeJS.ErrnoException;
      say(`the data folder cannot be opened (${code ?? message}). Nothing was changed.`);
    }
    process.exit(1);
  }
}

async function sayQuarantine({ files }: House): Promise<void> {
  const { folder, files: count, bytes, days } = await files.quarantined();
  if (count === 0) return;
  const many = count === 1 ? '1 file that no piece names lies' : `${count} files that no piece names lie`;
  say(`${many} aside in ${folder} (${(bytes / 1e6).toFixed(1)} MB), for at least ${days} days.`);
}

function say(sentence: string): void {
  process.stderr.write(`Kenosis: ${sentence}\n`);
}
