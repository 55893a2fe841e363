import { Switch } from '@mantine/core';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** The Edge stage: alpha and color along the border, estimated from the mixture. */
export function EdgeSettings() {
  const on = useBench((state) => state.cut.edge.on);
  const actions = useBenchActions();
  return (
    <>
      <Switch
        label="Estimate edges from the mixture"
        checked={on}
        onChange={({ currentTarget }) => actions.setEdgeOn(currentTarget.checked)}
      />
      <p className={classes.soft}>
        Along the border each pixel is part subject, part background. Its alpha is how much of the subject is
        in it, and the background&apos;s share is taken out of its color, so that no rim of the old background
        stays. Switched off, alpha rises in a short ramp just beyond the tolerance.
      </p>
    </>
  );
}
