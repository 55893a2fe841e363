// Finds the Chromium that the browser tests drive, and installs Debian's where there is none.
import { existsSync } from 'node:fs';
import { run, step, stop } from './steps.mjs';

const PLACES = [
  process.env.KENOSIS_CHROMIUM,
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
];

export async function requireChromium() {
  const there = PLACES.find((place) => place && existsSync(place));
  if (there) return there;
  if (existsSync('/usr/bin/apt-get') && process.getuid?.() === 0) {
    const env = { DEBIAN_FRONTEND: 'noninteractive' };
    const { code, tail } = await step('installing Chromium', async () => {
      const update = await run('apt-get', ['update', '-qq'], { quiet: true, env });
      if (update.code !== 0) return update;
      return run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
        quiet: true,
        env,
      });
    });
    if (code === 0 && existsSync('/usr/bin/chromium')) return '/usr/bin/chromium';
    process.stderr.write(tail);
  }
  return stop(
    'the browser tests need Chromium. Install it, or name it: KENOSIS_CHROMIUM=/path/to/chromium npm test',
  );
}
