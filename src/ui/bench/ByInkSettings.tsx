import { Button, SegmentedControl, Switch, UnstyledButton } from '@mantine/core';
import { useEffect, useRef } from 'react';
import { READING, SPECK_PX, type ByInk } from '../../core/stages/clear/settings';
import type { ChannelFacts } from '../../engine/protocol';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { LevelsChart } from './LevelsChart';
import { SliderField } from './SliderField';

/** Specks are chosen up to this area; larger ones are no specks, though a cut may say so. */
const MOST_SPECK = 2000;

const NAMES = {
  luminance: 'Luminance',
  red: 'Red',
  green: 'Green',
  blue: 'Blue',
  'red-green': 'Red against green',
  'yellow-blue': 'Yellow against blue',
} as const;

/** Clear by ink: what is read, and the points between which alpha follows the ink's density. */
export function ByInkSettings() {
  const ink = useBench((state) => state.cut.clear.ink);
  const actions = useBenchActions();
  if (!ink)
    return (
      <>
        <p className={classes.soft}>
          For writing, stamps and line art on paper: how dark each place is becomes how opaque it is, so
          hairlines stay thin.
        </p>
        <Button size="xs" onClick={() => void actions.startInk()}>
          Clear by ink
        </Button>
      </>
    );
  return <Levels ink={ink} />;
}

function Levels({ ink }: { readonly ink: ByInk }) {
  const facts = useBench((state) => state.inkFacts);
  const prepared = useBench((state) => state.cut.prepare);
  const actions = useBenchActions();
  useEffect(() => {
    void actions.loadInk();
    // Read again whenever the picture before it changed.
  }, [actions, prepared]);
  const chosen = facts?.channels.find(({ channel }) => channel === ink.channel) ?? null;
  const point = (name: 'black' | 'mid' | 'white') => ({
    value: ink[name],
    ...READING,
    step: 0.1,
    nudge: 1,
    onDraft: (value: number) => actions.draftByInk({ [name]: value }),
    onCommit: (value: number) => actions.changeByInk({ [name]: value }),
  });
  return (
    <>
      {facts && !facts.told && (
        <p className={classes.note} role="status">
          Ink and paper are hardly told apart here: the picture is nearly even, or no writing. Move the points
          by eye.
        </p>
      )}
      <Switch
        label="Clear by ink"
        checked={ink.on}
        onChange={({ currentTarget }) => actions.changeByInk({ on: currentTarget.checked })}
      />
      <Channels chosen={ink.channel} facts={facts?.channels ?? []} />
      {chosen && <LevelsChart ink={ink} histogram={chosen.histogram} />}
      <div className={classes.fields}>
        <SliderField label="Black point" {...point('black')} note="this dark and darker is full ink" />
        <SliderField
          label="Mid point"
          {...point('mid')}
          note="half ink; between the others, it follows density"
        />
        <SliderField label="White point" {...point('white')} note="this light and lighter is bare paper" />
        <SliderField
          label="Drop specks under"
          value={ink.speckPx}
          min={SPECK_PX.min}
          max={MOST_SPECK}
          step={1}
          suffix=" px²"
          note="small spots that hang together with nothing"
          onDraft={(value) => actions.draftByInk({ speckPx: value }, false)}
          onCommit={(value) => actions.changeByInk({ speckPx: value })}
        />
      </div>
      <div className={classes.row}>
        <Button size="xs" variant="default" disabled={!facts} onClick={() => actions.setChannel(ink.channel)}>
          Propose the points
        </Button>
        <Button size="xs" variant="default" onClick={actions.stopInk}>
          Not by ink
        </Button>
      </div>
    </>
  );
}

function Channels({ chosen, facts }: { readonly chosen: string; readonly facts: readonly ChannelFacts[] }) {
  const actions = useBenchActions();
  const best = Math.max(...facts.map(({ score }) => score));
  return (
    <div>
      <span className={classes.label} id="channels-label">
        Read
      </span>
      <div className={classes.channels} role="group" aria-labelledby="channels-label">
        {facts.map((one) => (
          <UnstyledButton
            key={one.channel}
            className={classes.channel}
            aria-pressed={one.channel === chosen}
            onClick={() => actions.setChannel(one.channel)}
          >
            <ChannelPicture picture={one.picture} />
            <span>{NAMES[one.channel]}</span>
            <span className={classes.soft}>
              {one.score.toFixed(1)}
              {one.score === best && best > 0 ? ', best' : ''}
            </span>
          </UnstyledButton>
        ))}
      </div>
      <span className={classes.hint}>
        The score: how far ink lies from paper, in the paper’s own unevenness.
      </span>
    </div>
  );
}

function ChannelPicture({ picture: { width, height, gray } }: Pick<ChannelFacts, 'picture'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const pixels = new Uint8ClampedArray(width * height * 4);
    gray.forEach((value, i) => pixels.set([value, value, value, 255], i * 4));
    canvas.current?.getContext('2d', { alpha: false })?.putImageData(new ImageData(pixels, width), 0, 0);
  }, [width, height, gray]);
  return <canvas ref={canvas} width={width} height={height} aria-hidden="true" />;
}

/** Which way of clearing is shown; both act together. */
export function ClearByControl() {
  const clearBy = useBench((state) => state.clearBy);
  const actions = useBenchActions();
  return (
    <SegmentedControl
      fullWidth
      aria-label="Clear by"
      value={clearBy}
      onChange={(value) => void actions.setClearBy(value)}
      data={[
        { value: 'color', label: 'By color' },
        { value: 'ink', label: 'By ink' },
        { value: 'marks', label: 'By marks' },
      ]}
    />
  );
}
