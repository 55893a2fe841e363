import { ActionIcon, NumberInput, Tooltip } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconX } from '@tabler/icons-react';
import type { KnownGroundFacts } from '../../bench/proofs-api';
import { MOST_PLACED, type Ground } from '../../core/proof/settings';
import { ColorGround } from './ColorGround';
import { HandOverPanel } from './HandOverPanel';
import { PiecePicker } from './PiecePicker';
import { PlacementPanel } from './PlacementPanel';
import { useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';
import { sizeWords } from './units';

/** The settings of the ground that is open: what lies on it, where, how it is seen, and how it is handed over. */
export function GroundPanel({ id }: { readonly id: string }) {
  const ground = useProof(({ proof }) => proof.grounds.find((one) => one.id === id));
  const facts = useProof(({ grounds }) => grounds[id]);
  const held = useProof((state) => state.held);
  const actions = useProofActions();
  if (!ground) return null;
  const known = facts && !('trouble' in facts) ? facts : null;
  const placed = ground.placed.find((one) => one.id === held);
  return (
    <>
      <section className={classes.block} aria-label="Ground">
        <div className={classes.blockHead}>
          <h2 title={known?.name}>{known?.name ?? 'Ground'}</h2>
          <Tooltip label="Take this ground away">
            <ActionIcon aria-label="Take this ground away" onClick={() => actions.removeGround(id)}>
              <IconX size={16} stroke={1.8} />
            </ActionIcon>
          </Tooltip>
        </div>
        {known && <GroundFacts ground={ground} facts={known} />}
      </section>
      <section className={classes.block} aria-label="Pieces">
        <Pieces ground={ground} />
        <PiecePicker ground={id} isFull={ground.placed.length >= MOST_PLACED} />
      </section>
      {known && placed && <PlacementPanel ground={id} placement={placed} facts={known} />}
      {known && <HandOverPanel ground={ground} facts={known} />}
    </>
  );
}

function GroundFacts({ ground, facts }: { readonly ground: Ground; readonly facts: KnownGroundFacts }) {
  const actions = useProofActions();
  const { source } = ground;
  return (
    <>
      <p className={classes.soft}>
        {sizeWords(facts)}
        {facts.line && ' · a line for a signature was found'}
      </p>
      {facts.isSigned && (
        <p className={classes.warn}>This PDF is signed digitally. It can be handed over as a picture only.</p>
      )}
      {source.kind === 'pdf' && facts.pages > 1 && (
        <NumberInput
          label={`Page, of ${facts.pages}`}
          value={facts.number}
          min={1}
          max={facts.pages}
          clampBehavior="strict"
          onChange={(value) => {
            if (typeof value === 'number' && value !== facts.number)
              void actions.changeSource(ground.id, { ...source, page: value });
          }}
        />
      )}
      {source.kind === 'color' && <ColorGround id={ground.id} source={source} />}
    </>
  );
}

/** What lies on the ground, the uppermost first. */
function Pieces({ ground }: { readonly ground: Ground }) {
  const pieces = useProof((state) => state.pieces);
  const held = useProof((state) => state.held);
  const actions = useProofActions();
  if (ground.placed.length === 0) return <p className={classes.soft}>Nothing lies on it yet.</p>;
  return (
    <ul className={classes.pieces} aria-label="Pieces, the uppermost first">
      {[...ground.placed].reverse().map(({ id, piece, colorway, light }) => {
        const name = pieces[piece]?.name ?? 'deleted piece';
        const version = colorway ?? (light ? 'light' : null);
        return (
          <li key={id} data-held={id === held || undefined}>
            <button
              type="button"
              className={classes.pieceName}
              aria-pressed={id === held}
              title={name}
              onClick={() => actions.hold(id)}
            >
              {name}
              {version && <span className={classes.soft}> · {version}</span>}
            </button>
            {ground.placed.length > 1 && (
              <>
                <ActionIcon
                  size={22}
                  aria-label={`Lay ${name} higher`}
                  onClick={() => actions.reorder(ground.id, id, 1)}
                >
                  <IconArrowUp size={14} stroke={1.8} />
                </ActionIcon>
                <ActionIcon
                  size={22}
                  aria-label={`Lay ${name} lower`}
                  onClick={() => actions.reorder(ground.id, id, -1)}
                >
                  <IconArrowDown size={14} stroke={1.8} />
                </ActionIcon>
              </>
            )}
            <ActionIcon
              size={22}
              aria-label={`Take ${name} away`}
              onClick={() => actions.take(ground.id, id)}
            >
              <IconX size={14} stroke={1.8} />
            </ActionIcon>
          </li>
        );
      })}
    </ul>
  );
}
