import { MARK_USAGE, readMarkArguments } from './mark-args';
import { markCommand } from './mark-command';
import { failureOf, WRONG } from './outcome';
import { readRunArguments, RUN_USAGE } from './run-args';
import { runCommand } from './run-command';
import { watchCommand } from './watch-command';
import { workerCommand } from './worker-command';

/** `kenosis run`, `watch`, `worker` and `mark`: arguments -> work -> exit code. */
export default async function runsMain(args: readonly string[]): Promise<number> {
  const isMark = args[0] === 'mark';
  try {
    if (isMark) return await markCommand(readMarkArguments(args.slice(1)));
    const read = readRunArguments(args);
    if (read.command === 'run') return await runCommand(read);
    return read.command === 'watch' ? await watchCommand(read) : await workerCommand(read);
  } catch (error) {
    const { exit, message } = failureOf(error);
    console.error(`kenosis: ${message}${exit === WRONG ? `\n\n${isMark ? MARK_USAGE : RUN_USAGE}` : ''}`);
    return exit;
  }
}
