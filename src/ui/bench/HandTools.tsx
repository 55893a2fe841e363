import { Button, SegmentedControl, Select, Switch } from '@mantine/core';
import {
  IconArrowsJoin,
  IconBrush,
  IconEraser,
  IconPolygon,
  IconPuzzle,
  IconWaveSine,
  type Icon,
} from '@tabler/icons-react';
import { useEffect, useId } from 'react';
import type { AreaBy, HandState, HandTool } from '../../bench/hand-state';
import { BRUSH_PX } from '../../core/stages/shapes';
import { ALIKE_TOLERANCE, SOFTNESS, STRENGTH, TOUCH_UP } from '../../core/stages/touch-up/settings';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { SliderField } from './SliderField';
import { StageField } from './StageField';

const TOOLS: readonly (readonly [HandTool, string, Icon])[] = [
  ['clear', 'Clear', IconEraser],
  ['restore', 'Bring back', IconBrush],
  ['edge', 'Edge', IconWaveSine],
  ['area', 'Area', IconPolygon],
  ['piece', 'Piece', IconPuzzle],
  ['gap', 'Lines', IconArrowsJoin],
];

/** What the pointer does on the sheet, and what belongs to it. */
export function HandTools() {
  const tool = useBench(({ hand }) => hand.tool);
  const actions = useBenchActions();
  const name = useId();
  return (
    <div>
      <div role="radiogroup" aria-label="What the pointer does on the sheet" className={classes.handTools}>
        {TOOLS.map(([value, label, Picture]) => (
          <label key={value} data-chosen={value === tool || undefined}>
            <input
              type="radio"
              name={name}
              checked={value === tool}
              onChange={() => actions.setTool(value)}
            />
            <Picture size={16} stroke={1.6} aria-hidden="true" />
            {label}
          </label>
        ))}
      </div>
      <div className={classes.under}>
        {(tool === 'clear' || tool === 'restore') && <BrushOptions />}
        {tool === 'edge' && <EdgeOptions />}
        {tool === 'area' && <AreaOptions />}
        {tool === 'piece' && <PieceOptions />}
        {tool === 'gap' && <LineOptions />}
        <HandNote />
      </div>
    </div>
  );
}

function HandNote() {
  const note = useBench(({ hand }) => hand.note);
  return note ? (
    <p className={classes.note} role="status">
      {note}
    </p>
  ) : null;
}

/** Size, softness and strength of the brush. */
function BrushNumbers() {
  const brushPx = useBench((state) => state.brushPx);
  const { softness, strength } = useBench((state) => state.hand);
  const actions = useBenchActions();
  const set = (change: Partial<HandState>) => actions.setHand(change);
  return (
    <div className={classes.handNumbers}>
      <NumberField
        label="Size"
        suffix=" px"
        min={2 * BRUSH_PX.min}
        max={2 * BRUSH_PX.max}
        value={brushPx}
        onDraft={(value) => actions.setBrush(value)}
        onCommit={(value) => actions.setBrush(value)}
      />
      <NumberField
        label="Softness"
        suffix=" %"
        {...SOFTNESS}
        value={softness}
        onDraft={(value) => set({ softness: value })}
        onCommit={(value) => set({ softness: value })}
      />
      <NumberField
        label="Strength"
        suffix=" %"
        {...STRENGTH}
        value={strength}
        onDraft={(value) => set({ strength: value })}
        onCommit={(value) => set({ strength: value })}
      />
    </div>
  );
}

const PRESSURES: readonly { readonly value: HandState['pressure']; readonly label: string }[] = [
  { value: 'size', label: 'A pen’s pressure changes the size' },
  { value: 'strength', label: 'A pen’s pressure changes the strength' },
  { value: 'none', label: 'A pen’s pressure changes nothing' },
];

function PressureChoice() {
  const pressure = useBench(({ hand }) => hand.pressure);
  const actions = useBenchActions();
  return (
    <Select
      aria-label="What the pressure of a pen changes"
      size="xs"
      allowDeselect={false}
      data={PRESSURES}
      value={pressure}
      onChange={(value) => value && actions.setHand({ pressure: value })}
    />
  );
}

function BrushOptions() {
  const { tool, alike, tolerance, reads } = useBench((state) => state.hand);
  const actions = useBenchActions();
  const verb = tool === 'clear' ? 'Clears' : 'Brings back';
  return (
    <>
      <BrushNumbers />
      <PressureChoice />
      <Switch
        label={`${verb} only what is alike`}
        checked={alike}
        onChange={({ currentTarget }) => actions.setHand({ alike: currentTarget.checked })}
      />
      {alike && (
        <div className={classes.under}>
          <SliderField
            label="Tolerance"
            {...ALIKE_TOLERANCE}
            step={0.1}
            value={tolerance}
            onDraft={(value) => actions.setHand({ tolerance: value })}
            onCommit={(value) => actions.setHand({ tolerance: value })}
          />
          <SegmentedControl
            fullWidth
            size="xs"
            aria-label="Where the color is read"
            value={reads}
            onChange={(value) => actions.setHand({ reads: value })}
            data={[
              { value: 'start', label: 'Color at the start' },
              { value: 'along', label: 'Color along the way' },
            ]}
          />
          <span className={classes.hint}>
            Hatched under the pointer: what a stroke that begins there would take.
          </span>
        </div>
      )}
      <span className={classes.hint}>
        Size [ ], softness Shift [ ], both by Alt and a drag. Shift and a click: a straight line. B: the
        opposite.
      </span>
    </>
  );
}

