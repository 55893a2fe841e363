import { failureOf, WRONG } from './outcome';
import { readRunArguments, RUN_USAGE } from './run-args';
import { runCommand } from './run-command';
import { watchCommand } from './watch-command';
import { workerCommand } from './worker-command';

/** `kenosis run`, `watch` and `worker`: arguments -> work -> exit code. */
export default async function runsMain(args: readonly string[]): Promise<number> {
  try {
    const read = readRunArguments(args);
    if (read.command === 'run') return await runCommand(read);
    return read.command === 'watch' ? await watchCommand(read) : await workerCommand(read);
  } catch (error) {
    const { exit, message } = failureOf(error);
    console.error(`kenosis: ${message}${exit === WRONG ? `\n\n${RUN_USAGE}` : ''}`);
    return exit;
  }
}
