import { rgbOfHex } from '../core/color/hex';
import { checkFile } from '../core/findings/check-file';
import { lineOf, reported } from '../core/findings/report';
import type { CheckArguments } from './args';
import { assertDistinct } from './distinct-files';
import { loadPicture } from './input';
import { readyPlace } from './output';
import { writeJson } from './write-json';

/** Runs `kenosis check`. Returns the lines to print and whether something was found. Throws `KenosisError`. */
export async function checkCommand(
  args: CheckArguments,
): Promise<{ readonly lines: string[]; readonly notes: readonly string[]; readonly found: boolean }> {
  const report = args.reportFile === null ? [] : [{ option: '--report', file: args.reportFile }];
  await assertDistinct([{ option: 'FILE', file: args.input }], report);
  for (const { file } of report) await readyPlace(file);
  const { original, notes } = await loadPicture(args.input, args);
  const all = checkFile(original, args.backgrounds.map(rgbOfHex));
  const findings = all.filter(({ kind }) => !args.ignored.includes(kind));
  const { width, height } = original;
  if (args.reportFile !== null)
    await writeJson(args.reportFile, { width, height, findings: findings.map(reported) });
  return { lines: findings.map(lineOf), notes, found: findings.length > 0 };
}
