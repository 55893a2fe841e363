import path from 'node:path';
import { rgbOfHex } from '../core/color/hex';
import { checkFile } from '../core/findings/check-file';
import { lineOf, reported } from '../core/findings/report';
import type { CheckArguments } from './args';
import { load, writeJson } from './cut-command';

/** Runs `kenosis check`. Returns the lines to print and whether something was found. Throws `KenosisError`. */
export async function checkCommand(
  args: CheckArguments,
): Promise<{ readonly lines: string[]; readonly found: boolean }> {
  const { original } = await load(args.input, path.basename(args.input));
  const all = checkFile(original, args.backgrounds.map(rgbOfHex));
  const findings = all.filter(({ kind }) => !args.ignored.includes(kind));
  const { width, height } = original;
  if (args.reportFile !== null)
    await writeJson(args.reportFile, { width, height, findings: findings.map(reported) });
  return { lines: findings.map(lineOf), found: findings.length > 0 };
}
