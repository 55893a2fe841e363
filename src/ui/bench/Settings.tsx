import type { ComponentType } from 'react';
import { STAGES, type StageKey } from '../../core/stages/stages';
import { useBench } from './bench-context';
import classes from './bench.module.css';
import { ClearSettings } from './ClearSettings';
import { DeliverSettings } from './DeliverSettings';
import { EdgeSettings } from './EdgeSettings';
import { InkSettings } from './InkSettings';
import { PrepareSettings } from './PrepareSettings';
import { StagePanel } from './StageField';
import { TouchUpSettings } from './TouchUpSettings';

/** Stages with a panel of their own; all others show their switch and their numbers. */
const PANELS: Readonly<Partial<Record<StageKey, ComponentType>>> = {
  prepare: PrepareSettings,
  clear: ClearSettings,
  edge: EdgeSettings,
  touchUp: TouchUpSettings,
  ink: InkSettings,
  deliver: DeliverSettings,
};

/** The settings of the stage that is open. */
export function Settings() {
  const open = useBench((state) => state.stage);
  const stage = STAGES.find(({ key }) => key === open)!;
  const Panel = PANELS[open];
  return (
    <aside className={classes.settings} aria-label={`Settings of ${stage.name}`}>
      {Panel ? <Panel /> : <StagePanel stage={stage} />}
    </aside>
  );
}
