import { isKenosisError } from '../core/errors';
import { readArguments, USAGE } from './args';
import { cutCommand } from './cut-command';

/** Arguments -> work -> exit code: 0 done, 2 wrong arguments, 1 anything else. */
async function main(args: readonly string[]): Promise<number> {
  if (args.includes('--help') || args.includes('-h')) {
    console.log(USAGE);
    return 0;
  }
  try {
    for (const line of await cutCommand(readArguments(args))) console.log(line);
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
