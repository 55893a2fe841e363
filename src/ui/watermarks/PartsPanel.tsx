import { ActionIcon, Button, NativeSelect, SegmentedControl, Select, Textarea } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconLetterT, IconPhoto, IconTrash } from '@tabler/icons-react';
import { useEffect, useRef } from 'react';
import type { ProofPieceFacts } from '../../bench/proofs-api';
import { partsOf } from '../../bench/watermark-store';
import { FIELDS } from '../../core/watermark/fields';
import {
  GAP,
  LINE_HEIGHT,
  LONGEST_TEXT,
  MOST_TEXT_LINES,
  PART_SIZE,
  TRACKING,
  type CutoutPart,
  type Part,
  type TextPart,
} from '../../core/watermark/settings';
import { NumberField } from '../bench/NumberField';
import { useShelfPieces } from '../proofs/use-shelf-pieces';
import { FontFields } from './FontFields';
import { useWatermark, useWatermarkActions } from './watermark-context';
import classes from './watermarks.module.css';

/** What the mark is made of, as a small table, and the settings of the part that is held. */
export function PartsPanel() {
  const watermark = useWatermark((state) => state.watermark);
  const held = useWatermark((state) => state.held);
  const actions = useWatermarkActions();
  const { layout } = watermark;
  const part = partsOf(watermark).find(({ id }) => id === held);
  const group = layout.groups.findIndex(({ parts }) => parts.some(({ id }) => id === held));
  return (
    <>
      <section className={classes.block} aria-label="Parts">
        <PartsTable />
        <AddParts />
        {layout.groups.length > 1 && (
          <div className={classes.fields}>
            <NativeSelect
              label="Rows or columns"
              size="xs"
              value={layout.of}
              data={[
                { value: 'rows', label: 'rows, one above the other' },
                { value: 'columns', label: 'columns, side by side' },
              ]}
              onChange={({ currentTarget }) =>
                actions.changeLayout({ of: currentTarget.value as 'rows' | 'columns' })
              }
            />
            <NumberField
              label="Gap between them"
              value={layout.gap}
              min={GAP.min}
              max={GAP.max}
              onCommit={(gap) => actions.changeLayout({ gap })}
            />
            <AlignField
              label={layout.of === 'rows' ? 'Rows stand' : 'Columns stand'}
              isAcross={layout.of === 'columns'}
              value={layout.align}
              onChange={(align) => actions.changeLayout({ align })}
            />
          </div>
        )}
        {group >= 0 && layout.groups[group]!.parts.length > 1 && (
          <div className={classes.fields}>
            <NumberField
              label={layout.of === 'rows' ? 'Gap within this row' : 'Gap within this column'}
              value={layout.groups[group]!.gap}
              min={GAP.min}
              max={GAP.max}
              onCommit={(gap) => actions.changeGroup(group, { gap })}
            />
            <AlignField
              label="Its parts stand"
              isAcross={layout.of === 'rows'}
              value={layout.groups[group]!.align}
              onChange={(align) => actions.changeGroup(group, { align })}
            />
          </div>
        )}
      </section>
      {part?.kind === 'text' && <TextFields key={part.id} part={part} />}
      {part?.kind === 'cutout' && <CutoutFields key={part.id} part={part} />}
    </>
  );
}

