'use client';

import { ActionIcon, Button, ColorInput, Menu, NativeSelect, TextInput } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useState, type ReactNode } from 'react';
import {
  AS_FOUND,
  MOST_SETS,
  type ClearWish,
  type DeliverWish,
  type Doubt,
  type Routine,
} from '../../core/routine/settings';
import { newRoutine, ROUTINE_SETS } from '../../core/routine/first-routines';
import { SHADE, TOLERANCE } from '../../core/stages/clear/settings';
import { NAME_PARTS } from '../../core/stages/deliver/planned-files';
import { NO_PADDING, PADDING, type Padding } from '../../core/stages/deliver/output-settings';
import { outputWords } from '../../core/stages/deliver/output-words';
import type { OutputSet } from '../../core/stages/deliver/sets';
import { LONGEST_FILE_NAME } from '../../core/stages/deliver/settings';
import { EDGE_FIELDS, FOUND_EDGE } from '../../core/stages/edge/settings';
import { colorwaySchema, INK_FIELDS, MOST_COLORWAYS } from '../../core/stages/ink/settings';
import { AS_IT_CAME, PREPARE_FIELDS } from '../../core/stages/prepare/settings';
import type { Field } from '../../core/stages/stage';
import { NumberField } from '../bench/NumberField';
import { MarkedFields } from '../watermarks/MarkedFields';
import classes from './runs.module.css';

interface Props {
  readonly routine: Routine;
  readonly sets: readonly OutputSet[];
  readonly onChange: (routine: Routine) => void;
}

/** A routine as sentences in the order in which it works, each with its numbers and choices as fields within it. */
export function RoutineSentences({ routine, sets, onChange }: Props) {
  const change = (part: Partial<Routine>) => onChange({ ...routine, ...part });
  const { clear, prepare, edge, ink, deliver, notSure, findings, mark } = routine;
  if (mark)
    return (
      <ol className={classes.sentences}>
        <Sentence lead="Mark">
          Put the watermark “{mark.watermark.name}” on photos. It is in this routine as it was when that was
          kept.
        </Sentence>
        <Sentence lead="Make">
          <MarkedFields marked={mark} onChange={(marked) => change({ mark: { ...mark, ...marked } })} />
        </Sentence>
      </ol>
    );
  return (
    <ol className={classes.sentences}>
      <Sentence lead="Propose">
        <Clearing clear={clear} onChange={(next) => change({ clear: next })} />
      </Sentence>
      <Sentence lead="Prepare">
        <Wishes
          fields={{ flatten: PREPARE_FIELDS.flatten, calm: PREPARE_FIELDS.calm }}
          start={{ ...AS_IT_CAME, flatten: 60, calm: 30 }}
          wish={prepare ?? {}}
          onChange={(next) => change({ prepare: orNull(next) })}
        />
        <Choice
          label="Ruled lines"
          value={prepare?.removeRules === undefined ? '' : prepare.removeRules ? 'yes' : 'no'}
          data={[
            { value: '', label: 'ruled lines as found' },
            { value: 'yes', label: 'remove ruled lines' },
            { value: 'no', label: 'leave ruled lines' },
          ]}
          onChange={(value) => {
            const { removeRules, ...rest } = prepare ?? {};
            change({ prepare: orNull(value === '' ? rest : { ...rest, removeRules: value === 'yes' }) });
          }}
        />
      </Sentence>
      <Sentence lead="Edge">
        <Wishes
          fields={EDGE_FIELDS}
          start={{ ...FOUND_EDGE, widthPx: 2 }}
          wish={edge ?? {}}
          onChange={(next) => change({ edge: orNull(next) })}
        />
      </Sentence>
      <Sentence lead="Ink">
        <Inking ink={ink} onChange={(next) => change({ ink: orNull(next ?? {}) })} />
      </Sentence>
      <Sentence lead="Deliver">
        <Delivering deliver={deliver} sets={sets} onChange={(next) => change({ deliver: next })} />
      </Sentence>
      <Sentence lead="When it is not sure">
        <DoubtChoice
          label="What is not sure"
          value={notSure}
          onChange={(next) => change({ notSure: next })}
        />
      </Sentence>
      <Sentence lead="When there are findings">
        <DoubtChoice
          label="What has findings"
          value={findings}
          onChange={(next) => change({ findings: next })}
        />
      </Sentence>
    </ol>
  );
}

