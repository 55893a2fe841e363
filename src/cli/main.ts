import { isKenosisError } from '../core/errors';
import { readArguments, USAGE, type CheckArguments, type CutArguments } from './args';
import { checkCommand } from './check-command';
import { cutCommand } from './cut-command';
import { STANDARD, wordsOf } from './output';

/** The exit code of a check that found something. */
const FOUND = 3;

/** The exit code of a cut that was to be sure, or to ask, and is not sure. */
const NOT_SURE = 4;

/** Arguments -> work -> exit code: 0 done, 3 a check found something, 4 not sure, 2 wrong arguments, 1 anything else. */
async function main(args: readonly string[]): Promise<number> {
  if (args.includes('--help') || args.includes('-h')) {
    console.log(USAGE);
    return 0;
  }
  try {
    const read = readArguments(args);
    const { lines, notes, found } =
      read.command === 'check' ? await checkCommand(read) : { ...(await cutCommand(read)), found: false };
    for (const note of notes) console.error(`kenosis: ${note}`);
    for (const line of lines) say(read, line);
    return found ? FOUND : 0;
  } catch (error) {
    if (!isKenosisError(error)) {
      const inside = (error as NodeJS.ErrnoException).code ? wordsOf(error) : (error as Error).name;
      console.error(`kenosis: it failed inside (${inside}). Nothing that was there was changed.`);
      return 1;
    }
    const message = `kenosis: ${error.message.replaceAll('\n', ' ')}`;
    const hint = error.wayOut === 'accept-damaged' ? ' (--damaged accept)' : '';
    if (error.code !== 'bad-argument') {
      console.error(message + hint);
      return error.code === 'not-sure' ? NOT_SURE : 1;
    }
    console.error(`${message}\n\n${USAGE}`);
    return 2;
  }
}

/** What is said stands on standard output, unless a file goes there. */
function say(args: CutArguments | CheckArguments, line: string): void {
  const output = args.command === 'cut' ? [args.output, args.saveCutFile] : [];
  const taken = [...output, args.reportFile].includes(STANDARD);
  if (taken) console.error(line);
  else console.log(line);
}

process.exitCode = await main(process.argv.slice(2));