function EdgeOptions() {
  const does = useBench(({ hand }) => hand.edgeDoes);
  const actions = useBenchActions();
  return (
    <>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="What the brush makes of the edge"
        value={does}
        onChange={(value) => actions.setHand({ edgeDoes: value })}
        data={[
          { value: 'softer', label: 'Softer' },
          { value: 'firmer', label: 'Firmer' },
          { value: 'spill', label: 'Less spill' },
        ]}
      />
      <BrushNumbers />
      <PressureChoice />
      <span className={classes.hint}>
        Hair, fur and threads are solved again where they are painted over in{' '}
        <button type="button" className={classes.plainLink} onClick={() => actions.paintFineDetail()}>
          Edge
        </button>
        .
      </span>
    </>
  );
}

const AREA_BY: readonly { readonly value: AreaBy; readonly label: string; readonly hint: string }[] = [
  {
    value: 'corners',
    label: 'Corner by corner',
    hint: 'Click corners; drag one for a curve. A click on the first one, or a double click, closes the outline.',
  },
  {
    value: 'border',
    label: 'Along a sharp border',
    hint: 'Click here and there on a border: the outline keeps to it in between. A click on the first corner, or a double click, closes it.',
  },
  { value: 'freehand', label: 'Freehand', hint: 'Draw around it; the outline closes by itself.' },
  { value: 'rectangle', label: 'Rectangle', hint: 'Drag from corner to corner.' },
  { value: 'ellipse', label: 'Ellipse', hint: 'Drag from corner to corner of its box.' },
];

const AREA_DOES = [
  { value: 'clear', label: 'Clear' },
  { value: 'restore', label: 'Bring back' },
  { value: 'only', label: 'Only here' },
  { value: 'never', label: 'Never here' },
] as const;

const AREA_DOES_WORDS: Readonly<Record<HandState['areaDoes'], string>> = {
  clear: 'What lies inside goes.',
  restore: 'What lies inside comes back, without old background along its rim.',
  only: 'Clear and Edge act only inside; outside the picture stays as it came.',
  never: 'Clear and Edge do nothing inside; there the picture stays as it came.',
};

function AreaOptions() {
  const { areaDoes, areaBy, outline } = useBench((state) => state.hand);
  const actions = useBenchActions();
  const by = AREA_BY.find(({ value }) => value === areaBy)!;
  return (
    <>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="What the area does"
        value={areaDoes}
        onChange={(value) => actions.setHand({ areaDoes: value })}
        data={[...AREA_DOES]}
      />
      <span className={classes.hint}>{AREA_DOES_WORDS[areaDoes]}</span>
      <Select
        label="Drawn"
        size="xs"
        allowDeselect={false}
        data={AREA_BY.map(({ value, label }) => ({ value, label }))}
        value={areaBy}
        onChange={(value) => value && actions.setHand({ areaBy: value, outline: null, begun: null })}
      />
      <span className={classes.hint}>{by.hint}</span>
      {outline && (
        <p className={classes.soft}>
          {outline.length === 1 ? '1 corner' : `${outline.length} corners`}.{' '}
          <button type="button" className={classes.plainLink} onClick={actions.closeOutline}>
            Close the outline
          </button>{' '}
          or{' '}
          <button type="button" className={classes.plainLink} onClick={actions.leaveBegun}>
            let it go
          </button>
        </p>
      )}
    </>
  );
}

function LineOptions() {
  return (
    <>
      <p className={classes.soft}>
        A gap in a line: click its two ends, or draw from one to the other. It is closed in the line’s own
        color, as wide as its ends.
      </p>
      <StageField stage={TOUCH_UP} name="weightPx" />
    </>
  );
}

/** Splits a sheet with several signatures or logos: each becomes a piece on the Shelf. */
function SplitButton() {
  const count = useBench(({ hand }) => hand.piecesLeft);
  const alpha = useBench((state) => state.alpha);
  const actions = useBenchActions();
  useEffect(() => void actions.countPieces(), [actions, alpha]);
  if (count === null || count < 2) return null;
  return (
    <Button size="xs" variant="default" fullWidth onClick={() => void actions.splitPieces()}>
      {count} pieces: put each on the Shelf
    </Button>
  );
}

function PieceOptions() {
  const does = useBench(({ hand }) => hand.pieceDoes);
  const actions = useBenchActions();
  return (
    <>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="What becomes of the piece"
        value={does}
        onChange={(value) => actions.setHand({ pieceDoes: value })}
        data={[
          { value: 'keep', label: 'Keep only this' },
          { value: 'clear', label: 'Clear this' },
        ]}
      />
      <p className={classes.soft}>
        Click a part of what is left: all that hangs together with it is picked. Several can be kept.
      </p>
      <SplitButton />
    </>
  );
}
