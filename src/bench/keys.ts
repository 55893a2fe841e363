import { STAGES } from '../core/stages/stages';
import type { BenchStore } from './bench-store';
import { steppedSoftness } from './hand-tools';

/** One key of the bench: what it does, in words, and the doing. */
export interface KeyBinding {
  /** `event.key`, letters in lower case. */
  readonly key: string;
  readonly shown: string;
  readonly words: string;
  readonly command?: boolean;
  readonly shift?: boolean;
  readonly run: (bench: BenchStore) => void;
  /** What it does with Shift, where that is something else. */
  readonly runShifted?: (bench: BenchStore) => void;
  /** What happens when the key is let go. */
  readonly release?: (bench: BenchStore) => void;
}

const ZOOM_STEP = 1.25;
const BRUSH_STEP = 1.2;

function zoomMiddle({ store, actions }: BenchStore, factor: number): void {
  const { view } = store.getState();
  actions.zoomBy(factor, view.width / 2, view.height / 2);
}

function sizeBrush({ store, actions }: BenchStore, factor: number): void {
  const { brushPx } = store.getState();
  actions.setBrush(factor > 1 ? Math.ceil(brushPx * factor) : Math.floor(brushPx * factor));
}

function softenBrush({ store, actions }: BenchStore, by: 1 | -1): void {
  actions.setHand({ softness: steppedSoftness(store.getState().hand.softness, by) });
}

/** All keys, in the order in which the key list shows them. */
export const KEYS: readonly KeyBinding[] = [
  ...STAGES.map(({ key, name }, index): KeyBinding => ({
    key: String(index + 1),
    shown: String(index + 1),
    words: `open ${name}`,
    run: ({ actions }) => actions.setStage(key),
  })),
  {
    key: 'n',
    shown: 'N',
    words: 'next finding, with Shift the one before',
    run: ({ actions }) => void actions.stepFinding(1),
    runShifted: ({ actions }) => void actions.stepFinding(-1),
  },
  {
    key: 'x',
    shown: 'X',
    words: 'leave this finding as it is',
    run: ({ actions }) => actions.dismissFindingAt(),
  },
  {
    key: 'q',
    shown: 'Q',
    words: 'keep all areas that are not sure, with Shift clear them',
    run: ({ actions }) => actions.answerQuestion(true),
    runShifted: ({ actions }) => actions.answerQuestion(false),
  },
  { key: 'k', shown: 'K', words: 'next backing', run: ({ actions }) => actions.stepBacking() },
  {
    key: 'o',
    shown: 'O, held',
    words: 'see the original',
    run: ({ actions }) => actions.setLook('original'),
    release: ({ actions }) => actions.setLook('result'),
  },
  {
    key: 'a',
    shown: 'A',
    words: 'see alpha alone, and back; with Shift its faint parts raised',
    run: ({ actions }) => actions.toggleShown('alpha'),
    runShifted: ({ actions }) => actions.toggleShown('faint'),
  },
  {
    key: 'e',
    shown: 'E',
    words: 'see the edge alone, and back',
    run: ({ actions }) => actions.toggleShown('edge'),
  },
  {
    key: 'd',
    shown: 'D',
    words: 'see what was taken from the picture, and back',
    run: ({ actions }) => actions.toggleShown('difference'),
  },
  {
    key: 'w',
    shown: 'W',
    words: 'original under a line that can be drawn across, and back',
    run: ({ actions }) => actions.toggleComparing('wipe'),
  },
  {
    key: 'y',
    shown: 'Y',
    words: 'original and result side by side, and back',
    run: ({ actions }) => actions.toggleComparing('beside'),
  },
  {
    key: 'g',
    shown: 'G',
    words: 'loupe: original and result around the pointer',
    run: ({ actions }) => actions.toggleLoupe(),
  },
  {
    key: 'b',
    shown: 'B',
    words: 'the brush does the opposite: stays or goes, clear or bring back',
    run: ({ actions }) => actions.turnBrush(),
  },
  {
    key: 'r',
    shown: 'R',
    words: 'try it on: the grounds of its proof, and back',
    run: ({ actions }) => actions.toggleTrying(),
  },
  { key: '[', shown: '[', words: 'smaller brush', run: (bench) => sizeBrush(bench, 1 / BRUSH_STEP) },
  { key: ']', shown: ']', words: 'larger brush', run: (bench) => sizeBrush(bench, BRUSH_STEP) },
  { key: '{', shown: 'Shift [', words: 'firmer brush', run: (bench) => softenBrush(bench, -1) },
  { key: '}', shown: 'Shift ]', words: 'softer brush', run: (bench) => softenBrush(bench, 1) },
  {
    key: 'escape',
    shown: 'Escape',
    words: 'let go of a line or an outline that was begun',
    run: ({ actions }) => actions.leaveBegun(),
  },
  { key: 'f', shown: 'F', words: 'fit the sheet', run: ({ actions }) => actions.fit() },
  { key: 'p', shown: 'P', words: '100 %: pixel for pixel', run: ({ actions }) => actions.zoomTo(1) },
  { key: '+', shown: '+', words: 'zoom in', run: (bench) => zoomMiddle(bench, ZOOM_STEP) },
  { key: '=', shown: '', words: '', run: (bench) => zoomMiddle(bench, ZOOM_STEP) },
  { key: '-', shown: '-', words: 'zoom out', run: (bench) => zoomMiddle(bench, 1 / ZOOM_STEP) },
  {
    key: 'z',
    shown: 'Ctrl Z',
    words: 'undo',
    command: true,
    shift: false,
    run: ({ actions }) => actions.undo(),
  },
  {
    key: 'z',
    shown: 'Ctrl Shift Z',
    words: 'redo',
    command: true,
    shift: true,
    run: ({ actions }) => actions.redo(),
  },
  {
    key: 'enter',
    shown: 'Ctrl Enter',
    words: 'deliver, and again',
    command: true,
    run: ({ store, actions }) => {
      if (store.getState().delivering.kind !== 'busy') void actions.deliver();
    },
  },
];

