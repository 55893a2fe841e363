import { fileURLToPath } from 'node:url';
import { isMainThread } from 'node:worker_threads';
import { readArguments, USAGE, type CheckArguments, type CutArguments } from './args';
import { checkCommand } from './check-command';
import { cutCommand } from './cut-command';
import { cutMany, cutShare } from './cut-many';
import { failureOf, WRONG } from './outcome';
import { MARK_USAGE } from './mark-args';
import { PLACE_USAGE, readPlaceArguments } from './place-args';
import { placeCommand } from './place-command';
import { STANDARD } from './output';
import type runsMain from './runs-main';
import { RUN_COMMANDS, RUN_USAGE } from './run-args';

/** The exit code of a check that found something. */
const FOUND = 3;

const warn = (message: string) => console.error(`kenosis: ${message}`);

/** Arguments -> work -> exit code: 0 done, 3 a check found something, 4 not sure, 2 wrong arguments, 1 anything else. */
async function main(args: readonly string[]): Promise<number> {
  if (args.includes('--help') || args.includes('-h')) {
    console.log(`${USAGE}\n\n${PLACE_USAGE}\n\n${MARK_USAGE}\n\n${RUN_USAGE}`);
    return 0;
  }
  if (args[0] === 'mark' || RUN_COMMANDS.some((command) => command === args[0])) return await runs(args);
  if (args[0] === 'place') return await place(args.slice(1));
  try {
    const read = readArguments(args);
    if (read.command === 'cut-many')
      return await cutMany(read, fileURLToPath(import.meta.url), { say: console.log, warn });
    const { lines, notes, found } =
      read.command === 'check' ? await checkCommand(read) : { ...(await cutCommand(read)), found: false };
    for (const note of notes) warn(note);
    for (const line of lines) say(read, line);
    return found ? FOUND : 0;
  } catch (error) {
    const { exit, message } = failureOf(error);
    warn(exit === WRONG ? `${message}\n\n${USAGE}` : message);
    return exit;
  }
}

/** `kenosis place`: lays a cutout on a page or a picture. */
async function place(args: readonly string[]): Promise<number> {
  try {
    const { lines, notes } = await placeCommand(readPlaceArguments(args));
    for (const note of notes) warn(note);
    for (const line of lines) console.log(line);
    return 0;
  } catch (error) {
    const { exit, message } = failureOf(error);
    warn(exit === WRONG ? `${message}\n\n${PLACE_USAGE}` : message);
    return exit;
  }
}

/** Commands that carry out routines are a program of their own: the others need neither database nor queue. */
async function runs(args: readonly string[]): Promise<number> {
  const bundle = new URL('./kenosis-runs.mjs', import.meta.url).href;
  const { default: main } = (await import(bundle)) as { readonly default: typeof runsMain };
  return main(args);
}

/** What is said stands on standard output, unless a file goes there. */
function say(args: CutArguments | CheckArguments, line: string): void {
  const output = args.command === 'cut' ? [args.output, args.saveCutFile] : [];
  const taken = [...output, args.reportFile].includes(STANDARD);
  if (taken) console.error(line);
  else console.log(line);
}

if (isMainThread) process.exitCode = await main(process.argv.slice(2));

/** What a thread of the command line does. */
export default cutShare;