function PartsTable() {
  const layout = useWatermark((state) => state.watermark.layout);
  const held = useWatermark((state) => state.held);
  const actions = useWatermarkActions();
  if (layout.groups.length === 0)
    return <p className={classes.soft}>Nothing is in it yet: add a text or a cutout.</p>;
  return (
    <table className={classes.parts}>
      <thead>
        <tr>
          <th scope="col">{layout.of === 'rows' ? 'Row' : 'Column'}</th>
          <th scope="col">What</th>
          <th scope="col">Size</th>
          <th scope="col">
            <span className={classes.hidden}>Order</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {layout.groups.flatMap((group, k) =>
          group.parts.map((part, n) => (
            <tr key={part.id} data-held={part.id === held || undefined}>
              <td>{n === 0 ? k + 1 : ''}</td>
              <td className={classes.what}>
                <button
                  type="button"
                  className={classes.whatButton}
                  aria-pressed={part.id === held}
                  onClick={() => actions.hold(part.id)}
                >
                  {part.kind === 'text' ? (
                    <IconLetterT size={14} stroke={1.7} aria-label="text" />
                  ) : (
                    <IconPhoto size={14} stroke={1.7} aria-label="cutout" />
                  )}
                  <PartName part={part} />
                </button>
              </td>
              <td className={classes.size}>
                <NumberField
                  aria-label={`Size of part ${part.id}`}
                  value={part.size}
                  min={PART_SIZE.min}
                  max={PART_SIZE.max}
                  onDraft={(size) => actions.draftPart(part.id, { size })}
                  onCommit={(size) => actions.changePart(part.id, { size })}
                />
              </td>
              <td className={classes.order}>
                <ActionIcon size={20} aria-label="Move back" onClick={() => actions.movePart(part.id, -1)}>
                  <IconArrowUp size={13} stroke={1.8} />
                </ActionIcon>
                <ActionIcon size={20} aria-label="Move on" onClick={() => actions.movePart(part.id, 1)}>
                  <IconArrowDown size={13} stroke={1.8} />
                </ActionIcon>
                <ActionIcon size={20} aria-label="Take away" onClick={() => actions.removePart(part.id)}>
                  <IconTrash size={13} stroke={1.8} />
                </ActionIcon>
              </td>
            </tr>
          )),
        )}
      </tbody>
    </table>
  );
}

function PartName({ part }: { readonly part: Part }) {
  const pieces = useWatermark((state) => state.pieces);
  if (part.kind === 'text') return <span>{part.text.split('\n')[0]?.trim() || 'an empty text'}</span>;
  if (part.source.kind !== 'piece') return <span>{part.source.name}</span>;
  return <span>{pieces[part.source.piece]?.name ?? 'a piece that was deleted'}</span>;
}

function AddParts() {
  const actions = useWatermarkActions();
  return (
    <div className={classes.add}>
      <Button size="xs" variant="default" onClick={actions.addText}>
        Add a text
      </Button>
      <PieceSelect label="Add a cutout" onPiece={actions.addCutout} />
    </div>
  );
}

/** A list of the Shelf's pieces to choose from. */
function PieceSelect({
  label,
  onPiece,
}: {
  readonly label: string;
  readonly onPiece: (piece: ProofPieceFacts) => void;
}) {
  const { pieces, list } = useShelfPieces();
  return (
    <Select
      aria-label={label}
      placeholder={label}
      size="xs"
      searchable
      value={null}
      {...list}
      onChange={(id) => {
        const found = pieces?.find((piece) => piece.id === id);
        if (found) onPiece({ id: found.id, name: found.name, revision: found.revision, colorways: [] });
      }}
    />
  );
}

function AlignField({
  label,
  isAcross,
  value,
  onChange,
}: {
  readonly label: string;
  readonly isAcross: boolean;
  readonly value: 'start' | 'middle' | 'end';
  readonly onChange: (value: 'start' | 'middle' | 'end') => void;
}) {
  return (
    <NativeSelect
      label={label}
      size="xs"
      value={value}
      data={[
        { value: 'start', label: isAcross ? 'at the top' : 'at the left' },
        { value: 'middle', label: 'in the middle' },
        { value: 'end', label: isAcross ? 'at the bottom' : 'at the right' },
      ]}
      onChange={({ currentTarget }) => onChange(currentTarget.value as typeof value)}
    />
  );
}

/** How long typing must rest to be a step of undo. */
const TYPING_RESTS_MS = 800;

