import { StageField } from './StageField';
import { ActionIcon, Button, ColorInput, SegmentedControl, Switch, TextInput, Tooltip } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import { sameColorway } from '../../core/cut/colorway-name';
import {
  colorwaySchema,
  INK,
  LONGEST_COLORWAY,
  MOST_COLORWAYS,
  type Colorway,
} from '../../core/stages/ink/settings';
import { fittingBacking } from '../../core/view/fitting-backing';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { ColorwayPicture } from './ColorwayPicture';

/** Colors to begin with: the ink blues and blacks of an office, and white for dark backings. */
const SWATCHES = ['#1a1b20', '#1d2a6b', '#1d3557', '#2a7f86', '#8a1f2d', '#ffffff'];

/** The Ink stage: the cutout's own colors or one color, how dense, and in which colors it is delivered. */
export function InkSettings() {
  const ink = useBench((state) => state.cut.ink);
  const actions = useBenchActions();
  return (
    <>
      <ColorControl />
      <div className={classes.fields}>
        <StageField stage={INK} name="density" />
        <Switch
          label="Light version"
          description="Lightness mirrored, for dark backings"
          checked={ink.light}
          onChange={({ currentTarget }) => actions.change('ink', { light: currentTarget.checked })}
        />
      </div>
      <Colorways />
    </>
  );
}

function ColorControl() {
  const color = useBench((state) => state.cut.ink.color);
  const facts = useBench((state) => state.inkFacts);
  const byInk = useBench((state) => state.cut.clear.ink !== null);
  const actions = useBenchActions();
  const [asks, setAsks] = useState(false);
  const recent = useBench((state) => state.recentInks);
  const own = byInk && facts?.told ? facts.color : null;
  const choose = (value: string) => {
    if (!/^#[0-9a-f]{6}$/i.test(value)) return;
    actions.inkIn(value.toLowerCase());
  };
  const toOne = async () => {
    if (color !== null) return;
    if (!byInk && (await actions.hasManyColors())) setAsks(true);
    else choose(own ?? SWATCHES[0]!);
  };
  return (
    <div>
      <span className={classes.label} id="ink-color-label">
        Colors
      </span>
      <SegmentedControl
        fullWidth
        aria-labelledby="ink-color-label"
        value={color === null ? 'own' : 'one'}
        onChange={(value) => {
          if (value === 'own') actions.change('ink', { color: null });
          else void toOne();
        }}
        data={[
          { value: 'own', label: 'Its own' },
          { value: 'one', label: 'One color' },
        ]}
      />
      {asks && color === null && (
        <div className={classes.note} role="alert">
          <p>This piece has several colors. In one color it becomes a silhouette.</p>
          <div className={classes.row}>
            <Button
              size="xs"
              onClick={() => {
                setAsks(false);
                choose(SWATCHES[0]!);
              }}
            >
              Make it one color
            </Button>
            <Button size="xs" variant="default" onClick={() => setAsks(false)}>
              Keep its colors
            </Button>
          </div>
        </div>
      )}
      {color !== null && (
        <div className={classes.under}>
          <ColorInput
            eyeDropperButtonProps={{ 'aria-label': 'Pick a color from the screen' }}
            label="Color"
            size="xs"
            format="hex"
            value={color}
            swatches={[...new Set([...(own ? [own] : []), ...recent, ...SWATCHES])]}
            swatchesPerRow={9}
            onChangeEnd={choose}
          />
          {own && own !== color && (
            <Button size="compact-xs" variant="default" onClick={() => choose(own)}>
              The ink’s own color, {own}
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

function Colorways() {
  const colorways = useBench((state) => state.cut.ink.colorways);
  const actions = useBenchActions();
  return (
    <section aria-label="Colorways">
      <h2>Colorways</h2>
      {colorways.length === 0 && (
        <p className={classes.soft}>
          Name the colors this piece is needed in; Deliver writes a file of each.
        </p>
      )}
      <ul className={classes.colorways}>
        {colorways.map((colorway, index) => (
          <li key={colorway.name}>
            <ColorwayPicture color={colorway.color} backing={fittingBacking(colorway.color)} />
            <span>
              {colorway.name}
              <br />
              <span className={classes.soft}>{colorway.color}</span>
            </span>
            <Tooltip label="Show it in this color">
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => actions.inkIn(colorway.color, { light: false })}
              >
                Show
              </Button>
            </Tooltip>
            <Tooltip label="Delete this colorway">
              <ActionIcon
                size={22}
                aria-label={`Delete colorway ${colorway.name}`}
                onClick={() => actions.deleteColorway(index)}
              >
                <IconTrash size={15} stroke={1.6} />
              </ActionIcon>
            </Tooltip>
          </li>
        ))}
      </ul>
      <NewColorway taken={colorways} />
    </section>
  );
}

function NewColorway({ taken }: { readonly taken: readonly Colorway[] }) {
  const [name, setName] = useState('');
  const [color, setColor] = useState('#1d2a6b');
  const actions = useBenchActions();
  const wanted = { name: name.trim(), color: color.toLowerCase() };
  const valid = colorwaySchema.safeParse(wanted).success;
  const twice = taken.some((one) => sameColorway(one.name, wanted.name));
  const error =
    name === '' || (valid && !twice)
      ? null
      : twice
        ? `There is a colorway "${wanted.name}" already`
        : 'Letters and digits, single spaces, dots or hyphens between';
  const add = () => {
    if (!valid || twice) return;
    actions.addColorway(wanted);
    setName('');
  };
  return (
    <form
      className={classes.newColorway}
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <TextInput
        size="xs"
        label="Name"
        placeholder="navy"
        value={name}
        error={error}
        maxLength={LONGEST_COLORWAY}
        onChange={({ currentTarget }) => setName(currentTarget.value)}
      />
      <ColorInput
        eyeDropperButtonProps={{ 'aria-label': 'Pick a color from the screen' }}
        size="xs"
        label="Color"
        format="hex"
        value={color}
        swatches={SWATCHES}
        onChange={setColor}
      />
      <Button
        size="xs"
        variant="default"
        type="submit"
        disabled={!valid || twice || taken.length >= MOST_COLORWAYS}
      >
        Add colorway
      </Button>
    </form>
  );
}
