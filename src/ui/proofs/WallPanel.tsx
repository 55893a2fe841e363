import { Button, FileButton, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import {
  MOST_GROUNDS,
  LONGEST_PROOF_NAME,
  SHIPPED,
  type GroundSource,
  type ShippedGround,
} from '../../core/proof/settings';
import { saveJson } from '../save-json';
import { useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';
import { useShelfPieces } from './use-shelf-pieces';

const GRAY: GroundSource = {
  kind: 'color',
  from: '#8a8a8a',
  to: null,
  angleDeg: 0,
  width: 1200,
  height: 800,
};

/** What can be added to the wall, and the proof's name. */
export function WallPanel() {
  const count = useProof(({ proof }) => proof.grounds.length);
  const proof = useProof((state) => state.proof);
  const name = useProof((state) => state.name);
  const actions = useProofActions();
  const isFull = count >= MOST_GROUNDS;
  return (
    <>
      <section className={classes.block} aria-label="Add a ground">
        <h2>Add a ground</h2>
        {isFull && <p className={classes.soft}>{MOST_GROUNDS} grounds are as many as a proof holds.</p>}
        <Select
          aria-label="A ground that ships"
          placeholder="Letter, slide, header, card"
          size="xs"
          value={null}
          disabled={isFull}
          data={Object.entries(SHIPPED).map(([value, ground]) => ({ value, label: ground.name }))}
          onChange={(which) => {
            if (which) void actions.addGround({ kind: 'shipped', which: which as ShippedGround });
          }}
        />
        <PictureGround disabled={isFull} />
        <Button variant="default" size="xs" disabled={isFull} onClick={() => void actions.addGround(GRAY)}>
          A color
        </Button>
        <FileButton accept="application/pdf,image/*" onChange={(file) => file && void actions.bring(file)}>
          {(props) => (
            <Button {...props} variant="default" size="xs" disabled={isFull}>
              A PDF or a picture
            </Button>
          )}
        </FileButton>
        <p className={classes.soft}>Or drop it anywhere on this page: it is opened as a ground.</p>
      </section>
      <section className={classes.block} aria-label="Proof">
        <h2>Proof</h2>
        <NameField key={name} name={name} />
        <Button variant="default" size="xs" onClick={() => saveJson(proof, `${name}.proof.json`)}>
          Export as JSON
        </Button>
      </section>
    </>
  );
}

function NameField({ name }: { readonly name: string }) {
  const [typed, setTyped] = useState(name);
  const actions = useProofActions();
  const commit = () => {
    const next = typed.trim();
    if (next === '' || next === name) setTyped(name);
    else void actions.rename(next);
  };
  return (
    <TextInput
      label="Name"
      value={typed}
      maxLength={LONGEST_PROOF_NAME}
      onChange={({ currentTarget }) => setTyped(currentTarget.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit();
        if (event.key === 'Escape') setTyped(name);
      }}
    />
  );
}

/** A picture of the Shelf as a ground, as it came in. */
function PictureGround({ disabled }: { readonly disabled: boolean }) {
  const { list: shelf } = useShelfPieces();
  const actions = useProofActions();
  return (
    <Select
      aria-label="A picture of the Shelf as a ground"
      placeholder="A picture of the Shelf"
      size="xs"
      searchable
      value={null}
      disabled={disabled}
      {...shelf}
      onChange={(piece) => {
        if (piece) void actions.addGround({ kind: 'picture', piece });
      }}
    />
  );
}