function TextFields({ part }: { readonly part: TextPart }) {
  const actions = useWatermarkActions();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const change = (own: Partial<TextPart>) => actions.changePart(part.id, own);
  /** Typing is shown at once, and is one step of undo where it rests. */
  const type = (text: string) => {
    if (text.split('\n').length > MOST_TEXT_LINES) return;
    actions.draftPart(part.id, { text });
    clearTimeout(timer.current);
    timer.current = setTimeout(() => change({ text }), TYPING_RESTS_MS);
  };
  const number = (
    key: 'tracking' | 'lineHeight',
    label: string,
    range: { readonly min: number; readonly max: number },
    suffix: string,
  ) => (
    <NumberField
      label={label}
      value={part[key]}
      min={range.min}
      max={range.max}
      suffix={suffix}
      onDraft={(value) => actions.draftPart(part.id, { [key]: value })}
      onCommit={(value) => change({ [key]: value })}
    />
  );
  return (
    <section className={classes.block} aria-label="Text">
      <Textarea
        label="Text"
        size="xs"
        autosize
        minRows={1}
        maxRows={MOST_TEXT_LINES}
        maxLength={LONGEST_TEXT}
        value={part.text}
        description={`${Object.keys(FIELDS)
          .map((field) => `{${field}}`)
          .join(', ')} are filled in for each photo`}
        onChange={({ currentTarget }) => type(currentTarget.value)}
        onBlur={() => change({ text: part.text })}
      />
      <Button
        size="compact-xs"
        variant="default"
        className={classes.short}
        onClick={() => change({ text: `${part.text}©` })}
      >
        Add ©
      </Button>
      <FontFields part={part} />
      <div className={classes.fields}>
        {number('tracking', 'Tracking', TRACKING, '\u00a0‰')}
        {number('lineHeight', 'Line height', LINE_HEIGHT, '\u00a0%')}
        <NativeSelect
          label="Case"
          size="xs"
          value={part.case}
          data={[
            { value: 'typed', label: 'as typed' },
            { value: 'upper', label: 'CAPITALS' },
            { value: 'lower', label: 'small letters' },
          ]}
          onChange={({ currentTarget }) => change({ case: currentTarget.value as TextPart['case'] })}
        />
        <NativeSelect
          label="Lines stand"
          size="xs"
          value={part.align}
          data={[
            { value: 'left', label: 'at the left' },
            { value: 'center', label: 'in the middle' },
            { value: 'right', label: 'at the right' },
          ]}
          onChange={({ currentTarget }) => change({ align: currentTarget.value as TextPart['align'] })}
        />
      </div>
    </section>
  );
}

function CutoutFields({ part }: { readonly part: CutoutPart }) {
  const pieces = useWatermark((state) => state.pieces);
  const actions = useWatermarkActions();
  const { source } = part;
  if (source.kind !== 'piece') return null;
  const { colorway, light } = source;
  const data = [
    { value: 'cut', label: 'As it is cut' },
    { value: 'light', label: 'Light version' },
    ...(pieces[source.piece]?.colorways ?? []).map(({ name }) => ({ value: `=${name}`, label: name })),
  ];
  return (
    <section className={classes.block} aria-label="Cutout">
      <PieceSelect label="Choose another piece" onPiece={(piece) => actions.changePiece(part, piece)} />
      <NativeSelect
        label="Version"
        size="xs"
        data={data}
        value={colorway === null ? (light ? 'light' : 'cut') : `=${colorway}`}
        onChange={({ currentTarget: { value } }) =>
          actions.changePart(part.id, {
            source: {
              ...source,
              colorway: value.startsWith('=') ? value.slice(1) : null,
              light: value === 'light',
            },
          })
        }
      />
      <div>
        <span className={classes.label}>Colors</span>
        <SegmentedControl
          fullWidth
          aria-label="Its colors"
          value={part.painted ? 'mark' : 'own'}
          data={[
            { value: 'own', label: 'its own' },
            { value: 'mark', label: "the mark's" },
          ]}
          onChange={(value) => actions.changePart(part.id, { painted: value === 'mark' })}
        />
      </div>
    </section>
  );
}
