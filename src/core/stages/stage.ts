import type { z } from 'zod';
import type { Matrix3 } from '../numeric/matrix3';
import type { Range, Stroke } from './shapes';

/** A number that a person sets: with a slider, in a field, or by an option of the command line. */
export interface Field extends Range {
  readonly label: string;
  readonly unit?: '%' | 'px' | '°';
  /** Only whole numbers. */
  readonly whole?: true;
  /** What a slider steps by; 1 where absent. */
  readonly step?: number;
  /** A few words under the slider. */
  readonly note?: string;
  /** What a change of it is called in undo, before the number; its label where absent. */
  readonly change?: string;
  /** What null is called in undo, where it may be null. */
  readonly unset?: string;
  /** What the strip says before the number where it is not as untouched; its label where absent. */
  readonly short?: string;
  readonly option?: Option;
}

/** An option of the command line: `--name VALUE`. */
export interface Option {
  readonly name: string;
  /** What stands for the number in the list of options: `PX`, `N`. */
  readonly value: string;
  /** What it does, in lines of at most 100 characters. */
  readonly help: readonly string[];
}

export type Fields = Readonly<Record<string, Field>>;

/** How places of an original lie on the part of a frame that is worked on, in its pixels. */
export interface Placing {
  /** Where a place lies; outside of the part too. */
  at<T extends { readonly x: number; readonly y: number }>(place: T): T;
  /** The same, moved to the nearest pixel of the part. */
  within<T extends { readonly x: number; readonly y: number }>(place: T): T;
  isInside(place: { readonly x: number; readonly y: number }): boolean;
  stroke<T extends Stroke>(stroke: T): T;
  /** Leads places of the original, with decimals, onto the part. */
  readonly toWork: Matrix3;
}

/** A place that decides beyond the crop, so that it has to be worked on too. */
export interface FarPlace {
  readonly x: number;
  readonly y: number;
  readonly reachPx: number;
}

/** What the strip says of a piece beside its settings. */
export interface PieceWords {
  /** The share that is cleared, in words; null while it is not known. */
  readonly cleared: string | null;
  readonly deliveries: number;
}

/**
 * A stage of the cut: everything about its settings in one place. The cut's schema, undo, the strip, keys, options of the
 * command line and what belongs together in caches follow from a list of these (`STAGES`); what it does to pixels is its
 * `Work`.
 */
export interface Stage<K extends string = string, S = unknown> {
  /** Its field in the cut. */
  readonly key: K;
  readonly name: string;
  /** What it does to all pixels, while it is doing it: `clearing`. */
  readonly doing: string;
  readonly schema: z.ZodType<S>;
  /** Settings that nobody has touched: they change nothing, or are as they are found. */
  readonly untouched: S;
  /** Its plain numbers. */
  readonly fields: Fields;
  /** Whether it can be switched off: its settings have `on`. */
  readonly switched: boolean;
  /** Settings that belong to this picture alone: they are not laid on another one. */
  readonly own: readonly string[];
  /** How `after` differs from `before`, in a few words; null where it does not, or its fields and switch say it. */
  describe(before: S, after: S): string | null;
  /** What the strip says; null: what its fields say. */
  summary(settings: S, words: PieceWords): string | null;
  /** Its settings with all places on the work area; what lies outside and does nothing is left out. */
  place(settings: S, placing: Placing): S;
  /** What it needs to see of the picture beyond the crop: all, or these places. */
  beyondCrop(settings: S): 'all' | readonly FarPlace[];
  /** What of its settings decides about pixels: equal where the pixels are. */
  pixels(settings: S): unknown;
}

type Told<S> = Partial<Stage<string, S>> & Pick<Stage<string, S>, 'name' | 'schema' | 'untouched'>;

/** A stage; what is not told of it is as with a stage of plain numbers that says nothing of places. */
export function stageOf<const K extends string, S extends object>(key: K, told: Told<S>): Stage<K, S> {
  return {
    doing: `drawing ${told.name}`,
    fields: {},
    switched: 'on' in told.untouched,
    own: [],
    describe: () => null,
    summary: () => null,
    place: (settings) => settings,
    beyondCrop: () => [],
    pixels: (settings) => settings,
    ...told,
    key,
  };
}

/** How a stage's settings differ, in a few words; null where they do not. */
export function describeStage<S>(stage: Stage<string, S>, before: S, after: S): string | null {
  if (same(before, after)) return null;
  const told = stage.describe(before, after);
  if (told !== null) return told;
  for (const [key, { label, change, unit, unset }] of Object.entries(stage.fields)) {
    const value = valueOf(after, key);
    if (value === valueOf(before, key)) continue;
    const words = change ?? label.toLowerCase();
    return typeof value === 'number' ? `${words} ${withUnit(value, unit)}` : `${words} ${unset ?? 'unset'}`;
  }
  if (stage.switched && valueOf(before, 'on') !== valueOf(after, 'on'))
    return `switch ${stage.name} ${valueOf(after, 'on') === true ? 'on' : 'off'}`;
  return `change ${stage.name}`;
}

/** What the strip says of a stage. */
export function summarize<S>(stage: Stage<string, S>, settings: S, words: PieceWords): string {
  if (stage.switched && valueOf(settings, 'on') === false) return 'switched off';
  const told = stage.summary(settings, words) ?? fieldWords(stage, settings).join(', ');
  return told === '' ? 'nothing set' : unbroken(told);
}

/** A text that does not break between a number and its unit. */
function unbroken(text: string): string {
  return text.replace(/(\d) (?=px\b|%|mm\b)/g, '$1\u00a0');
}

/** What a stage's numbers are, where they are not as untouched. */
export function fieldWords(stage: Pick<Stage, 'fields' | 'untouched'>, settings: unknown): string[] {
  return Object.entries(stage.fields).flatMap(([key, { label, short, unit }]) => {
    const value = valueOf(settings, key);
    if (typeof value !== 'number' || value === valueOf(stage.untouched, key)) return [];
    return [`${short ?? label.toLowerCase()} ${withUnit(value, unit)}`];
  });
}

/** A number with its unit. */
function withUnit(value: number, unit: Field['unit']): string {
  return unit === undefined ? String(value) : unit === '°' ? `${value}°` : `${value} ${unit}`;
}

export function same(one: unknown, other: unknown): boolean {
  return one === other || JSON.stringify(one) === JSON.stringify(other);
}

function valueOf(settings: unknown, key: string): unknown {
  return (settings as Readonly<Record<string, unknown>>)[key];
}
