'use client';

import { ActionIcon, Button, Menu } from '@mantine/core';
import { IconDots } from '@tabler/icons-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { createMarkDrawer, SHIPPED_SAMPLES, type SampleState } from '../../bench/mark-drawer';
import type { ProofPieceFacts } from '../../bench/proofs-api';
import {
  watermarksApi,
  type WatermarkEntryFacts,
  type WatermarkStateFacts,
} from '../../bench/watermarks-api';
import { formatMoment } from '../format';
import { ScreenHeader } from '../frame/ScreenHeader';
import { UnreadableRows } from '../frame/UnreadableRows';
import type { UnreadableRow } from '../../core/document';
import { ImportJson } from '../ImportJson';
import { saveJson } from '../save-json';
import { SamplePicture } from './SamplePicture';
import classes from './watermarks.module.css';

interface Props {
  readonly entries: readonly WatermarkEntryFacts[];
  readonly pieces: Readonly<Record<string, ProofPieceFacts>>;
  readonly unreadable: readonly UnreadableRow[];
}

/** All watermarks, each on a photo. */
export function WatermarksScreen({ entries: given, pieces, unreadable }: Props) {
  const router = useRouter();
  const [entries, setEntries] = useState(given);
  const [trouble, setTrouble] = useState<string | null>(null);
  const shown = useShown(entries, pieces);
  const attempt = async (work: () => Promise<void>) => {
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  const begin = (work: () => Promise<{ readonly state: WatermarkStateFacts }>) =>
    attempt(async () => router.push(`/watermarks/${(await work()).state.id}`));
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="watermarks" />
      <main className={classes.lists}>
        <section className={classes.newMark} aria-label="A new watermark">
          <Button size="xs" onClick={() => void begin(() => watermarksApi.add('A new watermark'))}>
            New watermark
          </Button>
          <ImportJson
            label="Watermark to bring"
            onRead={(watermark) => void begin(() => watermarksApi.bring(watermark))}
            onTrouble={setTrouble}
          />
        </section>
        {trouble !== null && (
          <p className={classes.trouble} role="alert">
            {trouble}
          </p>
        )}
        <UnreadableRows rows={unreadable} />
        {entries.length === 0 && (
          <p className={classes.soft}>
            A watermark is a name, a sign or both, put on photos by rule: the same place and size on every
            shape. Begin with a new one.
          </p>
        )}
        <ul className={classes.cards}>
          {entries.map(({ id, watermark, changedAt }, k) => (
            <li key={id} className={classes.card}>
              <Link href={`/watermarks/${id}`} className={classes.cardLink}>
                <span className={classes.cardPicture}>
                  <SamplePicture
                    sample={sampleOf(k)}
                    state={shown[id]}
                    label={`${watermark.name} on a photo`}
                  />
                </span>
                <span className={classes.cardName} title={watermark.name}>
                  {watermark.name}
                </span>
              </Link>
              <span className={classes.cardLine}>
                <span className={classes.soft}>{formatMoment(changedAt)}</span>
                <Button
                  size="compact-xs"
                  variant="default"
                  component={Link}
                  href={`/watermarks/${id}?tab=photos`}
                  aria-label={`Mark photos with ${watermark.name}`}
                >
                  Mark photos
                </Button>
                <CardMenu
                  name={watermark.name}
                  onCopy={() => void begin(() => watermarksApi.copy(id))}
                  onExport={() =>
                    void attempt(async () => {
                      const { watermark: whole } = await watermarksApi.whole(id);
                      saveJson(whole, `${whole.name}.watermark.json`);
                    })
                  }
                  onForget={() =>
                    void attempt(async () => {
                      await watermarksApi.forget(id);
                      setEntries((all) => all.filter((one) => one.id !== id));
                    })
                  }
                />
              </span>
            </li>
          ))}
        </ul>
      </main>
    </div>
  );
}

/** The photo of a card: wide ones, so that the cards are of one height. */
const sampleOf = (k: number) => SHIPPED_SAMPLES[[0, 2, 5][k % 3]!]!;

/** The watermarks on one photo each. */
function useShown(entries: Props['entries'], pieces: Props['pieces']): Readonly<Record<number, SampleState>> {
  const [shown, setShown] = useState<Readonly<Record<number, SampleState>>>({});
  useEffect(() => {
    const drawer = createMarkDrawer();
    let isClosed = false;
    for (const [k, { id, watermark }] of entries.entries())
      void (async () => {
        await drawer.learn(watermark, [sampleOf(k)]).catch(() => undefined);
        const state = await drawer.draw(watermark, pieces, sampleOf(k));
        if (!isClosed) setShown((all) => ({ ...all, [id]: state }));
      })();
    return () => {
      isClosed = true;
      drawer.close();
    };
  }, [entries, pieces]);
  return shown;
}

function CardMenu({
  name,
  onCopy,
  onExport,
  onForget,
}: {
  readonly name: string;
  readonly onCopy: () => void;
  readonly onExport: () => void;
  readonly onForget: () => void;
}) {
  const [asks, setAsks] = useState(false);
  return (
    <Menu
      position="bottom-end"
      shadow="none"
      transitionProps={{ duration: 80 }}
      onClose={() => setAsks(false)}
    >
      <Menu.Target>
        <ActionIcon size={24} aria-label={`More for ${name}`}>
          <IconDots size={16} stroke={1.8} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={onCopy}>Duplicate</Menu.Item>
        <Menu.Item onClick={onExport}>Export as JSON, with its cutouts and fonts</Menu.Item>
        {asks ? (
          <Menu.Item onClick={onForget}>Forget it for good; marked photos stay</Menu.Item>
        ) : (
          <Menu.Item closeMenuOnClick={false} onClick={() => setAsks(true)}>
            Forget it
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
