import { NativeSelect, SegmentedControl, Switch } from '@mantine/core';
import { useState } from 'react';
import {
  INSET,
  MARK_ANGLE_DEG,
  MARK_SIZE,
  MOST_SHARE,
  PERCENT,
  TILE_GAP,
  type MarkPlace,
} from '../../core/watermark/settings';
import { AnchorGrid } from '../AnchorGrid';
import { NumberField } from '../bench/NumberField';
import { SliderField } from '../bench/SliderField';
import { useWatermark, useWatermarkActions } from './watermark-context';
import classes from './watermarks.module.css';

const FIRST_TILED: NonNullable<MarkPlace['tiled']> = { across: 40, down: 200, stagger: 50 };

/** How large the mark is and where it stands, by rule. */
export function PlacePanel() {
  const watermark = useWatermark((state) => state.watermark);
  const actions = useWatermarkActions();
  const [chosen, setChosen] = useState<'place' | 'portrait'>('place');
  const which = watermark.portrait ? chosen : 'place';
  const place = watermark[which] ?? watermark.place;
  const change = (part: Partial<MarkPlace>) => actions.changePlace(which, part);
  const draft = (part: Partial<MarkPlace>) => actions.draftPlace(which, part);
  const { tiled } = place;
  const setTiled = (part: Partial<NonNullable<MarkPlace['tiled']>>) => ({ tiled: { ...tiled!, ...part } });
  const tile = (
    key: 'across' | 'down' | 'stagger',
    label: string,
    range: { readonly min: number; readonly max: number },
  ) => (
    <NumberField
      label={label}
      value={tiled![key]}
      min={range.min}
      max={range.max}
      suffix={'\u00a0%'}
      onDraft={(value) => draft(setTiled({ [key]: value }))}
      onCommit={(value) => change(setTiled({ [key]: value }))}
    />
  );
  return (
    <>
      <section className={classes.block} aria-label="Portraits">
        <Switch
          label="Another place on portraits"
          checked={watermark.portrait !== null}
          onChange={({ currentTarget }) => {
            setChosen(currentTarget.checked ? 'portrait' : 'place');
            actions.change({ portrait: currentTarget.checked ? watermark.place : null });
          }}
        />
        {watermark.portrait && (
          <SegmentedControl
            fullWidth
            aria-label="Which photos"
            value={which}
            data={[
              { value: 'place', label: 'wide and square' },
              { value: 'portrait', label: 'portraits' },
            ]}
            onChange={(value) => setChosen(value)}
          />
        )}
      </section>
      <section className={classes.block} aria-label="Size">
        <NativeSelect
          label="Measured by"
          size="xs"
          value={place.size.of}
          data={[
            { value: 'shorter', label: "the photo's shorter side" },
            { value: 'width', label: "the photo's width" },
            { value: 'height', label: "the photo's height" },
            { value: 'area', label: "the photo's area" },
          ]}
          onChange={({ currentTarget }) =>
            change({ size: { ...place.size, of: currentTarget.value as MarkPlace['size']['of'] } })
          }
        />
        <SliderField
          label={SIZE_WORDS[place.size.of]}
          suffix={'\u00a0%'}
          value={place.size.percent}
          step={0.5}
          {...MARK_SIZE}
          onDraft={(percent) => draft({ size: { ...place.size, percent } })}
          onCommit={(percent) => change({ size: { ...place.size, percent } })}
        />
      </section>
      <section className={classes.block} aria-label="Place">
        <div className={classes.placing}>
          <AnchorGrid label="Stands at" value={place.anchor} onChange={(anchor) => change({ anchor })} />
          <div className={classes.distances}>
            <NumberField
              label="Inset"
              value={place.inset}
              suffix={'\u00a0%'}
              decimalScale={1}
              {...INSET}
              onDraft={(inset) => draft({ inset })}
              onCommit={(inset) => change({ inset })}
            />
            <NumberField
              label="Turned"
              value={place.angleDeg}
              suffix="°"
              decimalScale={1}
              {...MARK_ANGLE_DEG}
              onDraft={(angleDeg) => draft({ angleDeg })}
              onCommit={(angleDeg) => change({ angleDeg })}
            />
          </div>
        </div>
        <Switch
          label="Quiet place"
          description="Where the photo is calmest near there"
          disabled={tiled !== null}
          checked={place.quiet && tiled === null}
          onChange={({ currentTarget }) => change({ quiet: currentTarget.checked })}
        />
        <NumberField
          label="Changes of the picture at most"
          value={place.mostShare}
          suffix={'\u00a0%'}
          {...MOST_SHARE}
          onCommit={(mostShare) => change({ mostShare })}
        />
      </section>
      <section className={classes.block} aria-label="Tiling">
        <Switch
          label="Over the whole photo"
          checked={tiled !== null}
          onChange={({ currentTarget }) =>
            change(
              currentTarget.checked
                ? { tiled: FIRST_TILED, angleDeg: place.angleDeg || -30, mostShare: 100 }
                : { tiled: null, angleDeg: 0, mostShare: 25 },
            )
          }
        />
        {tiled && (
          <div className={classes.fields}>
            {tile('across', 'Gap beside', TILE_GAP)}
            {tile('down', 'Gap above', TILE_GAP)}
            {tile('stagger', 'Every other row moved', PERCENT)}
          </div>
        )}
      </section>
    </>
  );
}

const SIZE_WORDS: Readonly<Record<MarkPlace['size']['of'], string>> = {
  shorter: "The mark's width",
  width: "The mark's width",
  height: "The mark's height",
  area: "The mark's box",
};
