import { SegmentedControl } from '@mantine/core';
import { memo } from 'react';
import { AREA_PX, SHADE, TOLERANCE, type Sample } from '../../core/stages/clear/settings';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { oddSide } from './odd-side';
import { SliderField } from './SliderField';
import { ToleranceChart } from './ToleranceChart';

/** Tolerance, reach, area and place of one sample. */
export function SampleSettings({ sample }: { readonly sample: Sample }) {
  const actions = useBenchActions();
  return (
    <div className={classes.fields}>
      <RuleControl id={sample.id} rule={sample.rule} />
      <SliderField
        label="Tolerance"
        value={sample.tolerance}
        min={TOLERANCE.min}
        max={TOLERANCE.max}
        step={0.1}
        onDraft={(tolerance) => actions.draftSample(sample.id, { tolerance })}
        onCommit={(tolerance) => actions.changeSample(sample.id, { tolerance })}
      />
      {sample.rule === 'tolerance' && <ToleranceChart sample={sample} />}
      <SliderField
        label="Shade, darker"
        value={sample.shade.darker}
        {...SHADE}
        step={1}
        onDraft={(darker) => actions.draftSample(sample.id, { shade: { ...sample.shade, darker } })}
        onCommit={(darker) => actions.changeSample(sample.id, { shade: { ...sample.shade, darker } })}
      />
      <SliderField
        label="Shade, lighter"
        value={sample.shade.lighter}
        {...SHADE}
        step={1}
        onDraft={(lighter) => actions.draftSample(sample.id, { shade: { ...sample.shade, lighter } })}
        onCommit={(lighter) => actions.changeSample(sample.id, { shade: { ...sample.shade, lighter } })}
      />
      <Place
        id={sample.id}
        reach={sample.reach}
        backdrop={sample.backdrop}
        areaPx={sample.areaPx}
        x={sample.x}
        y={sample.y}
      />
    </div>
  );
}

/** Whether the whole picture decides what is background, or this sample's tolerance alone. */
function RuleControl({ id, rule }: Pick<Sample, 'id' | 'rule'>) {
  const actions = useBenchActions();
  return (
    <div>
      <span className={classes.label} id="rule-label">
        Decided by
      </span>
      <SegmentedControl
        fullWidth
        aria-labelledby="rule-label"
        value={rule}
        onChange={(value) => actions.changeSample(id, { rule: value })}
        data={[
          { value: 'whole', label: 'Whole picture' },
          { value: 'tolerance', label: 'Tolerance' },
        ]}
      />
      <p className={classes.soft}>
        {rule === 'whole'
          ? 'This place is background; borders, shades and what is enclosed are weighed all over the picture. A setting moved by hand decides instead.'
          : 'What the settings below reach goes, and nothing else.'}
      </p>
    </div>
  );
}

type PlaceProps = Pick<Sample, 'id' | 'reach' | 'backdrop' | 'areaPx' | 'x' | 'y'>;

/** What does not move with the tolerance slider, and so does not render again with it. */
const Place = memo(function Place({ id, reach, backdrop, areaPx, x, y }: PlaceProps) {
  const piece = useBench((state) => state.piece);
  const actions = useBenchActions();
  const change = (part: Partial<Sample>) => actions.changeSample(id, part);
  const place = (field: 'x' | 'y') => (value: number) => change({ [field]: Math.round(value) });
  return (
    <>
      <div>
        <span className={classes.label} id="reach-label">
          Reach
        </span>
        <SegmentedControl
          fullWidth
          aria-labelledby="reach-label"
          value={reach}
          onChange={(value) => {
            actions.setReach(value);
            change({ reach: value });
          }}
          data={[
            { value: 'joined', label: 'Joined' },
            { value: 'everywhere', label: 'Everywhere' },
          ]}
        />
      </div>
      <div>
        <span className={classes.label} id="backdrop-label">
          Backdrop
        </span>
        <SegmentedControl
          fullWidth
          aria-labelledby="backdrop-label"
          value={backdrop}
          onChange={(value) => change({ backdrop: value })}
          data={[
            { value: 'flat', label: 'Flat' },
            { value: 'smooth', label: 'Smooth' },
            { value: 'checkerboard', label: 'Checkerboard' },
          ]}
        />
      </div>
      <div className={classes.threeFields}>
        <NumberField
          label="Area"
          suffix=" px"
          {...AREA_PX}
          step={2}
          value={areaPx}
          onCommit={(value) => {
            actions.setSampleArea(oddSide(value));
            change({ areaPx: oddSide(value) });
          }}
        />
        <NumberField label="X" suffix=" px" min={0} max={piece.width - 1} value={x} onCommit={place('x')} />
        <NumberField label="Y" suffix=" px" min={0} max={piece.height - 1} value={y} onCommit={place('y')} />
      </div>
    </>
  );
});
