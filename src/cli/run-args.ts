import { parseArgs } from 'node:util';
import { badArgument, KenosisError } from '../core/errors';
import { FIRST_ROUTINES } from '../core/routine/first-routines';
import { STANDARD } from './output';

export const RUN_USAGE = `usage: kenosis run ROUTINE IN... -o FOLDER [--jobs N] [--resume] [--report FILE.json|FILE.csv]
       kenosis watch ROUTINE FOLDER -o FOLDER [--jobs N]
       kenosis worker [--jobs N]

  kenosis run carries a routine out on pictures and delivers into FOLDER, each once however it ends. ROUTINE is one of
  ${FIRST_ROUTINES.map(({ name }) => name).join(', ')}, or a file that was exported. IN is a
  picture or a folder of them; - stands for standard input, and as -o for standard output where the routine makes one file.
  kenosis watch does the same with files as they come into a folder, and moves them to done, held, skipped or failed in it.
  kenosis worker takes pictures from the queue that KENOSIS_QUEUE names, with the folder KENOSIS_SHARED that all machines see;
  with these two set, run and watch give their pictures to the workers.

  --jobs N              so many pictures at a time (without it: as many as there are processors)
  --resume              goes on with a run into FOLDER that was not ended: what was done is not done again
  --report FILE         writes what became of each picture, as JSON or CSV

  On a terminal its progress is shown; elsewhere a line of JSON is printed for each picture.

  exit codes: 0 all delivered; 1 something failed; 2 wrong arguments; 3 delivered, with findings; 4 not sure of some`;

export type RunArguments =
  | {
      readonly command: 'run';
      readonly routine: string;
      readonly inputs: readonly string[];
      readonly output: string;
      readonly jobs: number | null;
      readonly resume: boolean;
      readonly reportFile: string | null;
    }
  | {
      readonly command: 'watch';
      readonly routine: string;
      readonly folder: string;
      readonly output: string;
      readonly jobs: number | null;
    }
  | { readonly command: 'worker'; readonly jobs: number | null };

/** Reads the arguments of commands that carry out routines. Throws `bad-argument`. */
export function readRunArguments([command, ...rest]: readonly string[]): RunArguments {
  const { values, positionals } = parsed(rest, command);
  const jobs = readJobs(values.jobs);
  if (command === 'worker') {
    if (positionals.length > 0) throw badArgument('worker', 'no names', positionals[0]);
    return { command, jobs };
  }
  const [routine, ...inputs] = positionals;
  if (routine === undefined)
    throw badArgument('ROUTINE', 'the name of a routine, or a file of one', 'nothing');
  const { output } = values;
  if (!output) throw badArgument('-o', 'the folder to deliver into', 'nothing');
  if (command === 'watch') {
    if (inputs.length !== 1) throw badArgument('FOLDER', 'one folder to watch', `${inputs.length}`);
    return { command, routine, folder: inputs[0]!, output, jobs };
  }
  if (inputs.length === 0) throw badArgument('IN', 'pictures or folders of them', 'none');
  if (inputs.includes(STANDARD) && inputs.length > 1)
    throw badArgument('IN', '- alone, or named pictures', `${inputs.length} of both`);
  if (output === STANDARD && inputs[0] !== STANDARD)
    throw badArgument('-o', 'a folder, or - where IN is - too', STANDARD);
  const resume = values.resume ?? false;
  if (resume && inputs[0] === STANDARD) throw badArgument('--resume', 'named pictures', STANDARD);
  return { command: 'run', routine, inputs, output, jobs, resume, reportFile: values.report ?? null };
}

function parsed(args: string[], command: string | undefined) {
  const jobs = { type: 'string' } as const;
  const output = { type: 'string', short: 'o' } as const;
  const options =
    command === 'run'
      ? { jobs, output, resume: { type: 'boolean' } as const, report: { type: 'string' } as const }
      : command === 'watch'
        ? { jobs, output }
        : { jobs };
  try {
    const read = parseArgs({ args, allowPositionals: true, options });
    const values = read.values as { jobs?: string; output?: string; resume?: boolean; report?: string };
    return { values, positionals: read.positionals };
  } catch (cause) {
    throw new KenosisError('bad-argument', (cause as Error).message, { cause });
  }
}

const MOST_JOBS = 64;

/** `--jobs N`. Throws `bad-argument`. */
export function readJobs(text: string | undefined): number | null {
  if (text === undefined) return null;
  const jobs = Number(text);
  if (!/^\d{1,9}$/.test(text) || jobs < 1 || jobs > MOST_JOBS)
    throw badArgument('--jobs', `1 to ${MOST_JOBS}`, text);
  return jobs;
}