/** Keys that act only while the sheet or a sample's mark has the focus; listed for the key list. */
export const SHEET_KEYS: readonly { readonly shown: string; readonly words: string }[] = [
  { shown: 'Enter', words: 'sheet, at a finding: put it right' },
  { shown: 'Arrows', words: 'sheet: move the crosshair by 1 px, with Shift by 10' },
  { shown: 'Enter', words: 'sheet: place the sample at the crosshair; with Shift add one' },
  { shown: 'Drag', words: 'sheet: take a sample over a stretch; with Shift add one' },
  { shown: 'Enter', words: 'sheet, painting: paint at the crosshair; with Shift a line from the last place' },
  { shown: 'Enter', words: 'sheet, by marks: mark at the crosshair; with Shift a line from the last place' },
  { shown: 'Enter', words: 'sheet, Touch up: begin a straight line and end it, set corners, pick a piece' },
  { shown: 'Shift, click', words: 'sheet, Touch up: a straight line from where the last stroke ended' },
  { shown: 'Shift, drag', words: 'sheet, Touch up: the stroke keeps level or upright' },
  { shown: 'Alt, drag', words: 'sheet, Touch up: size of the brush across, its softness up and down' },
  { shown: 'Arrows', words: 'sample mark: nudge it by 1 px, with Shift by 10' },
  { shown: 'Delete', words: 'sample mark: delete the sample' },
  { shown: 'Space, drag', words: 'move the sheet' },
  { shown: 'T, L, J', words: 'looking through a run: accept and deliver, leave out, next' },
];

/** The binding that an event means, if any. */
export function bindingFor(
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>,
): KeyBinding | null {
  if (event.altKey) return null;
  const command = event.ctrlKey || event.metaKey;
  const key = event.key.toLowerCase();
  return (
    KEYS.find(
      (binding) =>
        binding.key === key &&
        (binding.command ?? false) === command &&
        (binding.shift === undefined || binding.shift === event.shiftKey),
    ) ?? null
  );
}
