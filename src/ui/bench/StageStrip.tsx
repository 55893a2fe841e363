import { Switch, UnstyledButton } from '@mantine/core';
import { IconAlertTriangle } from '@tabler/icons-react';
import { useEffect, useRef } from 'react';
import type { FindingKind } from '../../core/cut/schema';
import type { Finding } from '../../core/findings/finding';
import type { Stage } from '../../bench/bench-store';
import { formatShare } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** The cut itself, from left to right: one place for each stage. */
export function StageStrip() {
  const on = useBench((state) => state.cut.clear.on);
  const edgeOn = useBench((state) => state.cut.edge.on);
  const prepareOn = useBench((state) => state.cut.prepare.on);
  const touchUpOn = useBench((state) => state.cut.touchUp.on);
  const inkOn = useBench((state) => state.cut.ink.on);
  const actions = useBenchActions();
  return (
    <nav className={classes.strip} aria-label="Stages">
      <Place stage="prepare" name="Prepare" number={1} summary={usePrepareSummary()}>
        <Switch
          checked={prepareOn}
          onChange={({ currentTarget }) => actions.changePrepare({ on: currentTarget.checked })}
          aria-label="Prepare is on"
        />
      </Place>
      <Place stage="clear" name="Clear" number={2} summary={useClearSummary()}>
        <Switch
          checked={on}
          onChange={({ currentTarget }) => actions.setClearOn(currentTarget.checked)}
          aria-label="Clear is on"
        />
      </Place>
      <Place stage="edge" name="Edge" number={3} summary={useEdgeSummary()}>
        <Switch
          checked={edgeOn}
          onChange={({ currentTarget }) => actions.changeEdge({ on: currentTarget.checked })}
          aria-label="Edge is on"
        />
      </Place>
      <Place stage="touchUp" name="Touch up" number={4} summary={useTouchUpSummary()}>
        <Switch
          checked={touchUpOn}
          onChange={({ currentTarget }) => actions.setTouchUpOn(currentTarget.checked)}
          aria-label="Touch up is on"
        />
      </Place>
      <Place stage="ink" name="Ink" number={5} summary={useInkSummary()}>
        <Switch
          checked={inkOn}
          onChange={({ currentTarget }) => actions.changeInk({ on: currentTarget.checked })}
          aria-label="Ink is on"
        />
      </Place>
      <Place stage="deliver" name="Deliver" number={6} summary={useDeliverSummary()} />
    </nav>
  );
}

interface PlaceProps {
  readonly stage: Stage;
  readonly name: string;
  readonly number: number;
  readonly summary: string;
  readonly children?: React.ReactNode;
}

function Place({ stage, name, number, summary, children }: PlaceProps) {
  const open = useBench((state) => state.stage === stage);
  const actions = useBenchActions();
  return (
    <div className={classes.place} data-open={open || undefined}>
      <UnstyledButton
        className={classes.placeButton}
        aria-current={open ? 'step' : undefined}
        onClick={() => actions.setStage(stage)}
      >
        <StagePicture stage={stage} />
        <Badge stage={stage} />
        <span className={classes.placeText}>
          <span className={classes.placeName}>
            {name}
            <kbd>{number}</kbd>
          </span>
          <span className={classes.placeSummary}>{summary}</span>
        </span>
      </UnstyledButton>
      {children}
    </div>
  );
}

/** Where each kind of finding is put right. */
const STAGE_OF: Readonly<Record<FindingKind, Stage>> = {
  pocket: 'clear',
  tolerance: 'clear',
  'idle-sample': 'clear',
  missing: 'clear',
  halo: 'edge',
  'rough-edge': 'edge',
  alike: 'edge',
  speck: 'touchUp',
  residue: 'touchUp',
  pinhole: 'touchUp',
  frame: 'prepare',
  'print-size': 'deliver',
  'hidden-color': 'deliver',
};

/** How many findings a stage has; notes are not counted. */
function Badge({ stage }: { readonly stage: Stage }) {
  const count = useBench(({ open }) => countFor(open, stage));
  const stale = useBench((state) => state.stale);
  if (count === 0) return null;
  return (
    <span className={classes.badge} data-stale={stale || undefined}>
      <IconAlertTriangle size={12} stroke={2} aria-hidden="true" />
      <span aria-label={`${count} findings`}>{count}</span>
    </span>
  );
}

