import type { Cut } from '../cut/schema';
import type { Clear, Sample } from '../stages/clear/settings';
import type { Output } from '../stages/deliver/output-settings';
import type { Deliver } from '../stages/deliver/settings';
import type { ClearWish, DeliverWish, RoutineSteps } from './settings';

/**
 * A cut with the settings of a routine laid on it. Places, strokes, crops and answers stay those of the piece: of Clear only
 * tolerance, shade, backdrop, reach and specks travel, onto the samples that are there.
 */
export function laidOn(cut: Cut, { clear, prepare, edge, ink, deliver }: RoutineSteps): Cut {
  return {
    ...cut,
    prepare: { ...cut.prepare, ...said(prepare) },
    clear: clear ? clearedAsWished(cut.clear, clear) : cut.clear,
    edge: { ...cut.edge, ...said(edge) },
    ink: { ...cut.ink, ...said(ink) },
    deliver: deliver ? deliveredAsWished(cut.deliver, deliver) : cut.deliver,
  };
}

/** The fields that were said. */
function said<T extends object>(wish: T | null): { [K in keyof T]: Exclude<T[K], undefined> } {
  const fields = Object.entries(wish ?? {}).filter(([, value]) => value !== undefined);
  return Object.fromEntries(fields) as { [K in keyof T]: Exclude<T[K], undefined> };
}

/**
 * Whether a piece needs a proposal before a routine can be laid on it: nothing is cleared yet, or it is cleared in another way
 * than is wished.
 */
export function needsProposal({ samples, marks, ink }: Clear, wish: ClearWish | null): boolean {
  const isByInk = ink !== null && ink.on;
  if (samples.length === 0 && marks.length === 0 && !isByInk) return true;
  if (wish?.method === 'ink' && !isByInk) return true;
  if (wish?.method === 'color' && isByInk && samples.length === 0) return true;
  return Boolean(wish?.channel && isByInk && ink.channel !== wish.channel);
}

function clearedAsWished(clear: Clear, wish: ClearWish): Clear {
  const { tolerance, reach, backdrop, shade, speckPx } = wish;
  const change: Partial<Sample> = {
    ...(tolerance === null ? {} : { rule: 'tolerance', tolerance }),
    ...(reach === null ? {} : { reach }),
    ...(backdrop === null ? {} : { backdrop }),
    ...(shade === null ? {} : { shade }),
  };
  return {
    ...clear,
    samples: clear.samples.map((sample) => ({ ...sample, ...change })),
    ink: clear.ink && speckPx !== null ? { ...clear.ink, speckPx } : clear.ink,
  };
}

function deliveredAsWished(deliver: Deliver, wish: DeliverWish): Deliver {
  const { sets, fileName, hidden, print, credit } = wish;
  return {
    ...deliver,
    fileName: fileName ?? deliver.fileName,
    print: print ?? deliver.print,
    outputs: sets.flatMap(({ outputs }) => outputs.map((output) => sizedAsWished(output, wish))),
    hidden,
    credit,
  };
}

/** An output with what a routine says of all of its files. */
export function sizedAsWished(
  output: Output,
  { trim, padding }: Pick<DeliverWish, 'trim' | 'padding'>,
): Output {
  const change = { ...(trim === null ? {} : { trim }), ...(padding === null ? {} : { padding }) };
  return { ...output, size: { ...output.size, ...change } } as Output;
}
