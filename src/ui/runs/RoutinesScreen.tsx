'use client';

import { Button, FileButton, TextInput } from '@mantine/core';
import { IconPlus } from '@tabler/icons-react';
import { useState } from 'react';
import { FIRST_ROUTINES, newRoutine } from '../../core/routine/first-routines';
import { parseRoutineText } from '../../core/routine/parse';
import { LONGEST_ROUTINE_NAME, routineNameSchema, type Routine } from '../../core/routine/settings';
import { routineWords } from '../../core/routine/words';
import type { OutputSet } from '../../core/stages/deliver/sets';
import { same } from '../../core/stages/stage';
import { runsApi } from '../../bench/runs-api';
import { ScreenHeader } from '../frame/ScreenHeader';
import { UnreadableRows } from '../frame/UnreadableRows';
import type { UnreadableRow } from '../../core/document';
import { saveJson } from '../save-json';
import { RoutineSentences } from './RoutineSentences';
import classes from './runs.module.css';

/** All routines, and one of them as sentences whose numbers and choices are fields. */
export function RoutinesScreen({
  routines: given,
  sets,
  unreadable,
}: {
  readonly routines: readonly Routine[];
  readonly sets: readonly OutputSet[];
  readonly unreadable: readonly UnreadableRow[];
}) {
  const [routines, setRoutines] = useState(given);
  const [draft, setDraft] = useState<Routine>(given[0]!);
  const [told, setTold] = useState<{ readonly words: string; readonly isTrouble: boolean } | null>(null);
  const trouble = (error: unknown) => setTold({ words: (error as Error).message, isTrouble: true });
  const saved = routines.find(({ name }) => name === draft.name) ?? null;
  const isFirst = FIRST_ROUTINES.some((one) => same(one, saved));
  const open = (routine: Routine) => {
    setDraft(routine);
    setTold(null);
  };
  const save = async () => {
    try {
      const name = routineNameSchema.parse(draft.name);
      const answer = await runsApi.saveRoutine({ ...draft, name });
      setRoutines(answer.routines);
      setDraft({ ...draft, name });
      setTold({ words: `Saved as ${name}.`, isTrouble: false });
    } catch (error) {
      trouble(error);
    }
  };
  const forget = async () => {
    try {
      const answer = await runsApi.removeRoutine(draft.name);
      setRoutines(answer.routines);
      open(answer.routines.find(({ name }) => name === draft.name) ?? answer.routines[0]!);
    } catch (error) {
      trouble(error);
    }
  };
  const take = async (file: File | null) => {
    if (!file) return;
    try {
      open(parseRoutineText(await file.text()));
      setTold({ words: `${file.name} was read. Save it to keep it.`, isTrouble: false });
    } catch (error) {
      setTold({ words: `${file.name}: ${(error as Error).message}`, isTrouble: true });
    }
  };
  const exportIt = async () => {
    try {
      // What its mark is made of lies beside it in the house, and goes along.
      const { routine } = draft.mark ? await runsApi.wholeRoutine(draft) : { routine: draft };
      saveJson(routine, `${draft.name || 'routine'}.json`);
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="runs" title="Routines" />
      <main className={classes.routines}>
        <nav aria-label="Routines" className={classes.routineList}>
          {routines.map((routine) => (
            <button
              key={routine.name}
              type="button"
              className={classes.routineName}
              aria-current={routine.name === draft.name}
              onClick={() => open(routine)}
            >
              <strong>{routine.name}</strong>
              <span className={classes.soft}>{routineWords(routine).join('; ')}</span>
            </button>
          ))}
          <div className={classes.routineButtons}>
            <Button
              size="compact-xs"
              variant="default"
              leftSection={<IconPlus size={13} stroke={1.8} aria-hidden="true" />}
              onClick={() => open(newRoutine(freeName('my-routine', routines)))}
            >
              New
            </Button>
            <FileButton onChange={(file) => void take(file)} accept="application/json,.json">
              {(props) => (
                <Button size="compact-xs" variant="default" {...props}>
                  Import
                </Button>
              )}
            </FileButton>
          </div>
        </nav>
        <section aria-label="The routine" className={classes.routine}>
          <div className={classes.routineHead}>
            <TextInput
              label="Name"
              maxLength={LONGEST_ROUTINE_NAME}
              value={draft.name}
              onChange={({ currentTarget }) => setDraft({ ...draft, name: currentTarget.value })}
            />
            <Button size="xs" disabled={saved !== null && same(saved, draft)} onClick={() => void save()}>
              {saved === null ? 'Save' : 'Save the change'}
            </Button>
            <Button
              size="xs"
              variant="default"
              onClick={() => open({ ...draft, name: freeName(draft.name, routines) })}
            >
              Copy
            </Button>
            <Button size="xs" variant="default" onClick={() => void exportIt()}>
              Export as JSON
            </Button>
            {saved !== null && !isFirst && (
              <Button size="xs" variant="subtle" color="gray" onClick={() => void forget()}>
                Forget it
              </Button>
            )}
          </div>
          {told && (
            <p
              className={told.isTrouble ? classes.problem : classes.told}
              role={told.isTrouble ? 'alert' : 'status'}
            >
              {told.words}
            </p>
          )}
          <UnreadableRows rows={unreadable} />
          <RoutineSentences
            key={draft.name === saved?.name ? draft.name : 'new'}
            routine={draft}
            sets={sets}
            onChange={setDraft}
          />
        </section>
      </main>
    </div>
  );
}

/** A name that no routine has: with a number behind it where it is taken. */
function freeName(wanted: string, routines: readonly Routine[]): string {
  const stem = wanted.replace(/-\d+$/, '') || 'my-routine';
  let name = stem;
  for (let n = 2; routines.some((one) => one.name === name); n++) name = `${stem}-${n}`;
  return name;
}
