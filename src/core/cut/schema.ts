import { z } from 'zod';
import { placeShape } from '../stages/shapes';
import type { Stage } from '../stages/stage';
import { STAGES } from '../stages/stages';
import { pageSchema, type Page } from './page';

/** The version this program writes. `parseCut` brings older ones up to date and refuses all others. */
export const CUT_VERSION = 8;

/** Findings that a cut remembers as dismissed at most. */
export const MOST_DISMISSED = 2000;

export const findingKindSchema = z.enum([
  'missing',
  'pocket',
  'speck',
  'residue',
  'pinhole',
  'halo',
  'rough-edge',
  'frame',
  'alike',
  'tolerance',
  'idle-sample',
  'print-size',
  'hidden-color',
]);

/** A finding that somebody looked at and left: of one kind, at a place of the original. */
export const dismissedSchema = z.strictObject({ kind: findingKindSchema, ...placeShape });

export const findingsSchema = z.strictObject({
  dismissed: z.array(dismissedSchema).max(MOST_DISMISSED),
});

/** The settings of all stages in a list, by their keys. */
export type SettingsOf<T extends readonly Stage[]> = {
  [One in T[number] as One['key']]: z.infer<One['schema']>;
};

/** What a cut consists of: which picture of its file it is of, the settings of each stage, and what was said of findings. */
export interface Cut extends SettingsOf<typeof STAGES> {
  format: 'kenosis-cut';
  version: typeof CUT_VERSION;
  page: Page;
  findings: z.infer<typeof findingsSchema>;
}

/** The schema of cuts with these stages. */
export function cutSchemaOf(stages: readonly Stage[]): z.ZodType<Cut> {
  const settings = Object.fromEntries(stages.map(({ key, schema }) => [key, schema]));
  return z.strictObject({
    format: z.literal('kenosis-cut'),
    version: z.literal(CUT_VERSION),
    page: pageSchema,
    ...settings,
    findings: findingsSchema,
  }) as unknown as z.ZodType<Cut>;
}

export const cutSchema = cutSchemaOf(STAGES);

/** The settings of one stage of a cut. */
export function settingsOf<K extends string, S>(cut: Cut, { key }: Stage<K, S>): S {
  return (cut as unknown as Readonly<Record<K, S>>)[key];
}

/** The cut with other settings of some stages: `change` gives each stage's. */
export function withSettings(
  cut: Cut,
  stages: readonly Stage[],
  change: (stage: Stage, settings: unknown) => unknown,
): Cut {
  const changed = Object.fromEntries(
    stages.map((stage) => [stage.key, change(stage, settingsOf(cut, stage))]),
  );
  return { ...cut, ...changed };
}

/** What the checks look for; see the findings room. */
export type FindingKind = z.infer<typeof findingKindSchema>;
export type Dismissed = z.infer<typeof dismissedSchema>;
