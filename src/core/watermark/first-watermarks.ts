import {
  WATERMARK_VERSION,
  type Group,
  type MarkLook,
  type MarkPlace,
  type TextPart,
  type Watermark,
} from './settings';

export const FIRST_LOOK: MarkLook = {
  light: '#ffffff',
  dark: '#161616',
  version: 'auto',
  opacity: 85,
  blend: 'normal',
  outline: null,
  shadow: null,
  plate: null,
  contrast: { least: 3, most: 70 },
};

export const FIRST_PLACE: MarkPlace = {
  size: { of: 'shorter', percent: 40 },
  anchor: 'bottom-right',
  inset: 4,
  angleDeg: 0,
  quiet: false,
  mostShare: 25,
  tiled: null,
};

export function newText(id: string, text: string, change: Partial<TextPart> = {}): TextPart {
  return {
    kind: 'text',
    id,
    text,
    font: { kind: 'shipped', which: 'jost' },
    weight: 400,
    size: 100,
    tracking: 0,
    lineHeight: 120,
    case: 'typed',
    align: 'center',
    ...change,
  };
}

export function newWatermark(
  name: string,
  groups: readonly Group[],
  change: Partial<Watermark> = {},
): Watermark {
  return {
    format: 'kenosis-watermark',
    version: WATERMARK_VERSION,
    name,
    layout: { of: 'rows', gap: 30, align: 'middle', groups: [...groups] },
    look: FIRST_LOOK,
    place: FIRST_PLACE,
    portrait: null,
    ...change,
  };
}

/** A group of parts. */
export function groupOf(parts: Group['parts'], change: Partial<Group> = {}): Group {
  return { parts, gap: 30, align: 'middle', ...change };
}

/** A mark of one line, as the command line makes it of a text. */
export function lineMark(text: string): Watermark {
  return newWatermark('a line', [groupOf([newText('t1', text)])]);
}

/** Over the whole photo, faint and aslant: a proof nobody prints. */
export const TILED_PLACE: MarkPlace = {
  ...FIRST_PLACE,
  size: { of: 'shorter', percent: 46 },
  anchor: 'center',
  angleDeg: -30,
  mostShare: 100,
  tiled: { across: 35, down: 260, stagger: 50 },
};

/** The watermarks that are there before anybody made one. */
export const FIRST_WATERMARKS: readonly Watermark[] = [
  newWatermark('name alone', [groupOf([newText('t1', '© {year} Ostrel Kiteworks', { tracking: 20 })])]),
  newWatermark(
    'tiled proof',
    [groupOf([newText('t1', 'Ostrel Kiteworks · proof', { case: 'upper', tracking: 120, weight: 600 })])],
    {
      look: { ...FIRST_LOOK, opacity: 24, contrast: { least: 1.4, most: 40 } },
      place: TILED_PLACE,
    },
  ),
];