function Sentence({ lead, children }: { readonly lead: string; readonly children: ReactNode }) {
  return (
    <li className={classes.sentence}>
      <span className={classes.lead}>{lead}</span>
      <span className={classes.parts}>{children}</span>
    </li>
  );
}

function orNull<T extends object>(wish: T): T | null {
  return Object.keys(wish).length === 0 ? null : wish;
}

function Choice<T extends string>({
  label,
  value,
  data,
  onChange,
}: {
  readonly label: string;
  readonly value: T;
  readonly data: readonly { readonly value: T; readonly label: string }[];
  readonly onChange: (value: T) => void;
}) {
  return (
    <NativeSelect
      size="xs"
      aria-label={label}
      className={classes.choice}
      data={data.map((one) => ({ ...one }))}
      value={value}
      onChange={({ currentTarget }) => onChange(currentTarget.value as T)}
    />
  );
}

const DOUBTS: readonly { readonly value: Doubt; readonly label: string }[] = [
  { value: 'hold', label: 'hold it back for a look' },
  { value: 'deliver', label: 'deliver it anyway' },
  { value: 'skip', label: 'leave it out' },
];

function DoubtChoice(props: {
  readonly label: string;
  readonly value: Doubt;
  readonly onChange: (value: Doubt) => void;
}) {
  return <Choice {...props} data={DOUBTS} />;
}

/** A number within a sentence, that can be taken out of it. */
function NumberPart({
  words,
  unit = '',
  value,
  min,
  max,
  step = 1,
  onChange,
  onRemove,
}: {
  readonly words: string;
  readonly unit?: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  readonly onChange: (value: number) => void;
  readonly onRemove?: () => void;
}) {
  return (
    <span className={classes.part}>
      {words}
      <NumberField
        aria-label={words}
        className={classes.numberPart ?? ''}
        {...(unit === '' ? {} : { suffix: unit === '°' ? '°' : ` ${unit}` })}
        value={value}
        min={min}
        max={max}
        step={step}
        decimalScale={step < 1 ? 2 : 0}
        onCommit={onChange}
      />
      {onRemove && (
        <ActionIcon size={20} aria-label={`Leave out ${words}`} onClick={onRemove}>
          <IconX size={12} stroke={1.8} />
        </ActionIcon>
      )}
    </span>
  );
}

