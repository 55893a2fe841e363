'use client';

import { ActionIcon, Button, Menu, Select } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { IconDots, IconFileText } from '@tabler/icons-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import {
  proofsApi,
  type GroundState,
  type ProofEntryFacts,
  type ProofPieceFacts,
  type ProofStateFacts,
} from '../../bench/proofs-api';
import { createPlacedPictures } from '../../bench/placed-pictures';
import { formatMoment } from '../format';
import { ScreenHeader } from '../frame/ScreenHeader';
import { UnreadableRows } from '../frame/UnreadableRows';
import type { UnreadableRow } from '../../core/document';
import { ImportJson } from '../ImportJson';
import { GROUNDS_ON_CARD } from './card';
import { GroundPicture } from './GroundPicture';
import classes from './proofs.module.css';
import { useShelfPieces } from './use-shelf-pieces';

export interface ProofCardFacts {
  readonly entry: ProofEntryFacts;
  readonly grounds: Readonly<Record<string, GroundState>>;
  readonly pieces: Readonly<Record<string, ProofPieceFacts>>;
}

/** All proofs, and the templates that the next letter is dropped on. */
export function ProofsScreen({
  cards: given,
  unreadable,
}: {
  readonly cards: readonly ProofCardFacts[];
  readonly unreadable: readonly UnreadableRow[];
}) {
  const router = useRouter();
  const [cards, setCards] = useState(given);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const [, setPictures] = useState(0);
  const [pictures] = useState(() => createPlacedPictures(() => setPictures((count) => count + 1)));
  const { list: shelf } = useShelfPieces();

  /** Does something, and opens the proof that comes of it. */
  const begin = async (words: string, work: () => Promise<{ readonly state: ProofStateFacts }>) => {
    setTrouble(null);
    setBusy(words);
    try {
      router.push(`/proofs/${(await work()).state.id}`);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
      setBusy(null);
    }
  };
  const forget = async (id: number) => {
    await proofsApi.forget(id).catch((error: unknown) => setTrouble(String(error)));
    setCards((all) => all.filter(({ entry }) => entry.id !== id));
  };
  const templates = cards.filter(({ entry }) => entry.isTemplate);
  const proofs = cards.filter(({ entry }) => !entry.isTemplate);
  const card = (facts: ProofCardFacts) => (
    <ProofCard
      key={facts.entry.id}
      facts={facts}
      pictureOf={(placement) => {
        const piece = facts.pieces[placement.piece];
        return piece ? pictures.of(piece.id, piece.revision, placement) : null;
      }}
      onLetter={(file) => void begin(`Reading ${file.name}`, () => proofsApi.letter(facts.entry.id, file))}
      onCopy={() => void begin('Copying', () => proofsApi.copy(facts.entry.id))}
      onForget={() => void forget(facts.entry.id)}
    />
  );
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="proofs" />
      <main className={classes.lists}>
        <section className={classes.newProof} aria-label="A new proof">
          <Select
            aria-label="Try a piece on"
            placeholder="Try a piece on"
            size="xs"
            searchable
            value={null}
            {...shelf}
            onChange={(piece) => {
              if (piece) void begin('Making its proof', () => proofsApi.ofPiece(piece));
            }}
          />
          <Button
            variant="default"
            size="xs"
            onClick={() => void begin('Making it', () => proofsApi.add('A new proof'))}
          >
            Empty proof
          </Button>
          <ImportJson
            label="Proof to bring"
            onRead={(proof, file) =>
              void begin('Reading it', () =>
                proofsApi.add(file.replace(/(\.proof)?\.json$/i, '') || 'A proof', proof),
              )
            }
            onTrouble={setTrouble}
          />
          {busy !== null && <span role="status">{busy}</span>}
        </section>
        {trouble !== null && (
          <p className={classes.trouble} role="alert">
            {trouble}
          </p>
        )}
        <UnreadableRows rows={unreadable} />
        {templates.length > 0 && (
          <section aria-label="Templates">
            <h2>Templates</h2>
            <p className={classes.soft}>
              Drop a PDF on one: it gets what lies on the template, ready to be delivered.
            </p>
            <ul className={classes.cards}>{templates.map(card)}</ul>
          </section>
        )}
        <section aria-label="Proofs">
          <h2>
            {proofs.length === 1
              ? '1 proof'
              : proofs.length === 0
                ? 'No proof yet'
                : `${proofs.length} proofs`}
          </h2>
          {proofs.length === 0 && (
            <p className={classes.soft}>
              A proof shows a piece where it will live: on a letter, a photo, a slide, a site. Choose a piece
              above.
            </p>
          )}
          <ul className={classes.cards}>{proofs.map(card)}</ul>
        </section>
      </main>
    </div>
  );
}

interface CardProps {
  readonly facts: ProofCardFacts;
  readonly pictureOf: Parameters<typeof GroundPicture>[0]['pictureOf'];
  readonly onLetter: (file: File) => void;
  readonly onCopy: () => void;
  readonly onForget: () => void;
}

function ProofCard({ facts: { entry, grounds }, pictureOf, onLetter, onCopy, onForget }: CardProps) {
  const browse = useRef<() => void>(null);
  const [asks, setAsks] = useState(false);
  const shown = entry.proof.grounds.slice(0, GROUNDS_ON_CARD);
  const body = (
    <>
      <Link href={`/proofs/${entry.id}`} className={classes.cardLink}>
        <span className={classes.cardPictures}>
          {shown.map((ground) => (
            <span key={ground.id} className={classes.cardPicture}>
              <GroundPicture ground={ground} facts={grounds[ground.id]} width={400} pictureOf={pictureOf} />
            </span>
          ))}
          {shown.length === 0 && <span className={classes.empty}>no ground yet</span>}
        </span>
        <span className={classes.printName} title={entry.name}>
          {entry.name}
        </span>
      </Link>
      <span className={classes.cardLine}>
        <span className={classes.soft}>
          {entry.proof.grounds.length === 1 ? '1 ground' : `${entry.proof.grounds.length} grounds`} ·{' '}
          {formatMoment(entry.changedAt)}
        </span>
        {entry.isTemplate && (
          <Button
            size="compact-xs"
            variant="default"
            leftSection={<IconFileText size={14} stroke={1.6} aria-hidden="true" />}
            onClick={() => browse.current?.()}
          >
            Next letter
          </Button>
        )}
        <Menu
          position="bottom-end"
          shadow="none"
          transitionProps={{ duration: 80 }}
          onClose={() => setAsks(false)}
        >
          <Menu.Target>
            <ActionIcon size={24} aria-label={`More for ${entry.name}`}>
              <IconDots size={16} stroke={1.8} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={onCopy}>Duplicate</Menu.Item>
            {asks ? (
              <Menu.Item onClick={onForget}>Forget it for good, with its files</Menu.Item>
            ) : (
              <Menu.Item closeMenuOnClick={false} onClick={() => setAsks(true)}>
                Forget it
              </Menu.Item>
            )}
          </Menu.Dropdown>
        </Menu>
      </span>
    </>
  );
  if (!entry.isTemplate) return <li className={classes.card}>{body}</li>;
  return (
    <li className={classes.card}>
      <Dropzone
        onDrop={([file]) => file && onLetter(file)}
        openRef={browse}
        multiple={false}
        activateOnClick={false}
        useFsAccessApi={false}
        className={classes.cardDrop}
        inputProps={{ 'aria-label': `PDF for ${entry.name}` }}
        tabIndex={-1}
      >
        {body}
      </Dropzone>
    </li>
  );
}
