import { createHash } from 'node:crypto';
import path from 'node:path';
import { dayOf } from '../core/day-of';
import { nameProgram } from '../engine/node/bundles';
import { watchFolder } from '../server/folder-runs/watch-folder';
import { openEngine } from '../server/runs/engine-of-house';
import { besideRoutine, type LaidRoutine } from './beside-routine';
import { loadRoutine } from './load-routine';
import type { RunArguments } from './run-args';
import { settledWords } from './run-progress';
import { untilEnded } from './until-ended';

/** Runs `kenosis watch` until a signal ends it. Returns the exit code. Throws `KenosisError` where the folder cannot be watched. */
export async function watchCommand(args: Extract<RunArguments, { command: 'watch' }>): Promise<number> {
  const laid = { routine: await loadRoutine(args.routine), materials: {} };
  return besideRoutine(laid, (own) => watched(args, own));
}

async function watched(
  args: Extract<RunArguments, { command: 'watch' }>,
  { routine, materials }: LaidRoutine,
): Promise<number> {
  const folder = path.resolve(args.folder);
  const out = path.resolve(args.output);
  // The same after a restart, so that what workers did meanwhile is taken.
  const sender = `watch-${createHash('sha256').update(out).digest('hex').slice(0, 16)}`;
  const engine = await openEngine(process.env, await nameProgram(), sender, args.jobs);
  try {
    const watching = await watchFolder({
      folder,
      out,
      routine,
      materials: () => Promise.resolve(materials),
      date: () => dayOf(new Date()),
      engine,
      tell({ settled }) {
        if (!settled) return;
        const { kind, key, stays, ...row } = settled;
        console.log(process.stdout.isTTY ? settledWords(settled) : JSON.stringify(row));
      },
    });
    console.error(`kenosis: watching ${folder} with ${engine.words}. Ctrl+C ends it.`);
    await untilEnded();
    await watching.close();
    return 0;
  } finally {
    await engine.close();
  }
}
