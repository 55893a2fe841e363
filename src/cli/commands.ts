import { USAGE } from './args';
import { MARK_USAGE } from './mark-args';
import { PLACE_USAGE } from './place-args';
import { RUN_USAGE } from './run-args';

/** What each command does, in a few words, and its whole help; commands that share a help are told of together. */
const COMMANDS = {
  cut: { does: 'takes the background off pictures', help: USAGE },
  check: { does: 'looks a finished picture over', help: USAGE },
  place: { does: 'lays a cutout on a page or a picture', help: PLACE_USAGE },
  mark: { does: 'puts a watermark on photos', help: MARK_USAGE },
  run: { does: 'carries a routine out on pictures', help: RUN_USAGE },
  watch: { does: 'does so with what comes into a folder', help: RUN_USAGE },
  worker: { does: 'takes pictures from a queue', help: RUN_USAGE },
} as const;

export type Command = keyof typeof COMMANDS;

export const COMMAND_NAMES = Object.keys(COMMANDS) as Command[];

/** The help of a command, or of all. */
export function helpOf(command: string | undefined): string {
  const one = COMMAND_NAMES.find((name) => name === command);
  if (one) return COMMANDS[one].help;
  const list = COMMAND_NAMES.map((name) => `  ${name.padEnd(8)}${COMMANDS[name].does}`);
  const helps = [...new Set(COMMAND_NAMES.map((name) => COMMANDS[name].help))];
  return [['kenosis COMMAND ...', ...list].join('\n'), ...helps].join('\n\n');
}

/** What is said under an argument that is wrong: the lines of usage, and where there is more. */
export function usageOf(command: string | undefined): string {
  const one = COMMAND_NAMES.find((name) => name === command);
  if (!one) return `usage: kenosis ${COMMAND_NAMES.join('|')} ...\nkenosis --help tells more.`;
  const lines = COMMANDS[one].help.split('\n\n')[0]!.split('\n');
  return `${ownLines(lines, one)}\nkenosis ${one} --help tells more.`;
}

/** Of the usage of several commands those lines that are one's own: from where it is named to the next that is named. */
function ownLines(lines: readonly string[], command: Command): string {
  let isOwn = false;
  const own = lines.filter((line) => {
    const named = /^(?:usage:| {6}) kenosis (\w+)/.exec(line)?.[1];
    if (named !== undefined) isOwn = named === command;
    return isOwn;
  });
  return own.join('\n').replace(/^ {6}/, 'usage:');
}
