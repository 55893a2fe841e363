import { useBench } from './bench-context';
import classes from './bench.module.css';
import { ClearSettings } from './ClearSettings';
import { DeliverSettings } from './DeliverSettings';

/** The settings of the stage that is open. */
export function Settings() {
  const stage = useBench((state) => state.stage);
  return (
    <aside
      className={classes.settings}
      aria-label={stage === 'clear' ? 'Settings of Clear' : 'Settings of Deliver'}
    >
      {stage === 'clear' ? <ClearSettings /> : <DeliverSettings />}
    </aside>
  );
}
