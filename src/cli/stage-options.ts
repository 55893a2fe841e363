import { badArgument, KenosisError } from '../core/errors';
import { settingsOf, type Cut } from '../core/cut/schema';
import type { Field, Option, Stage } from '../core/stages/stage';
import { STAGES } from '../core/stages/stages';

/** Numbers of stages that were given, by the stage's key and the field's name. */
export type GivenSettings = Readonly<Record<string, Readonly<Record<string, number>>>>;

interface StageOption {
  readonly stage: Stage;
  readonly name: string;
  readonly field: Field;
  readonly option: Option;
}

/** The options that set a number of a stage, in the order of the stages. */
function optionsOf(stages: readonly Stage[]): readonly StageOption[] {
  return stages.flatMap((stage) =>
    Object.entries(stage.fields).flatMap(([name, field]) =>
      field.option ? [{ stage, name, field, option: field.option }] : [],
    ),
  );
}

/** What the argument parser is told of these options. */
export function stageOptions(
  stages: readonly Stage[] = STAGES,
): Readonly<Record<string, { readonly type: 'string' }>> {
  return Object.fromEntries(optionsOf(stages).map(({ option: { name } }) => [name, { type: 'string' }]));
}

/** The options in the first lines of the usage. */
export function stageUsage(stages: readonly Stage[] = STAGES): readonly string[] {
  return optionsOf(stages).map(({ option: { name, value } }) => `[--${name} ${value}]`);
}

/** What each option does; explanations begin at that column. */
export function stageHelp(column: number, stages: readonly Stage[] = STAGES): readonly string[] {
  return optionsOf(stages).flatMap(({ option: { name, value, help } }) =>
    help.map((line, k) => (k === 0 ? `  --${name} ${value}` : '').padEnd(column) + line),
  );
}

/** Reads the numbers that were given. Throws `bad-argument` where one is none or out of range. */
export function readSettings(
  values: Readonly<Record<string, unknown>>,
  stages: readonly Stage[] = STAGES,
): GivenSettings {
  const given: Record<string, Record<string, number>> = {};
  for (const { stage, name, field, option } of optionsOf(stages)) {
    const text = values[option.name];
    if (typeof text !== 'string') continue;
    (given[stage.key] ??= {})[name] = readNumber(option.name, field, text);
  }
  return given;
}

function readNumber(option: string, { min, max, whole }: Field, text: string): number {
  const value = Number(text);
  const form = whole ? /^-?\d+$/ : /^-?\d+(\.\d+)?$/;
  if (!form.test(text) || value < min || value > max)
    throw badArgument(`--${option}`, `${whole ? 'a whole number from ' : ''}${min} to ${max}`, text);
  return value;
}

/** The cut with the numbers that were given. Throws `bad-argument` where their stage is switched off, so that they would do nothing. */
export function withGiven(cut: Cut, given: GivenSettings, stages: readonly Stage[] = STAGES): Cut {
  let changed = cut;
  for (const stage of stages) {
    const settings = given[stage.key];
    const [first] = Object.keys(settings ?? {});
    if (!settings || first === undefined) continue;
    const before = settingsOf(cut, stage) as { readonly on?: boolean };
    if (before.on === false)
      throw new KenosisError(
        'bad-argument',
        `--${stage.fields[first]!.option!.name}: expected a cut whose ${stage.name} is on, got one where it is off; set ${stage.key}.on to true in it`,
      );
    changed = { ...changed, [stage.key]: { ...before, ...settings } };
  }
  return changed;
}
