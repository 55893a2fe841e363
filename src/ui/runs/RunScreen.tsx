'use client';

import { Button, Menu, Progress, SegmentedControl } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { counted } from '../../core/findings/finding';
import { routineWords, stepsWords } from '../../core/routine/words';
import { needsLook, progressOf, runsApi, type RunFacts, type RunItemFacts } from '../../bench/runs-api';
import { folderPicker, saveIntoFolder } from '../save-into-folder';
import { ScreenHeader } from '../frame/ScreenHeader';
import { ContactSheet } from './ContactSheet';
import { filesToSave } from './files-to-save';
import { progressWords, tallyWords } from './run-words';
import { RunTable } from './RunTable';
import classes from './runs.module.css';
import { useRun } from './use-run';

interface Props {
  readonly run: RunFacts;
  readonly items: readonly RunItemFacts[];
  /** What carries it out, and how many pictures at a time. */
  readonly words: string;
  readonly slots: number;
  readonly trouble: string;
  /** How many of its pieces are not on the Shelf. */
  readonly unshelved: number;
}

/** One run: how far it is, every picture of it, and what can be done with both. */
export function RunScreen(given: Props) {
  const { run, items, slots, trouble, eachMs } = useRun(given);
  const [view, setView] = useState('table');
  const [told, setTold] = useState<string | null>(null);
  const note = told ?? (run.message || (run.state === 'running' ? trouble : ''));
  const { done, all } = progressOf(run);
  const say = (words: string | null) => setTold(words);
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="runs" title={run.name} />
      <main className={classes.runMain}>
        <div className={classes.runHead}>
          <div className={classes.runFacts}>
            <p className={classes.words}>
              {(run.purpose === 'lay' ? stepsWords(run.routine) : routineWords(run.routine)).join('; ')}.
            </p>
            <Progress value={(100 * done) / Math.max(1, all)} size={6} aria-label={`${done} of ${all}`} />
            <p aria-live="polite">
              <strong>{STATE_WORDS[run.state]}</strong> {progressWords(run, slots, eachMs)}
              {given.words !== '' && run.state === 'running' && (
                <span className={classes.soft}> · {given.words}</span>
              )}
              <br />
              <span className={classes.soft}>{tallyWords(run)}</span>
            </p>
          </div>
          <div className={classes.runActions}>
            <RunActions run={run} items={items} unshelved={given.unshelved} onTold={say} />
          </div>
        </div>
        {note !== '' && (
          <p className={classes.told} role="status">
            {note}
          </p>
        )}
        <div className={classes.viewRow}>
          <SegmentedControl
            value={view}
            onChange={setView}
            data={[
              { value: 'table', label: 'Pictures' },
              { value: 'sheet', label: 'Contact sheet' },
            ]}
          />
        </div>
        {view === 'table' ? <RunTable runId={run.id} items={items} /> : <ContactSheet items={items} />}
      </main>
    </div>
  );
}

const STATE_WORDS: Readonly<Record<RunFacts['state'], string>> = {
  running: 'Going on:',
  paused: 'Paused:',
  cancelled: 'Cancelled:',
  done: 'Done:',
};

