import { Switch, UnstyledButton } from '@mantine/core';
import { IconAlertTriangle } from '@tabler/icons-react';
import { useEffect, useRef } from 'react';
import { settingsOf } from '../../core/cut/schema';
import type { Finding } from '../../core/findings/finding';
import { TREATMENTS } from '../../core/findings/fixes';
import { summarize, type Stage } from '../../core/stages/stage';
import { STAGES, type StageKey } from '../../core/stages/stages';
import { formatShare } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** The cut itself, from left to right: one place for each stage. */
export function StageStrip({ stages = STAGES }: { readonly stages?: readonly Stage[] }) {
  return (
    <nav className={classes.strip} aria-label="Stages">
      {stages.map((stage, index) => (
        <Place key={stage.key} stage={stage} number={index + 1} />
      ))}
    </nav>
  );
}

interface PlaceProps {
  readonly stage: Stage;
  readonly number: number;
}

function Place({ stage: own, number }: PlaceProps) {
  const { name, switched } = own;
  const key = own.key as StageKey;
  const open = useBench((state) => state.stage === key);
  const actions = useBenchActions();
  return (
    <div className={classes.place} data-open={open || undefined}>
      <UnstyledButton
        className={classes.placeButton}
        aria-current={open ? 'step' : undefined}
        onClick={() => actions.setStage(key)}
      >
        <StagePicture stage={key} />
        <Badge stage={key} />
        <span className={classes.placeText}>
          <span className={classes.placeName}>
            {name}
            <kbd>{number}</kbd>
          </span>
          <Summary stage={own} />
        </span>
      </UnstyledButton>
      {switched && <StageSwitch stage={key} name={name} />}
    </div>
  );
}

function StageSwitch({ stage, name }: { readonly stage: StageKey; readonly name: string }) {
  const on = useBench(({ cut }) => (cut[stage] as { readonly on?: boolean }).on ?? true);
  const actions = useBenchActions();
  return (
    <Switch
      checked={on}
      onChange={({ currentTarget }) => actions.change(stage, { on: currentTarget.checked })}
      aria-label={`${name} is on`}
    />
  );
}

/** What the settings of a stage come to, in a few words. */
function Summary({ stage }: { readonly stage: Stage }) {
  const settings = useBench(({ cut }) => settingsOf(cut, stage));
  const alpha = useBench((state) => state.alpha);
  const deliveries = useBench((state) => state.deliveries.length);
  const cleared = alpha && formatShare(alpha.transparent / (alpha.transparent + alpha.partly + alpha.opaque));
  return <span className={classes.placeSummary}>{summarize(stage, settings, { cleared, deliveries })}</span>;
}

/** How many findings a stage has; notes are not counted. */
function Badge({ stage }: { readonly stage: StageKey }) {
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

function countFor(open: readonly Finding[], stage: StageKey): number {
  return open
    .filter(({ kind, severity }) => TREATMENTS[kind].stage === stage && severity !== 'note')
    .reduce((sum, { count }) => sum + count, 0);
}

function StagePicture({ stage }: { readonly stage: StageKey }) {
  const picture = useBench(({ pictures }) => pictures?.[stage]);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!picture || !canvas.current) return;
    canvas.current.width = picture.width;
    canvas.current.height = picture.height;
    canvas.current.getContext('2d', { alpha: false })?.drawImage(picture, 0, 0);
  }, [picture]);
  return <canvas ref={canvas} width={168} height={92} className={classes.stagePicture} aria-hidden="true" />;
}
