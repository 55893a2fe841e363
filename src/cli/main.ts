import { isKenosisError } from '../core/errors';
import { readArguments, USAGE } from './args';
import { checkCommand } from './check-command';
import { cutCommand } from './cut-command';

/** The exit code of a check that found something. */
const FOUND = 3;

/** Arguments -> work -> exit code: 0 done, 3 a check found something, 2 wrong arguments, 1 anything else. */
async function main(args: readonly string[]): Promise<number> {
  if (args.includes('--help') || args.includes('-h')) {
    console.log(USAGE);
    return 0;
  }
  try {
    const read = readArguments(args);
    if (read.command === 'check') {
      const { lines, found } = await checkCommand(read);
      for (const line of lines) console.log(line);
      return found ? FOUND : 0;
    }
    for (const line of await cutCommand(read)) console.log(line);
    return 0;
  } catch (error) {
    const message = `kenosis: ${(error as Error).message.replaceAll('\n', ' ')}`;
    if (!isKenosisError(error) || error.code !== 'bad-argument') {
      console.error(message);
      return 1;
    }
    console.error(`${message}\n\n${USAGE}`);
    return 2;
  }
}

process.exitCode = await main(process.argv.slice(2));
