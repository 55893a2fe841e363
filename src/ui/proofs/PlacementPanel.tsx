import { Button, SegmentedControl, Select } from '@mantine/core';
import { IconAlertTriangle, IconCircleCheck } from '@tabler/icons-react';
import Link from 'next/link';
import type { KnownGroundFacts, SeenPieceFacts } from '../../bench/proofs-api';
import { anchorOn, heldAt, boxOf } from '../../core/proof/place';
import { finenessOf, type Remark } from '../../core/proof/seen';
import { ANGLE_DEG, OPACITY, PLACE, WIDTH, type Anchor, type Placement } from '../../core/proof/settings';
import { AnchorGrid } from '../AnchorGrid';
import { NumberField } from '../bench/NumberField';
import { formatNumber } from '../format';
import { usePictures, useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';

interface Props {
  readonly ground: string;
  readonly placement: Placement;
  readonly facts: KnownGroundFacts;
}

/** Where and how a piece lies, in numbers, and how it is seen there. */
export function PlacementPanel({ ground, placement, facts }: Props) {
  const pictureOf = usePictures();
  const actions = useProofActions();
  const change = (part: Partial<Placement>) => actions.changePlacement(ground, placement.id, part);
  const draft = (part: Partial<Placement>) => actions.draftPlacement(ground, placement.id, part);
  const picture = pictureOf(placement);
  const { unit } = facts;
  const suffix = `\u00a0${unit}`;
  const anchor = anchorOn(facts, placement.anchor);
  const names = axisNames(anchor);
  const number = (
    key: 'x' | 'y' | 'width' | 'angleDeg' | 'opacity',
    label: string,
    range: { readonly min: number; readonly max: number },
    more: { readonly suffix: string; readonly decimalScale: number },
  ) => (
    <NumberField
      label={label}
      value={placement[key]}
      min={range.min}
      max={range.max}
      onDraft={(value) => draft({ [key]: value })}
      onCommit={(value) => change({ [key]: value })}
      {...more}
    />
  );
  const decimals = unit === 'mm' ? 2 : 1;
  return (
    <section className={classes.block} aria-label="Placing">
      {picture && 'trouble' in picture && <p className={classes.warn}>{picture.trouble}</p>}
      <VersionField ground={ground} placement={placement} />
      <div className={classes.placing}>
        <AnchorGrid<Anchor>
          label="Held at"
          value={anchor}
          line={facts.line === null ? null : 'line'}
          onChange={(next) => actions.anchor(ground, placement, next, facts)}
        />
        <div className={classes.distances}>
          {number('x', names.x, PLACE, { suffix, decimalScale: decimals })}
          {number('y', names.y, PLACE, { suffix, decimalScale: decimals })}
        </div>
      </div>
      <div className={classes.fields}>
        {number('width', 'Width', WIDTH, { suffix, decimalScale: decimals })}
        {number('angleDeg', 'Turned', ANGLE_DEG, { suffix: '°', decimalScale: 1 })}
        {number('opacity', 'Opacity', OPACITY, { suffix: '\u00a0%', decimalScale: 0 })}
        <div>
          <span className={classes.label}>Lies</span>
          <SegmentedControl
            fullWidth
            aria-label="How it lies"
            value={placement.blend}
            onChange={(blend) => change({ blend: blend })}
            data={[
              { value: 'normal', label: 'on top' },
              { value: 'multiply', label: 'as ink' },
            ]}
          />
        </div>
      </div>
      {picture && 'source' in picture && facts.line && anchor !== 'line' && (
        <Button
          size="xs"
          variant="default"
          onClick={() => {
            const box = boxOf(placement, picture.height / picture.width, facts);
            change(heldAt({ ...box, x: facts.line!.x, y: facts.line!.y - box.height }, 'line', facts));
          }}
        >
          Lay it on the line
        </Button>
      )}
      <Seen
        ground={ground}
        placement={placement}
        facts={facts}
        widthPx={picture && 'source' in picture ? picture.width : null}
      />
    </section>
  );
}

/** What the two distances of an anchor are called. */
function axisNames(anchor: Anchor): { readonly x: string; readonly y: string } {
  if (anchor === 'line') return { x: 'Along the line', y: 'Above the line' };
  const parts = anchor.split('-');
  return {
    x: parts.includes('left')
      ? 'From the left'
      : parts.includes('right')
        ? 'From the right'
        : 'From the middle',
    y: parts.includes('top')
      ? 'From the top'
      : parts.includes('bottom')
        ? 'From the bottom'
        : 'Below the middle',
  };
}

function VersionField({ ground, placement }: { readonly ground: string; readonly placement: Placement }) {
  const piece = useProof(({ pieces }) => pieces[placement.piece]);
  const actions = useProofActions();
  const { colorway, light } = placement;
  const data = [
    { value: 'cut', label: 'As it is cut' },
    { value: 'light', label: 'Light version' },
    ...(piece?.colorways ?? []).map(({ name }) => ({ value: `=${name}`, label: name })),
  ];
  const value = colorway === null ? (light ? 'light' : 'cut') : `=${colorway}`;
  return (
    <Select
      label="Version"
      size="xs"
      allowDeselect={false}
      data={data}
      value={value}
      onChange={(next) =>
        next &&
        actions.changePlacement(ground, placement.id, {
          colorway: next.startsWith('=') ? next.slice(1) : null,
          light: next === 'light',
        })
      }
    />
  );
}

/** What was measured of the piece at its place, and what puts it right. */
function Seen({ ground, placement, facts, widthPx }: Props & { readonly widthPx: number | null }) {
  const seen = useProof((state) => state.seen);
  const own = seen?.find((one) => one.placement === placement.id);
  return (
    <div className={classes.seen} aria-live="polite">
      <dl>
        <dt>{facts.unit === 'mm' ? 'Resolution' : 'Size of its pixels'}</dt>
        <dd>
          {widthPx === null
            ? ''
            : finenessWords(finenessOf(widthPx, placement.width, facts.unit), facts.unit)}
        </dd>
        <dt>Contrast</dt>
        <dd>{contrastWords(own)}</dd>
      </dl>
      {own?.remarks.length === 0 && (
        <p className={classes.good}>
          <IconCircleCheck size={15} stroke={1.8} aria-hidden="true" />
          Nothing shows that should not.
        </p>
      )}
      {own?.remarks.map((remark) => (
        <RemarkLine key={remark.kind} ground={ground} placement={placement} remark={remark} />
      ))}
    </div>
  );
}

function finenessWords(fineness: number, unit: 'mm' | 'px'): string {
  return unit === 'mm'
    ? `${formatNumber(fineness, 0)}\u00a0dpi`
    : `${formatNumber(100 * fineness, 0)}\u00a0%`;
}

function contrastWords(own: SeenPieceFacts | undefined): string {
  if (!own) return 'measuring';
  return own.contrast ? `${formatNumber(own.contrast.median, 1)} along its edge` : 'not on the ground';
}

function RemarkLine({
  ground,
  placement,
  remark: { sentence, fix },
}: {
  readonly ground: string;
  readonly placement: Placement;
  readonly remark: Remark;
}) {
  const actions = useProofActions();
  const change = (part: Partial<Placement>) => actions.changePlacement(ground, placement.id, part);
  return (
    <div className={classes.remark}>
      <p>
        <IconAlertTriangle size={15} stroke={1.8} aria-hidden="true" />
        {sentence}
      </p>
      {fix.kind === 'stage' ? (
        <Button
          size="xs"
          variant="default"
          component={Link}
          href={`/bench/${placement.piece}?stage=${fix.stage}`}
        >
          {fix.words}
        </Button>
      ) : (
        <Button
          size="xs"
          variant="default"
          onClick={() => change(fix.kind === 'look' ? fix.look : { width: fix.width })}
        >
          {fix.words}
        </Button>
      )}
    </div>
  );
}
