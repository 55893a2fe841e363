import { ActionIcon, Button, Menu, Select, TextInput, Tooltip } from '@mantine/core';
import { IconAlertTriangle, IconChevronDown, IconPlus, IconTrash } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { OUTPUT_FORMATS, type OutputFormat } from '../../core/formats';
import { outputIn } from '../../core/stages/deliver/new-output';
import type { Output } from '../../core/stages/deliver/output-settings';
import { outputWords, sizeWords } from '../../core/stages/deliver/output-words';
import { FIRST_SETS, withSet, type OutputSet } from '../../core/stages/deliver/sets';
import { LONGEST_SET_NAME, setNameSchema } from '../../core/stages/deliver/set-settings';
import { MOST_OUTPUTS } from '../../core/stages/deliver/settings';
import { api } from '../../bench/api';
import { setDocument } from '../../core/stages/deliver/set-document';
import { saveJson } from '../save-json';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { OutputFields } from './OutputFields';
import { SizeFields } from './SizeFields';
import { TrialPicture } from './TrialPicture';

const FORMATS = Object.entries(OUTPUT_FORMATS).map(([value, { name }]) => ({ value, label: name }));

/** The files that are delivered: one, or a set of them. */
export function OutputList() {
  const outputs = useBench((state) => state.cut.deliver.outputs);
  const actions = useBenchActions();
  const [open, setOpen] = useState(0);
  const change = (next: Output[]) => actions.change('deliver', { outputs: next });
  return (
    <section aria-label="Files">
      <div className={classes.outputHead}>
        <h2>{outputs.length === 1 ? 'File' : `${outputs.length} files`}</h2>
        <SetMenu />
      </div>
      <ul className={classes.outputs}>
        {outputs.map((output, k) => {
          const isOpen = k === open || outputs.length === 1;
          return (
            <li key={k} className={classes.output} data-open={isOpen || undefined}>
              <div className={classes.outputRow}>
                {outputs.length > 1 && (
                  <button
                    type="button"
                    className={classes.outputName}
                    aria-expanded={isOpen}
                    onClick={() => setOpen(isOpen ? -1 : k)}
                  >
                    <IconChevronDown size={14} stroke={1.8} aria-hidden="true" />
                    {outputWords(output)}
                  </button>
                )}
                {outputs.length > 1 && (
                  <Tooltip label="Leave this file out">
                    <ActionIcon
                      size={22}
                      aria-label={`Leave out ${outputWords(output)}`}
                      onClick={() => {
                        change(outputs.filter((_, n) => n !== k));
                        setOpen(0);
                      }}
                    >
                      <IconTrash size={14} stroke={1.6} />
                    </ActionIcon>
                  </Tooltip>
                )}
              </div>
              {isOpen && (
                <OutputPanel
                  output={output}
                  index={k}
                  onChange={(next) => change(outputs.map((one, n) => (n === k ? next : one)))}
                />
              )}
            </li>
          );
        })}
      </ul>
      <Button
        size="compact-xs"
        variant="default"
        leftSection={<IconPlus size={13} stroke={1.8} aria-hidden="true" />}
        disabled={outputs.length >= MOST_OUTPUTS}
        onClick={() => {
          change([...outputs, outputIn('webp')]);
          setOpen(outputs.length);
        }}
      >
        Add a file
      </Button>
    </section>
  );
}

function OutputPanel({
  output,
  index,
  onChange,
}: {
  readonly output: Output;
  readonly index: number;
  readonly onChange: (output: Output) => void;
}) {
  const { holds, loses } = OUTPUT_FORMATS[output.format];
  const isExact = output.format === 'webp' && output.quality === null;
  return (
    <div className={classes.outputFields}>
      <Select
        label="Format"
        size="xs"
        allowDeselect={false}
        data={FORMATS}
        value={output.format}
        onChange={(format) => format && onChange(outputIn(format as OutputFormat, output.size))}
      />
      <p className={classes.soft}>Holds {holds}.</p>
      {loses !== null && !isExact && (
        <p className={classes.pictureNote}>
          <IconAlertTriangle size={14} stroke={1.8} aria-hidden="true" />
          Loses {loses}.
        </p>
      )}
      <OutputFields output={output} onChange={onChange} />
      <SizeFields output={output} onChange={onChange} />
      <TrialPicture output={output} index={index} />
    </div>
  );
}

/** Sets: lay one on this piece, save these files as one, forget one. */
function SetMenu() {
  const deliver = useBench((state) => state.cut.deliver);
  const actions = useBenchActions();
  const [sets, setSets] = useState<readonly OutputSet[]>(FIRST_SETS);
  const [name, setName] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    void api.sets().then(
      (answer) => setSets(answer.sets),
      () => undefined,
    );
  }, []);
  const tell = (work: Promise<{ sets: OutputSet[] }>) =>
    void work.then(
      (answer) => {
        setSets(answer.sets);
        setTrouble(null);
        setName('');
      },
      (error: Error) => setTrouble(error.message),
    );
  const save = () => {
    const checked = setNameSchema.safeParse(name);
    if (!checked.success) return setTrouble(checked.error.issues[0]!.message);
    tell(api.saveSet({ name: checked.data, outputs: deliver.outputs, hidden: deliver.hidden }));
  };
  const isSaved = (set: OutputSet) => !FIRST_SETS.some((one) => JSON.stringify(one) === JSON.stringify(set));
  return (
    <Menu position="bottom-end" width={280} closeOnItemClick>
      <Menu.Target>
        <Button size="compact-xs" variant="default">
          Sets
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {sets.map((set) => (
          <Menu.Item
            key={set.name}
            onClick={() => actions.change('deliver', withSet(deliver, set))}
            rightSection={
              isSaved(set) ? (
                <ActionIcon
                  component="span"
                  role="button"
                  size={20}
                  aria-label={`Forget the set ${set.name}`}
                  onClick={(event) => {
                    event.stopPropagation();
                    tell(api.removeSet(set.name));
                  }}
                >
                  <IconTrash size={13} stroke={1.6} />
                </ActionIcon>
              ) : null
            }
          >
            <strong>{set.name}</strong>
            <br />
            <span className={classes.soft}>{set.outputs.map(setLine).join(', ')}</span>
          </Menu.Item>
        ))}
        <Menu.Divider />
        <form
          className={classes.setForm}
          onSubmit={(event) => {
            event.preventDefault();
            save();
          }}
        >
          <TextInput
            size="xs"
            label="Save these files as a set"
            placeholder="name"
            maxLength={LONGEST_SET_NAME}
            value={name}
            error={trouble}
            onChange={({ currentTarget }) => setName(currentTarget.value)}
            onKeyDown={(event) => event.stopPropagation()}
          />
          <Button size="xs" type="submit" variant="default">
            Save
          </Button>
          <Button
            size="xs"
            variant="default"
            className={classes.setFile}
            onClick={() => {
              const own = setNameSchema.safeParse(name).data ?? 'files';
              saveJson(
                setDocument({ name: own, outputs: deliver.outputs, hidden: deliver.hidden }),
                `${own}.json`,
              );
            }}
          >
            As a file, for the command line
          </Button>
        </form>
      </Menu.Dropdown>
    </Menu>
  );
}

function setLine(output: Output): string {
  const { name } = OUTPUT_FORMATS[output.format];
  return `${name} ${sizeWords(output)}`.trim();
}
