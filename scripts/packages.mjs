// Programs that tests need and npm does not bring: the Chromium that browser tests drive, and the Redis of the queue.
import { existsSync } from 'node:fs';
import { run, step, stop } from './steps.mjs';

const CHROMIUM = [
  process.env.KENOSIS_CHROMIUM,
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
];
const REDIS = ['/usr/bin/redis-server', '/usr/local/bin/redis-server', '/opt/homebrew/bin/redis-server'];

// Without a runlevel a server that is installed is not started.
const env = { DEBIAN_FRONTEND: 'noninteractive', RUNLEVEL: '1' };
let updated = false;

/** Installs one of Debian's packages where that can be done. Returns whether it was, and what was said. */
async function installed(name) {
  if (!existsSync('/usr/bin/apt-get') || process.getuid?.() !== 0) return { code: 1, tail: '' };
  return step(`installing ${name}`, async () => {
    if (!updated) {
      const update = await run('apt-get', ['update', '-qq'], { quiet: true, env });
      if (update.code !== 0) return update;
      updated = true;
    }
    return run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', name], { quiet: true, env });
  });
}

async function require(places, name, why) {
  const there = () => places.find((place) => place && existsSync(place));
  if (there()) return there();
  const { code, tail } = await installed(name);
  if (code === 0 && there()) return there();
  process.stderr.write(tail);
  return stop(why);
}

/** Where Chromium is, and Redis, both there afterwards. */
export async function requirePrograms() {
  const chromium =
    await require(CHROMIUM, 'chromium', 'the browser tests need Chromium. Install it, or name it: KENOSIS_CHROMIUM=/path/to/chromium npm test');
  await require(REDIS, 'redis-server', 'the tests of the queue need redis-server. Install it (on Debian: apt-get install redis-server).');
  return chromium;
}
