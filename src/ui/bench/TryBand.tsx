import { ActionIcon, Button } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconX } from '@tabler/icons-react';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { createPlacedPictures, type PlacedPictures } from '../../bench/placed-pictures';
import { proofOfPiece } from '../../bench/proof-of-piece';
import { proofsApi, type KnownGroundFacts, type OpenProofFacts } from '../../bench/proofs-api';
import { sameLook } from '../../core/proof/looks';
import type { Look } from '../../core/proof/seen';
import type { Ground, Placement } from '../../core/proof/settings';
import { GroundPicture } from '../proofs/GroundPicture';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** How high the grounds of the band are at most, and the room between them, in pixels of the screen. */
const MOST_HIGH_PX = 128;
const GAP_PX = 10;

/** The piece on the grounds of its proof, which follow every change on the bench. */
export function TryBand() {
  const piece = useBench((state) => state.piece.id);
  const tried = useBench((state) => state.tried);
  const actions = useBenchActions();
  const { opened, others, trouble } = useProofOf(piece);
  const { ref, width } = useElementSize();
  const grounds = opened?.state.proof.grounds ?? [];
  const known = grounds.flatMap((ground) => {
    const facts = opened!.grounds[ground.id];
    return facts && !('trouble' in facts) ? [{ ground, facts }] : [];
  });
  const wide = known.reduce((sum, { facts }) => sum + facts.width / facts.height, 0);
  const high = Math.min(MOST_HIGH_PX, (width - GAP_PX * (known.length - 1)) / Math.max(wide, 0.1));

  useEffect(() => {
    if (!opened) return undefined;
    actions.tryIn(looksOn(opened.state.proof.grounds, piece));
    return () => actions.tryIn([]);
  }, [opened, piece, actions]);

  const pictureOf = (placement: Placement) => {
    if (placement.piece === piece) {
      const own = tried.find(({ look }) => sameLook(look, placement));
      return own ? { source: own.bitmap, width: own.width, height: own.height } : null;
    }
    const other = opened?.pieces[placement.piece];
    return other && others ? others.of(other.id, other.revision, placement) : null;
  };
  return (
    <section className={classes.tryBand} aria-label="Tried on">
      <div className={classes.tryHead}>
        <strong>Tried on</strong>
        {opened && (
          <Button size="compact-xs" variant="default" component={Link} href={`/proofs/${opened.state.id}`}>
            Open in Proofs
          </Button>
        )}
        <span className={classes.space} />
        <ActionIcon size={22} aria-label="Close the grounds" onClick={actions.toggleTrying}>
          <IconX size={14} stroke={1.8} />
        </ActionIcon>
      </div>
      <div ref={ref} className={classes.tryRow}>
        {trouble !== null && <p role="alert">{trouble}</p>}
        {trouble === null && !opened && <p role="status">Making its proof</p>}
        {known.map(({ ground, facts }) => (
          <Link
            key={ground.id}
            href={`/proofs/${opened!.state.id}?ground=${ground.id}`}
            className={classes.tryPrint}
            title={facts.name}
            aria-label={facts.name}
            style={{ width: Math.floor((high * facts.width) / facts.height) }}
          >
            <GroundPicture ground={ground} facts={facts} width={drawnWidth(facts)} pictureOf={pictureOf} />
          </Link>
        ))}
      </div>
    </section>
  );
}

/** Twice as many pixels as are shown at most, whatever the window: it is drawn once. */
function drawnWidth({ width, height }: KnownGroundFacts): number {
  return Math.round((2 * MOST_HIGH_PX * width) / height);
}

/** In which versions a piece lies on grounds. */
function looksOn(grounds: readonly Ground[], piece: string): Look[] {
  const looks: Look[] = [];
  for (const { colorway, light, ...placed } of grounds.flatMap((ground) => ground.placed)) {
    const look = { colorway, light };
    if (placed.piece === piece && !looks.some((one) => sameLook(one, look))) looks.push(look);
  }
  return looks;
}

/** The proof of a piece, made where there is none, and pictures of the other pieces that lie on it. */
function useProofOf(piece: string) {
  const [opened, setOpened] = useState<OpenProofFacts | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [others, setOthers] = useState<PlacedPictures | null>(null);
  const [, setCame] = useState(0);
  useEffect(() => {
    let here = true;
    const made = createPlacedPictures(() => setCame((count) => count + 1));
    // oxlint-disable-next-line react/set-state-in-effect -- they are let go with the band
    setOthers(made);
    void proofOfPiece(piece)
      .then((id) => proofsApi.proof(id))
      .then(
        (answer) => here && setOpened(answer),
        (error: unknown) => here && setTrouble(error instanceof Error ? error.message : String(error)),
      );
    return () => {
      here = false;
      made.close();
    };
  }, [piece]);
  return { opened, others, trouble };
}
