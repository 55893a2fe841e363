import { readMarkArguments } from './mark-args';
import { markCommand } from './mark-command';
import { readRunArguments } from './run-args';
import { runCommand } from './run-command';
import { watchCommand } from './watch-command';
import { workerCommand } from './worker-command';

/** `kenosis run`, `watch`, `worker` and `mark`: arguments -> work -> exit code. Throws `KenosisError`. */
export default async function runsMain(args: readonly string[]): Promise<number> {
  if (args[0] === 'mark') return markCommand(readMarkArguments(args.slice(1)));
  const read = readRunArguments(args);
  if (read.command === 'run') return runCommand(read);
  return read.command === 'watch' ? watchCommand(read) : workerCommand(read);
}
