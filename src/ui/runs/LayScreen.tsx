'use client';

import { Button, Checkbox, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useState } from 'react';
import { dayOf } from '../../core/day-of';
import { settingsOf, type Cut } from '../../core/cut/schema';
import { counted } from '../../core/findings/finding';
import { CARRIED_STAGES, stepsOfCut, type CarriedStage } from '../../core/routine/of-cut';
import { stepsWords } from '../../core/routine/words';
import { outputWords } from '../../core/stages/deliver/output-words';
import { summarize, type Stage } from '../../core/stages/stage';
import { STAGES } from '../../core/stages/stages';
import { api, type PieceFacts, type ShelfPieceFacts } from '../../bench/api';
import { runsApi, takeSelected, type PreviewFacts } from '../../bench/runs-api';
import { backingStyle } from '../backing-style';
import { ScreenHeader } from '../frame/ScreenHeader';
import classes from './runs.module.css';

interface Props {
  readonly piece: PieceFacts;
  readonly cut: Cut;
  readonly proposed: Cut | null;
  /** All others on the Shelf. */
  readonly pieces: readonly ShelfPieceFacts[];
}

/** How many results are shown before anything is done. */
const SHOWN = 6;

/** Lays settings of one piece on others: which stages travel, on which pieces, and what the first six would be. */
export function LayScreen({ piece, cut, proposed, pieces }: Props) {
  const router = useRouter();
  const [stages, setStages] = useState<readonly CarriedStage[]>(['clear', 'edge', 'ink', 'deliver']);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [search, setSearch] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  // oxlint-disable-next-line react/set-state-in-effect -- what the Shelf handed over is known to the page alone
  useEffect(() => setChosen(new Set(takeSelected().filter((id) => id !== piece.id))), [piece.id]);
  const shown = pieces.filter(({ name }) => name.toLowerCase().includes(search.trim().toLowerCase()));
  const onto = pieces.filter(({ id }) => chosen.has(id)).map(({ id }) => id);
  const previews = usePreviews(piece.id, stages, onto);
  const toggle = (id: string) =>
    setChosen((before) => {
      const after = new Set(before);
      if (!after.delete(id)) after.add(id);
      return after;
    });
  const lay = async () => {
    setBusy(true);
    try {
      const laying = { piece: piece.id, stages };
      const { run } = await runsApi.begin({ laying, pieces: onto, date: dayOf(new Date()) });
      router.push(`/runs/${run.id}`);
    } catch (error) {
      setTrouble((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="shelf" title={`Lay settings of ${piece.name} on others`} />
      <main className={classes.lay}>
        <section aria-label="What travels" className={classes.layStages}>
          <h2>What travels</h2>
          {CARRIED_STAGES.map((stage) => (
            <Checkbox
              key={stage}
              size="xs"
              label={
                <>
                  {STAGES.find(({ key }) => key === stage)!.name}
                  <span className={classes.travels}>{travelWords(cut, proposed, stage)}</span>
                </>
              }
              checked={stages.includes(stage)}
              onChange={({ currentTarget: { checked } }) =>
                setStages(CARRIED_STAGES.filter((one) => (one === stage ? checked : stages.includes(one))))
              }
            />
          ))}
          <p className={classes.soft}>
            Places, crops, strokes and answers about areas belong to this picture and stay with it.
          </p>
          <Button
            loading={busy}
            disabled={onto.length === 0 || stages.length === 0}
            onClick={() => void lay()}
          >
            {onto.length === 0 ? 'Choose pieces' : `Lay on ${counted(onto.length, 'piece')}`}
          </Button>
          {trouble && (
            <p className={classes.problem} role="alert">
              {trouble}
            </p>
          )}
          <Link href={`/bench/${piece.id}`} className={classes.back}>
            Back to the bench
          </Link>
        </section>
        <section aria-label="On which pieces" className={classes.layPieces}>
          <div className={classes.headRow}>
            <h2>On which pieces</h2>
            <TextInput
              aria-label="Search pieces"
              placeholder="search"
              value={search}
              onChange={({ currentTarget }) => setSearch(currentTarget.value)}
            />
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => setChosen(new Set([...chosen, ...shown.map(({ id }) => id)]))}
            >
              All that are shown
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => setChosen(new Set())}>
              None
            </Button>
          </div>
          <ul className={classes.choices}>
            {shown.map((one) => (
              <li key={one.id} className={classes.choicePiece} data-chosen={chosen.has(one.id) || undefined}>
                <label>
                  <span className={classes.small} style={backingStyle(one.backing, 6)}>
                    {/* oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server */}
                    <img src={api.thumbnailAddress(one)} alt="" loading="lazy" />
                  </span>
                  <Checkbox
                    size="xs"
                    label={one.name}
                    checked={chosen.has(one.id)}
                    onChange={() => toggle(one.id)}
                  />
                </label>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="What it gives" className={classes.layPreviews} aria-busy={previews.busy}>
          <h2>
            {onto.length === 0
              ? 'What it gives'
              : onto.length <= SHOWN
                ? 'What it gives'
                : `What it gives, the first ${SHOWN}`}
            {previews.busy && <span className={classes.soft}> · being made</span>}
          </h2>
          {onto.length === 0 && <p className={classes.soft}>Choose pieces to see them.</p>}
          {previews.trouble && (
            <p className={classes.problem} role="alert">
              {previews.trouble}
            </p>
          )}
          <ul className={classes.previews}>
            {previews.shown.map((one) => (
              <li key={one.id}>
                <span className={classes.preview} style={backingStyle('checker', 8)}>
                  {one.picture !== null && (
                    // oxlint-disable-next-line nextjs/no-img-element -- made for this page
                    <img
                      src={`data:image/webp;base64,${one.picture}`}
                      alt={`${one.name} with these settings`}
                    />
                  )}
                </span>
                <span className={classes.printName}>{one.name}</span>
                {one.message !== '' && <span className={classes.soft}>{one.message}</span>}
              </li>
            ))}
          </ul>
        </section>
      </main>
    </div>
  );
}

function travelWords(cut: Cut, proposed: Cut | null, stage: CarriedStage): string {
  if (stage === 'deliver') return cut.deliver.outputs.map(outputWords).join(', ');
  const settings = STAGES.find(({ key }) => key === stage)!;
  if (stage !== 'clear')
    return summarize(settings as Stage, settingsOf(cut, settings as Stage), { cleared: null, deliveries: 0 });
  const words = stepsWords(stepsOfCut(cut, [stage], proposed)).join('; ');
  if (words.startsWith('propose')) {
    const wishes = words.replace(/^propose( by \w+)?(, )?/, '');
    const how = /^propose (by \w+)/.exec(words)?.[1] ?? 'as each picture is found';
    return wishes === ''
      ? `cleared ${how}; tolerance, shade and reach as each picture has them`
      : `cleared ${how}, ${wishes}`;
  }
  return words === '' ? 'nothing is set' : words;
}

/** Waits this long for more choices before pictures are made. */
const REST_MS = 350;

/** What laying would give on the first pieces; made anew when choices rest, without keeping anything. */
function usePreviews(piece: string, stages: readonly CarriedStage[], onto: readonly string[]) {
  const wanted = useMemo(
    () => JSON.stringify({ laying: { piece, stages }, pieces: onto.slice(0, SHOWN) }),
    [piece, stages, onto],
  );
  const [rested] = useDebouncedValue(wanted, REST_MS);
  const [made, setMade] = useState<{ key: string; shown: readonly PreviewFacts[]; trouble: string | null }>({
    key: '',
    shown: [],
    trouble: null,
  });
  useEffect(() => {
    const { laying, pieces } = JSON.parse(rested) as {
      laying: { piece: string; stages: CarriedStage[] };
      pieces: string[];
    };
    if (pieces.length === 0 || laying.stages.length === 0) return;
    const abort = new AbortController();
    void runsApi.preview(laying, pieces, abort.signal).then(
      ({ previews }) => setMade({ key: rested, shown: previews, trouble: null }),
      (error: Error) => {
        if (!abort.signal.aborted) setMade({ key: rested, shown: [], trouble: error.message });
      },
    );
    return () => abort.abort();
  }, [rested]);
  const isNothing = onto.length === 0 || stages.length === 0;
  return {
    busy: !isNothing && made.key !== wanted,
    shown: isNothing ? [] : made.shown,
    trouble: isNothing ? null : made.trouble,
  };
}
