import { badArgument } from '../core/errors';
import { readArguments, type CheckArguments, type CutArguments } from './args';
import { COMMAND_NAMES, helpOf, usageOf } from './commands';
import { checkCommand } from './check-command';
import { cutCommand } from './cut-command';
import { cutMany } from './cut-many';
import { failureOf, WRONG } from './outcome';
import { readPlaceArguments } from './place-args';
import { placeCommand } from './place-command';
import { STANDARD } from './output';

/** The exit code of a check that found something. */
const FOUND = 3;

const warn = (message: string) => console.error(`kenosis: ${message}`);

/** Parts of the program that are loaded where they are needed. */
export interface Parts {
  /** The file that threads of `kenosis cut` on several pictures run. */
  readonly program: string;
  /** Commands that carry out routines. */
  readonly runs: (args: readonly string[]) => Promise<number>;
}

/** Arguments -> work -> exit code: 0 done, 3 a check found something, 4 not sure, 2 wrong arguments, 1 anything else. */
export async function kenosis(args: readonly string[], parts: Parts): Promise<number> {
  const [command] = args;
  if (args.includes('--help') || args.includes('-h')) {
    console.log(helpOf(command));
    return 0;
  }
  try {
    switch (command) {
      case 'cut':
      case 'check':
        return await cutOrCheck(args, parts.program);
      case 'place':
        return await place(args.slice(1));
      case 'mark':
      case 'run':
      case 'watch':
      case 'worker':
        return await parts.runs(args);
      default:
        throw badArgument(
          'command',
          `${COMMAND_NAMES.slice(0, -1).join(', ')} or ${COMMAND_NAMES.at(-1)}`,
          command ?? 'nothing',
        );
    }
  } catch (error) {
    const { exit, message } = failureOf(error);
    warn(exit === WRONG ? `${message}\n\n${usageOf(command)}` : message);
    return exit;
  }
}

async function cutOrCheck(args: readonly string[], program: string): Promise<number> {
  const read = readArguments(args);
  if (read.command === 'cut-many') return await cutMany(read, program, { say: console.log, warn });
  const { lines, notes, found } =
    read.command === 'check' ? await checkCommand(read) : { ...(await cutCommand(read)), found: false };
  for (const note of notes) warn(note);
  for (const line of lines) say(read, line);
  return found ? FOUND : 0;
}

/** `kenosis place`: lays a cutout on a page or a picture. */
async function place(args: readonly string[]): Promise<number> {
  const { lines, notes } = await placeCommand(readPlaceArguments(args));
  for (const note of notes) warn(note);
  for (const line of lines) console.log(line);
  return 0;
}

/** What is said stands on standard output, unless a file goes there. */
function say(args: CutArguments | CheckArguments, line: string): void {
  const output = args.command === 'cut' ? [args.output, args.saveCutFile] : [];
  const taken = [...output, args.reportFile].includes(STANDARD);
  if (taken) console.error(line);
  else console.log(line);
}
