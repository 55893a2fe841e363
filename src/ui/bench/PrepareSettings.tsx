import { PREPARE } from '../../core/stages/prepare/settings';
import { StageField } from './StageField';
import { ActionIcon, Button, SegmentedControl, Switch, Tooltip } from '@mantine/core';
import { IconFlipHorizontal, IconRotate2, IconRotateClockwise2 } from '@tabler/icons-react';
import type { PrepareMode } from '../../bench/bench-state';
import { type Crop } from '../../core/stages/prepare/settings';
import { formatMm } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { CropRatio } from './CropRatio';
import { NumberField } from './NumberField';

/** The Prepare stage: how the picture lies, which part of it counts, and how even its light is. */
export function PrepareSettings() {
  const note = useBench((state) => state.prepareNote);
  return (
    <>
      <PointerModes />
      {note && (
        <p className={classes.note} role="status">
          {note}
        </p>
      )}
      <CropFields />
      <TurnFields />
      <CornerFields />
      <PaperFields />
      <p className={classes.soft}>
        Nothing is lost: all of it is applied anew to the original, whose pixels are resampled once.
      </p>
    </>
  );
}

const HINTS: Record<PrepareMode, string | null> = {
  move: null,
  crop: 'Drag a rectangle over the part that counts, or drag its handles.',
  line: 'Drag a line along the writing or a rule: it is laid level.',
  corners: 'Drag the four corners onto those of the sheet.',
};

function PointerModes() {
  const mode = useBench((state) => state.prepareMode);
  const actions = useBenchActions();
  return (
    <div>
      <span className={classes.label} id="prepare-pointer">
        A drag on the sheet
      </span>
      <SegmentedControl<PrepareMode>
        fullWidth
        aria-labelledby="prepare-pointer"
        value={mode}
        onChange={(value) => actions.setPrepareMode(value)}
        data={[
          { value: 'move', label: 'Moves it' },
          { value: 'crop', label: 'Crops' },
          { value: 'line', label: 'Levels' },
          { value: 'corners', label: 'Corners' },
        ]}
      />
      {HINTS[mode] && <span className={classes.hint}>{HINTS[mode]}</span>}
    </div>
  );
}

function CropFields() {
  const crop = useBench((state) => state.cut.prepare.crop);
  const frame = useBench((state) => state.frame);
  const dpi = useBench((state) => state.piece.dpi);
  const actions = useBenchActions();
  const shown: Crop = crop ?? { x: 0, y: 0, width: frame.width, height: frame.height };
  const field = (name: keyof Crop, label: string, min: number, max: number) => (
    <NumberField
      label={label}
      value={shown[name]}
      min={min}
      max={max}
      suffix=" px"
      onCommit={(value) => {
        const whole = Math.round(value);
        if (whole !== shown[name]) actions.change('prepare', { crop: { ...shown, [name]: whole } });
      }}
    />
  );
  return (
    <section aria-label="Crop">
      <h2>Crop</h2>
      <div className={classes.pair}>
        {field('x', 'From the left', 0, frame.width - shown.width)}
        {field('y', 'From the top', 0, frame.height - shown.height)}
        {field('width', 'Width', 1, frame.width - shown.x)}
        {field('height', 'Height', 1, frame.height - shown.y)}
      </div>
      {dpi && (
        <span className={classes.hint}>
          {formatMm(shown.width, dpi)} x {formatMm(shown.height, dpi)} at {Math.round(dpi)} dpi
        </span>
      )}
      <CropRatio />
      <div className={classes.row}>
        <Button size="xs" variant="default" onClick={() => void actions.cropToContent()}>
          Crop to content
        </Button>
        <Button
          size="xs"
          variant="default"
          disabled={!crop}
          onClick={() => actions.change('prepare', { crop: null })}
        >
          No crop
        </Button>
      </div>
    </section>
  );
}

function TurnFields() {
  const flip = useBench((state) => state.cut.prepare.flip);
  const actions = useBenchActions();
  return (
    <section aria-label="Turn and straighten">
      <h2>Turn</h2>
      <div className={classes.row}>
        <Tooltip label="A quarter turn to the left">
          <ActionIcon variant="default" size={28} aria-label="Turn left" onClick={() => actions.turn(-90)}>
            <IconRotate2 size={16} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="A quarter turn to the right">
          <ActionIcon variant="default" size={28} aria-label="Turn right" onClick={() => actions.turn(90)}>
            <IconRotateClockwise2 size={16} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Left and right exchanged">
          <ActionIcon
            variant={flip ? 'filled' : 'default'}
            size={28}
            aria-label="Flip"
            aria-pressed={flip}
            onClick={() => actions.change('prepare', { flip: !flip })}
          >
            <IconFlipHorizontal size={16} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
        <Button size="xs" variant="default" onClick={() => void actions.straightenByItself()}>
          Straighten by itself
        </Button>
      </div>
      <StageField stage={PREPARE} name="straightenDeg" />
    </section>
  );
}

function CornerFields() {
  const corners = useBench((state) => state.cut.prepare.corners);
  const actions = useBenchActions();
  return (
    <section aria-label="Perspective">
      <h2>Photographed sheet</h2>
      <div className={classes.row}>
        <Button
          size="xs"
          variant="default"
          onClick={() => {
            actions.setPrepareMode('corners');
            void actions.findCorners();
          }}
        >
          Find its corners
        </Button>
        {corners ? (
          <Button size="xs" variant="default" onClick={() => actions.change('prepare', { corners: null })}>
            Not squared up
          </Button>
        ) : (
          <Button
            size="xs"
            variant="default"
            onClick={() => {
              actions.setPrepareMode('corners');
              actions.startCorners();
            }}
          >
            Set by hand
          </Button>
        )}
      </div>
      <span className={classes.hint}>
        {corners ? 'Squared up between its four corners.' : 'Squares up a sheet that was taken at an angle.'}
      </span>
    </section>
  );
}

function PaperFields() {
  const removeRules = useBench((state) => state.cut.prepare.removeRules);
  const actions = useBenchActions();
  return (
    <section aria-label="Paper">
      <h2>Paper</h2>
      <div className={classes.fields}>
        <StageField stage={PREPARE} name="flatten" />
        <StageField stage={PREPARE} name="calm" />
        <Switch
          label="Remove ruled lines"
          checked={removeRules}
          onChange={({ currentTarget }) => actions.change('prepare', { removeRules: currentTarget.checked })}
        />
      </div>
    </section>
  );
}
