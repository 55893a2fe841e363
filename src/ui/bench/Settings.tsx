import { useBench } from './bench-context';
import classes from './bench.module.css';
import { ClearSettings } from './ClearSettings';
import { DeliverSettings } from './DeliverSettings';
import { EdgeSettings } from './EdgeSettings';
import { InkSettings } from './InkSettings';
import { PrepareSettings } from './PrepareSettings';
import { TouchUpSettings } from './TouchUpSettings';

const PANELS = {
  prepare: { name: 'Prepare', Panel: PrepareSettings },
  clear: { name: 'Clear', Panel: ClearSettings },
  edge: { name: 'Edge', Panel: EdgeSettings },
  touchUp: { name: 'Touch up', Panel: TouchUpSettings },
  ink: { name: 'Ink', Panel: InkSettings },
  deliver: { name: 'Deliver', Panel: DeliverSettings },
} as const;

/** The settings of the stage that is open. */
export function Settings() {
  const { name, Panel } = PANELS[useBench((state) => state.stage)];
  return (
    <aside className={classes.settings} aria-label={`Settings of ${name}`}>
      <Panel />
    </aside>
  );
}
