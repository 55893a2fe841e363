import { nameColor } from '../proposal/name-color';
import type { OutputSet } from '../stages/deliver/sets';
import type { Padding } from '../stages/deliver/output-settings';
import { EDGE } from '../stages/edge/settings';
import { INK } from '../stages/ink/settings';
import { PREPARE } from '../stages/prepare/settings';
import type { Stage } from '../stages/stage';
import type { MarkWish } from '../watermark/settings';
import type { ClearWish, DeliverWish, Doubt, Routine, RoutineSteps } from './settings';

/** What a routine does, in order, in short phrases: `edge offset -0.4 px`. */
export function routineWords(routine: Routine): string[] {
  const { notSure, findings, mark } = routine;
  if (mark) return markWords(mark);
  return [
    ...stepsWords(routine),
    `${DOUBT_WORDS[notSure]} what is not sure`,
    ...(findings === 'deliver' ? [] : [`${DOUBT_WORDS[findings]} what has findings`]),
  ];
}

/** What marking photos does. */
function markWords({ watermark, format, resize, location, author, copyright }: MarkWish): string[] {
  return [
    `put "${watermark.name}" on photos`,
    resize.kind === 'long' ? `longer side at most ${resize.px}\u00a0px` : null,
    resize.kind === 'megapixels' ? `at most ${resize.megapixels}\u00a0megapixels` : null,
    format === 'same' ? null : `as ${format === 'webp' ? 'WebP' : format.toUpperCase()}`,
    location === 'dropped' ? 'without where they were taken' : null,
    author === '' ? null : `author ${author}`,
    copyright === '' ? null : `copyright ${copyright}`,
  ].filter((words) => words !== null);
}

export const DOUBT_WORDS: Readonly<Record<Doubt, string>> = {
  deliver: 'deliver',
  hold: 'hold back',
  skip: 'leave out',
};

/** The same of settings that are laid on other pieces. */
export function stepsWords({ clear, prepare, edge, ink, deliver }: RoutineSteps): string[] {
  return [
    clear ? clearWords(clear) : null,
    ...fieldWishes(PREPARE, prepare, ''),
    prepare?.removeRules === true ? 'remove ruled lines' : null,
    ...fieldWishes(EDGE, edge, 'edge '),
    ink?.color === null ? 'own colors' : ink?.color ? `ink ${colorWords(ink.color)}` : null,
    ...fieldWishes(INK, ink, 'ink '),
    ink?.light === true ? 'light version' : null,
    ink?.colorways && ink.colorways.length > 0
      ? `colorways ${listed(ink.colorways.map(({ name }) => name))}`
      : null,
    ...(deliver ? deliverWords(deliver) : []),
  ].filter((words) => words !== null);
}

function clearWords({
  method,
  tolerance,
  reach,
  backdrop,
  shade,
  channel,
  speckPx,
  crop,
  straighten,
}: ClearWish) {
  const wishes = [
    tolerance !== null && `tolerance ${tolerance}`,
    reach !== null && `reach ${reach}`,
    backdrop !== null && `backdrop ${backdrop}`,
    shade !== null && `shade ${shade.darker} darker, ${shade.lighter} lighter`,
    channel !== null && `read ${channel}`,
    speckPx !== null && `drop specks under ${speckPx} px²`,
    !straighten && 'not straightened',
    !crop && 'not cropped',
  ].filter((part) => typeof part === 'string');
  return [`propose${method === null ? '' : ` by ${method}`}`, ...wishes].join(', ');
}

/** The numbers that a wish sets, also those that are as untouched: they are laid on others all the same. */
function fieldWishes(
  { fields, switched }: Pick<Stage, 'fields' | 'switched' | 'name'>,
  wish: object | null,
  before: string,
): string[] {
  if (!wish) return [];
  const values = wish as Readonly<Record<string, unknown>>;
  if (switched && values.on === false) return [`${before}off`.trim()];
  return Object.entries(fields).flatMap(([key, { label, short, unit, unset }]) => {
    const value = values[key];
    const word = (short ?? label).toLowerCase();
    if (value === null) return unset ? [`${before}${word} ${unset}`] : [];
    if (typeof value !== 'number') return [];
    return [`${before}${word} ${value}${unit === '°' ? '°' : unit ? `\u00a0${unit}` : ''}`];
  });
}

function deliverWords({ sets, fileName, trim, padding, hidden }: DeliverWish): string[] {
  const room = padding && paddingWords(padding);
  return [
    trim === null
      ? room && `padding ${room}`
      : trim
        ? `trim${room ? ` with ${room} padding` : ''}`
        : 'no trim',
    setsWords(sets),
    fileName === null ? null : `file name ${fileName}`,
    hidden === 'bled' ? 'color bled outward' : null,
  ].filter((words) => words !== null);
}

function setsWords(sets: readonly OutputSet[]): string {
  return `${sets.length === 1 ? 'set' : 'sets'} ${listed(sets.map(({ name }) => name))}`;
}

function paddingWords({ top, right, bottom, left, unit }: Padding): string {
  const isEven = top === right && right === bottom && bottom === left;
  return `${isEven ? top : [top, right, bottom, left].join(', ')}\u00a0${unit}`;
}

/** A color with its name: `blue #1d2a6b`. */
export function colorWords(color: string): string {
  const [red, green, blue] = [1, 3, 5].map((at) => parseInt(color.slice(at, at + 2), 16)) as [
    number,
    number,
    number,
  ];
  return `${nameColor({ red, green, blue }).toLowerCase()} ${color}`;
}

/** `a, b and c` */
export function listed(words: readonly string[]): string {
  return words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}