/** Adds something to a sentence. */
function AddMenu({
  label,
  items,
}: {
  readonly label: string;
  readonly items: readonly { readonly label: string; readonly note?: string; readonly add: () => void }[];
}) {
  if (items.length === 0) return null;
  return (
    <Menu position="bottom-start" shadow="none">
      <Menu.Target>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconPlus size={12} stroke={1.8} aria-hidden="true" />}
        >
          {label}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {items.map(({ label: item, note, add }) => (
          <Menu.Item key={item} onClick={add}>
            {item}
            {note && (
              <>
                <br />
                <span className={classes.soft}>{note}</span>
              </>
            )}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The plain numbers of a stage that a routine sets; those that it leaves out stay as each piece has them. */
function Wishes<W extends object>({
  fields,
  start,
  wish,
  none = 'as each piece has it',
  onChange,
}: {
  readonly fields: Readonly<Record<string, Field>>;
  /** What is said where none is set. */
  readonly none?: string;
  readonly start: object;
  readonly wish: W;
  readonly onChange: (wish: W) => void;
}) {
  const values = wish as Readonly<Record<string, unknown>>;
  const first = start as Readonly<Record<string, number>>;
  const without = (key: string) =>
    Object.fromEntries(Object.entries(values).filter(([one]) => one !== key)) as unknown as W;
  const isSet = (key: string) => typeof values[key] === 'number';
  const entries = Object.entries(fields);
  return (
    <>
      {entries.filter(([key]) => isSet(key)).length === 0 && <span className={classes.soft}>{none}</span>}
      {entries
        .filter(([key]) => isSet(key))
        .map(([key, { label, unit = '', min, max, step = 1 }]) => (
          <NumberPart
            key={key}
            words={label.toLowerCase()}
            unit={unit}
            value={values[key] as number}
            min={min}
            max={max}
            step={step}
            onChange={(value) => onChange({ ...wish, [key]: value })}
            onRemove={() => onChange(without(key))}
          />
        ))}
      <AddMenu
        label="more"
        items={entries
          .filter(([key]) => !isSet(key))
          .map(([key, { label, note }]) => ({
            label,
            ...(note ? { note } : {}),
            add: () => onChange({ ...wish, [key]: first[key] ?? 0 }),
          }))}
      />
    </>
  );
}

const METHODS = [
  { value: 'found', label: 'as the picture is found' },
  { value: 'color', label: 'by color' },
  { value: 'ink', label: 'by ink' },
  { value: 'leave', label: 'nothing: leave each piece as it is cleared' },
] as const;

function Clearing({
  clear,
  onChange,
}: {
  readonly clear: ClearWish | null;
  readonly onChange: (clear: ClearWish | null) => void;
}) {
  const method = clear === null ? 'leave' : (clear.method ?? 'found');
  const set = (part: Partial<ClearWish>) => onChange({ ...(clear ?? AS_FOUND), ...part });
  return (
    <>
      <Choice
        label="How to clear"
        value={method}
        data={METHODS}
        onChange={(next) =>
          next === 'leave'
            ? onChange(null)
            : set({
                method: next === 'found' ? null : next,
                ...(next === 'ink' ? {} : { channel: null, speckPx: null }),
              })
        }
      />
      {clear && clear.method !== 'ink' && <ByColor clear={clear} set={set} />}
      {clear && clear.method === 'ink' && (
        <>
          {clear.speckPx !== null && (
            <NumberPart
              words="drop specks under"
              unit="px²"
              value={clear.speckPx}
              min={0}
              max={10_000}
              onChange={(speckPx) => set({ speckPx })}
              onRemove={() => set({ speckPx: null })}
            />
          )}
          {clear.speckPx === null && (
            <AddMenu label="more" items={[{ label: 'Drop specks', add: () => set({ speckPx: 12 }) }]} />
          )}
        </>
      )}
      {clear && clear.method !== 'color' && (
        <>
          <Choice
            label="Crop"
            value={clear.crop ? 'yes' : 'no'}
            data={[
              { value: 'yes', label: 'crop to writing' },
              { value: 'no', label: 'no crop' },
            ]}
            onChange={(next) => set({ crop: next === 'yes' })}
          />
          <Choice
            label="Straighten"
            value={clear.straighten ? 'yes' : 'no'}
            data={[
              { value: 'yes', label: 'lay writing level' },
              { value: 'no', label: 'do not straighten' },
            ]}
            onChange={(next) => set({ straighten: next === 'yes' })}
          />
        </>
      )}
    </>
  );
}

function ByColor({
  clear,
  set,
}: {
  readonly clear: ClearWish;
  readonly set: (part: Partial<ClearWish>) => void;
}) {
  const { tolerance, reach, backdrop, shade } = clear;
  return (
    <>
      {tolerance !== null && (
        <NumberPart
          words="tolerance"
          value={tolerance}
          {...TOLERANCE}
          onChange={(value) => set({ tolerance: value })}
          onRemove={() => set({ tolerance: null })}
        />
      )}
      {reach !== null && (
        <Choice
          label="Reach"
          value={reach}
          data={[
            { value: 'joined', label: 'reach joined' },
            { value: 'everywhere', label: 'reach everywhere' },
          ]}
          onChange={(value) => set({ reach: value })}
        />
      )}
      {backdrop !== null && (
        <Choice
          label="Backdrop"
          value={backdrop}
          data={[
            { value: 'flat', label: 'backdrop flat' },
            { value: 'smooth', label: 'backdrop smooth' },
            { value: 'checkerboard', label: 'backdrop checkerboard' },
          ]}
          onChange={(value) => set({ backdrop: value })}
        />
      )}
      {shade !== null && (
        <>
          <NumberPart
            words="shade darker"
            value={shade.darker}
            {...SHADE}
            onChange={(darker) => set({ shade: { ...shade, darker } })}
          />
          <NumberPart
            words="lighter"
            value={shade.lighter}
            {...SHADE}
            onChange={(lighter) => set({ shade: { ...shade, lighter } })}
            onRemove={() => set({ shade: null })}
          />
        </>
      )}
      <AddMenu
        label="more"
        items={[
          ...(tolerance === null
            ? [
                {
                  label: 'Tolerance',
                  note: 'instead of deciding by the picture as a whole',
                  add: () => set({ tolerance: 10 }),
                },
              ]
            : []),
          ...(reach === null ? [{ label: 'Reach', add: () => set({ reach: 'joined' as const }) }] : []),
          ...(backdrop === null
            ? [{ label: 'Backdrop', add: () => set({ backdrop: 'flat' as const }) }]
            : []),
          ...(shade === null
            ? [{ label: 'Shade allowance', add: () => set({ shade: { darker: 20, lighter: 0 } }) }]
            : []),
        ]}
      />
    </>
  );
}

type InkWish = NonNullable<Routine['ink']>;

function Inking({
  ink,
  onChange,
}: {
  readonly ink: Routine['ink'];
  readonly onChange: (ink: InkWish | null) => void;
}) {
  const [name, setName] = useState('');
  const wish = ink ?? {};
  const { color, colorways = [], light } = wish;
  const without = (key: keyof InkWish) =>
    Object.fromEntries(Object.entries(wish).filter(([one]) => one !== key)) as InkWish;
  const mode = color === undefined ? 'leave' : color === null ? 'own' : 'one';
  const fresh = colorwaySchema.safeParse({ name, color: '#1d2a6b' });
  const isTaken = colorways.some((one) => one.name.toLowerCase() === name.toLowerCase());
  return (
    <>
      <Choice
        label="Color"
        value={mode}
        data={[
          { value: 'leave', label: 'as each piece has it' },
          { value: 'own', label: 'own colors' },
          { value: 'one', label: 'one color' },
        ]}
        onChange={(next) =>
          onChange(
            next === 'leave' ? without('color') : { ...wish, color: next === 'own' ? null : '#1d2a6b' },
          )
        }
      />
      {typeof color === 'string' && (
        <ColorInput
          withEyeDropper={false}
          size="xs"
          aria-label="Ink color"
          className={classes.colorPart ?? ''}
          value={color}
          onChangeEnd={(next) => /^#[0-9a-f]{6}$/.test(next) && onChange({ ...wish, color: next })}
        />
      )}
      <Wishes
        fields={INK_FIELDS}
        none="density as it is"
        start={{ density: 20 }}
        wish={wish}
        onChange={(next) => onChange(next)}
      />
      <Choice
        label="Light version"
        value={light === undefined ? '' : light ? 'yes' : 'no'}
        data={[
          { value: '', label: 'lightness as it is' },
          { value: 'yes', label: 'light version' },
          { value: 'no', label: 'no light version' },
        ]}
        onChange={(next) => onChange(next === '' ? without('light') : { ...wish, light: next === 'yes' })}
      />
      {colorways.map((colorway, k) => (
        <span key={colorway.name} className={classes.part}>
          colorway {colorway.name}
          <ColorInput
            withEyeDropper={false}
            size="xs"
            aria-label={`Color of ${colorway.name}`}
            className={classes.colorPart ?? ''}
            value={colorway.color}
            onChangeEnd={(next) =>
              /^#[0-9a-f]{6}$/.test(next) &&
              onChange({
                ...wish,
                colorways: colorways.map((one, n) => (n === k ? { ...one, color: next } : one)),
              })
            }
          />
          <ActionIcon
            size={20}
            aria-label={`Leave out ${colorway.name}`}
            onClick={() => {
              const rest = colorways.filter((_, n) => n !== k);
              onChange(rest.length === 0 ? without('colorways') : { ...wish, colorways: rest });
            }}
          >
            <IconX size={12} stroke={1.8} />
          </ActionIcon>
        </span>
      ))}
      {colorways.length < MOST_COLORWAYS && (
        <form
          className={classes.part}
          onSubmit={(event) => {
            event.preventDefault();
            if (!fresh.success || isTaken) return;
            onChange({ ...wish, colorways: [...colorways, fresh.data] });
            setName('');
          }}
        >
          <TextInput
            aria-label="Name of another colorway"
            placeholder="another colorway"
            className={classes.namePart ?? ''}
            value={name}
            onChange={({ currentTarget }) => setName(currentTarget.value)}
          />
          <Button size="compact-xs" type="submit" variant="default" disabled={!fresh.success || isTaken}>
            Add
          </Button>
        </form>
      )}
    </>
  );
}

/** Sets that a routine can be told to deliver: those of the house, and the full size. */
function choicesOf(sets: readonly OutputSet[], chosen: DeliverWish['sets']): OutputSet[] {
  const all = [...sets, ...ROUTINE_SETS.filter(({ name }) => !sets.some((one) => one.name === name))];
  return all.filter(({ name }) => !chosen.some((one) => one.name === name));
}

function Delivering({
  deliver,
  sets,
  onChange,
}: {
  readonly deliver: DeliverWish | null;
  readonly sets: readonly OutputSet[];
  readonly onChange: (deliver: DeliverWish | null) => void;
}) {
  if (deliver === null)
    return (
      <Choice
        label="Files"
        value="own"
        data={[
          { value: 'own', label: 'the files that each piece names' },
          { value: 'sets', label: 'sets' },
        ]}
        onChange={(next) => next === 'sets' && onChange(newRoutine('new').deliver)}
      />
    );
  const set = (part: Partial<DeliverWish>) => onChange({ ...deliver, ...part });
  const { sets: chosen, trim, padding, fileName, hidden } = deliver;
  return (
    <>
      {chosen.map((one) => (
        <span key={one.name} className={classes.part} title={one.outputs.map(outputWords).join(', ')}>
          set <strong>{one.name}</strong>
          <span className={classes.soft}>({one.outputs.map(outputWords).join(', ')})</span>
          <ActionIcon
            size={20}
            aria-label={`Leave out the set ${one.name}`}
            onClick={() => {
              const rest = chosen.filter(({ name }) => name !== one.name);
              onChange(rest.length === 0 ? null : { ...deliver, sets: rest });
            }}
          >
            <IconX size={12} stroke={1.8} />
          </ActionIcon>
        </span>
      ))}
      {chosen.length < MOST_SETS && (
        <AddMenu
          label="set"
          items={choicesOf(sets, chosen).map((one) => ({
            label: one.name,
            note: one.outputs.map(outputWords).join(', '),
            add: () => set({ sets: [...chosen, { ...one, outputs: [...one.outputs] }] }),
          }))}
        />
      )}
      <Choice
        label="Trim"
        value={trim === null ? '' : trim ? 'yes' : 'no'}
        data={[
          { value: '', label: 'trim as the sets say' },
          { value: 'yes', label: 'trim all files' },
          { value: 'no', label: 'trim none' },
        ]}
        onChange={(next) => set({ trim: next === '' ? null : next === 'yes' })}
      />
      {padding === null ? (
        <AddMenu
          label="padding"
          items={[{ label: 'Padding for all files', add: () => set({ padding: around(5) }) }]}
        />
      ) : (
        <span className={classes.part}>
          <NumberPart
            words="padding"
            value={padding.top}
            {...PADDING}
            step={0.5}
            onChange={(value) => set({ padding: { ...around(value), unit: padding.unit } })}
            onRemove={() => set({ padding: null })}
          />
          <Choice
            label="Unit of padding"
            value={padding.unit}
            data={[
              { value: '%', label: '%' },
              { value: 'px', label: 'px' },
              { value: 'mm', label: 'mm' },
            ]}
            onChange={(unit) => set({ padding: { ...padding, unit } })}
          />
        </span>
      )}
      <span className={classes.part}>
        file name
        <TextInput
          aria-label="File name"
          title={NAME_PARTS.map((part) => `{${part}}`).join(' ')}
          placeholder="as each piece says"
          className={classes.fileName ?? ''}
          maxLength={LONGEST_FILE_NAME}
          value={fileName ?? ''}
          onChange={({ currentTarget: { value } }) => set({ fileName: value === '' ? null : value })}
        />
      </span>
      <Choice
        label="Hidden color"
        value={hidden}
        data={[
          { value: 'removed', label: 'hidden color removed' },
          { value: 'bled', label: 'color bled outward' },
        ]}
        onChange={(next) => set({ hidden: next })}
      />
    </>
  );
}

function around(side: number): Padding {
  return { ...NO_PADDING, top: side, right: side, bottom: side, left: side, unit: '%' };
}