function countFor(open: readonly Finding[], stage: Stage): number {
  return open
    .filter(({ kind, severity }) => STAGE_OF[kind] === stage && severity !== 'note')
    .reduce((sum, { count }) => sum + count, 0);
}

function StagePicture({ stage }: { readonly stage: Stage }) {
  const picture = useBench(({ pictures }) => pictures?.[stage === 'deliver' ? 'result' : stage]);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!picture || !canvas.current) return;
    canvas.current.width = picture.width;
    canvas.current.height = picture.height;
    canvas.current.getContext('2d', { alpha: false })?.drawImage(picture, 0, 0);
  }, [picture]);
  return <canvas ref={canvas} width={168} height={92} className={classes.stagePicture} aria-hidden="true" />;
}

function useClearSummary(): string {
  const samples = useBench((state) => state.cut.clear.samples.length);
  const marks = useBench((state) => state.cut.clear.marks.length);
  const on = useBench((state) => state.cut.clear.on);
  const alpha = useBench((state) => state.alpha);
  const ink = useBench((state) => state.cut.clear.ink);
  if (!on) return 'switched off';
  const parts = [
    ink?.on && `by ink, ${ink.channel}`,
    samples > 0 && (samples === 1 ? '1 sample' : `${samples} samples`),
    marks > 0 && (marks === 1 ? '1 mark' : `${marks} marks`),
  ].filter((part) => typeof part === 'string');
  if (parts.length === 0) return 'no sample yet';
  if (alpha) parts.push(formatShare(alpha.transparent / (alpha.transparent + alpha.partly + alpha.opaque)));
  return parts.join(', ');
}

function usePrepareSummary(): string {
  const prepare = useBench((state) => state.cut.prepare);
  const { on, corners, turn, flip, straightenDeg, crop, flatten, calm, removeRules } = prepare;
  if (!on) return 'switched off';
  const parts = [
    crop && `${crop.width} x ${crop.height}`,
    straightenDeg !== 0 && `${straightenDeg}°`,
    turn !== 0 && `turned ${turn}°`,
    flip && 'flipped',
    corners && 'squared up',
    flatten > 0 && 'light',
    removeRules && 'rules',
    calm > 0 && 'grain',
  ].filter((part) => typeof part === 'string');
  return parts.length === 0 ? 'as it came' : parts.join(', ');
}

function useInkSummary(): string {
  const { on, color, density, light, colorways } = useBench((state) => state.cut.ink);
  if (!on) return 'switched off';
  const parts = [
    color ?? 'own colors',
    density > 0 && `density ${density} %`,
    light && 'light',
    colorways.length > 0 && (colorways.length === 1 ? '1 colorway' : `${colorways.length} colorways`),
  ].filter((part) => typeof part === 'string');
  return parts.join(', ');
}

function useTouchUpSummary(): string {
  const { on, mends } = useBench((state) => state.cut.touchUp);
  if (!on) return 'switched off';
  if (mends.length === 0) return 'nothing mended';
  return mends.length === 1 ? '1 place mended' : `${mends.length} places mended`;
}

function useEdgeSummary(): string {
  const edge = useBench((state) => state.cut.edge);
  const { on, widthPx, spill, offsetPx, softnessPx, evenness, firmness, fineDetail } = edge;
  if (!on) return 'switched off';
  const parts = [
    widthPx !== null && `${widthPx} px wide`,
    fineDetail.length > 0 && `fine detail ${fineDetail.length}`,
    spill !== 100 && `spill ${spill} %`,
    offsetPx !== 0 && `${offsetPx > 0 ? '+' : ''}${offsetPx} px`,
    softnessPx !== 0 && `soft ${softnessPx} px`,
    evenness !== 0 && `even ${evenness}`,
    firmness !== 0 && `firm ${firmness}`,
  ].filter((part) => part !== false);
  return parts.length === 0 ? 'from the mixture' : parts.join(', ');
}

function useDeliverSummary(): string {
  const count = useBench((state) => state.deliveries.length);
  if (count === 0) return 'PNG, not delivered';
  return count === 1 ? 'PNG, delivered once' : `PNG, ${count} deliveries`;
}
