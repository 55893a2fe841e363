import { AS_IT_IS, NO_PADDING } from '../stages/deliver/output-settings';
import { FIRST_SETS, type OutputSet } from '../stages/deliver/sets';
import { AS_FOUND, NO_STEPS, ROUTINE_VERSION, type DeliverWish, type Routine } from './settings';

/** A PNG as large as the cutout. */
const FULL: OutputSet = {
  name: 'full size',
  hidden: 'removed',
  outputs: [{ format: 'png', size: AS_IT_IS }],
};

const ROOM = { ...NO_PADDING, top: 5, right: 5, bottom: 5, left: 5, unit: '%' } as const;

function delivering(sets: readonly OutputSet[], change: Partial<DeliverWish> = {}): DeliverWish {
  return {
    sets: sets.map((set) => ({ ...set, outputs: [...set.outputs] })),
    fileName: null,
    trim: null,
    padding: null,
    hidden: 'removed',
    print: null,
    credit: { author: '', copyright: '', description: '' },
    ...change,
  };
}

/** A routine that proposes for each picture, delivers it in full size, and holds back what is not sure. */
export function newRoutine(name: string, change: Partial<Routine> = {}): Routine {
  return {
    format: 'kenosis-routine',
    version: ROUTINE_VERSION,
    name,
    ...NO_STEPS,
    clear: AS_FOUND,
    deliver: delivering([FULL]),
    notSure: 'hold',
    findings: 'deliver',
    ...change,
  };
}

/** The routines that are there before anybody made one. */
export const FIRST_ROUTINES: readonly Routine[] = [
  newRoutine('signature-to-ink', {
    clear: { ...AS_FOUND, method: 'ink' },
    ink: { color: '#1d2a6b' },
    deliver: delivering([FULL], { trim: true, padding: ROOM, fileName: '{piece}-ink' }),
  }),
  newRoutine('logo-to-all-sizes', {
    deliver: delivering(FIRST_SETS.filter(({ name }) => name === 'site' || name === 'print')),
  }),
  newRoutine('product-on-transparent', {
    deliver: delivering([FULL], { trim: true, padding: ROOM }),
  }),
];

/** Sets that a routine can be told to deliver before anybody made one. */
export const ROUTINE_SETS: readonly OutputSet[] = [FULL, ...FIRST_SETS];