function RunActions({
  run,
  items,
  unshelved,
  onTold,
}: {
  readonly run: RunFacts;
  readonly items: readonly RunItemFacts[];
  readonly unshelved: number;
  readonly onTold: (words: string | null) => void;
}) {
  const change = async (action: Parameters<typeof runsApi.change>[1]) => {
    try {
      const { undone } = await runsApi.change(run.id, action);
      onTold(undone ? undoneWords(undone) : null);
    } catch (error) {
      onTold((error as Error).message);
    }
  };
  const [isShelved, setShelved] = useState(unshelved === 0);
  const shelve = async () => {
    await change('shelve');
    setShelved(true);
    onTold(
      `${counted(unshelved, 'piece')} of this run now ${unshelved === 1 ? 'lies' : 'lie'} on the Shelf too.`,
    );
  };
  const { counts, state } = run;
  const isOver = state === 'done' || state === 'cancelled';
  const again = (counts.failed ?? 0) + (counts.cancelled ?? 0);
  const canRetry = items.some(
    (item) => (item.state === 'failed' || item.state === 'cancelled') && item.pieceId !== null,
  );
  const look = items.filter(needsLook);
  const first = look.find((item) => item.state === 'held') ?? look[0];
  const laid = items.some(({ revision, before }) => revision !== null && revision !== before);
  return (
    <>
      {first && (
        <Button size="xs" component={Link} href={`/bench/${first.pieceId}?run=${run.id}&at=${first.number}`}>
          Look at {look.length === 1 ? 'the one that is' : `the ${look.length} that are`} not sure
        </Button>
      )}
      {state === 'running' && (
        <Button size="xs" variant="default" onClick={() => void change('pause')}>
          Pause
        </Button>
      )}
      {state === 'paused' && (
        <Button size="xs" onClick={() => void change('resume')}>
          Resume
        </Button>
      )}
      {!isOver && (
        <Button size="xs" variant="default" onClick={() => void change('cancel')}>
          Cancel
        </Button>
      )}
      {isOver && canRetry && (
        <Button size="xs" variant="default" onClick={() => void change('retry')}>
          Try again, {again}
        </Button>
      )}
      {isOver && laid && (
        <Button size="xs" variant="default" onClick={() => void change('undo')}>
          Undo on all its pieces
        </Button>
      )}
      {(counts.delivered ?? 0) > 0 && <Results run={run} items={items} onTold={onTold} />}
      {!isShelved && (
        <Button size="xs" variant="default" onClick={() => void shelve()}>
          Lay its pieces on the Shelf
        </Button>
      )}
      {isOver && <Forget run={run} onTold={onTold} />}
    </>
  );
}

function undoneWords({
  undone,
  changed,
}: {
  readonly undone: number;
  readonly changed: readonly string[];
}): string {
  const back = undone === 0 ? 'Nothing was left to take back.' : `Taken back on ${counted(undone, 'piece')}.`;
  if (changed.length === 0) return back;
  const names = changed.slice(0, 3).join(', ');
  const more = changed.length > 3 ? ` and ${changed.length - 3} more` : '';
  return `${back} ${names}${more} ${changed.length === 1 ? 'was' : 'were'} changed since and left as ${changed.length === 1 ? 'it is' : 'they are'}.`;
}

function Results({
  run,
  items,
  onTold,
}: {
  readonly run: RunFacts;
  readonly items: readonly RunItemFacts[];
  readonly onTold: (words: string | null) => void;
}) {
  const pick = folderPicker();
  const save = async () => {
    try {
      const folder = await pick!();
      const files = await filesToSave(run.id, items, onTold);
      const names = await saveIntoFolder(folder, files);
      onTold(`${counted(names.length, 'file')} written, the report with them.`);
    } catch (error) {
      if ((error as Error).name !== 'AbortError') onTold((error as Error).message);
    }
  };
  const isLead = run.state === 'done' && !items.some(needsLook);
  return (
    <Button.Group>
      <Button
        size="xs"
        variant={isLead ? 'filled' : 'default'}
        component="a"
        href={runsApi.zipAddress(run.id)}
      >
        Results as ZIP
      </Button>
      <Menu position="bottom-end" shadow="none">
        <Menu.Target>
          <Button
            size="xs"
            variant={isLead ? 'filled' : 'default'}
            px={6}
            aria-label="More ways to take the results"
          >
            <IconChevronDown size={14} stroke={1.8} />
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item disabled={!pick} onClick={() => void save()}>
            Into a folder{pick ? '' : ' (this browser cannot)'}
          </Menu.Item>
          <Menu.Item component="a" href={runsApi.reportAddress(run.id, 'json')}>
            Report as JSON
          </Menu.Item>
          <Menu.Item component="a" href={runsApi.reportAddress(run.id, 'csv')}>
            Report as CSV
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </Button.Group>
  );
}

function Forget({
  run,
  onTold,
}: {
  readonly run: RunFacts;
  readonly onTold: (words: string | null) => void;
}) {
  const router = useRouter();
  const [asking, setAsking] = useState(false);
  const forget = async () => {
    try {
      await runsApi.forget(run.id);
      router.push('/runs');
    } catch (error) {
      onTold((error as Error).message);
    }
  };
  return asking ? (
    <>
      <Button size="xs" variant="default" onClick={() => setAsking(false)}>
        Keep it
      </Button>
      <Button size="xs" variant="default" onClick={() => void forget()}>
        Forget it; pieces and files stay
      </Button>
    </>
  ) : (
    <Button size="xs" variant="subtle" color="gray" onClick={() => setAsking(true)}>
      Forget this run
    </Button>
  );
}
