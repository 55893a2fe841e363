import { SegmentedControl } from '@mantine/core';
import { memo } from 'react';
import { AREA_PX } from '../../core/stages/clear/settings';
import { ByInkSettings, ClearByControl } from './ByInkSettings';
import { ByMarksSettings } from './ByMarksSettings';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { oddSide } from './odd-side';
import { SampleList } from './SampleList';
import { SampleSettings } from './SampleSettings';

/** The Clear stage: by color, by ink, by marks, or all together. */
export function ClearSettings() {
  const clearBy = useBench((state) => state.clearBy);
  return (
    <>
      <ClearByControl />
      {clearBy === 'ink' ? (
        <ByInkSettings />
      ) : clearBy === 'marks' ? (
        <ByMarksSettings />
      ) : (
        <ByColorSettings />
      )}
    </>
  );
}

/** Clear by color: what a click does, the samples, and the settings of the chosen one. */
function ByColorSettings() {
  const areaPx = useBench((state) => state.areaPx);
  const selected = useBench(
    ({ cut, selected: id }) => cut.clear.samples.find((sample) => sample.id === id) ?? null,
  );
  const note = useBench((state) => state.startNote);
  const none = useBench((state) => state.cut.clear.samples.length === 0);
  const actions = useBenchActions();
  return (
    <>
      <ClickModes />
      {none ? (
        <>
          <p className={classes.soft}>
            Click the background on the sheet. Everything of that color which is joined to the place you click
            is cleared.
          </p>
          <NumberField
            label="Sample area"
            description="Side of the square that a click reads"
            suffix=" px"
            {...AREA_PX}
            step={2}
            value={areaPx}
            onCommit={(value) => actions.setSampleArea(oddSide(value))}
          />
        </>
      ) : (
        <>
          <SampleList />
          {note && (
            <p className={classes.note} role="status">
              {note}
            </p>
          )}
          {selected && <SampleSettings key={selected.id} sample={selected} />}
        </>
      )}
    </>
  );
}

const ClickModes = memo(function ClickModes() {
  const mode = useBench((state) => state.clickMode);
  const actions = useBenchActions();
  return (
    <SegmentedControl
      fullWidth
      aria-label="What a click on the sheet does"
      value={mode}
      onChange={(value) => actions.setClickMode(value)}
      data={[
        { value: 'set', label: 'Set sample' },
        { value: 'add', label: 'Add sample' },
        { value: 'turn', label: 'Turn area' },
        { value: 'move', label: 'Move' },
      ]}
    />
  );
});
