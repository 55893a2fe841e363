import { Button, TextInput } from '@mantine/core';
import Link from 'next/link';
import { useState } from 'react';
import { proofsApi } from '../../bench/proofs-api';
import { LONGEST_PROOF_NAME } from '../../core/proof/settings';
import { useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';

/** Keeps what lies on the page as a template, for the next letter. */
export function TemplateField() {
  const id = useProof((state) => state.id);
  const isTemplate = useProof((state) => state.isTemplate);
  const actions = useProofActions();
  const [name, setName] = useState<string | null>(null);
  const [told, setTold] = useState<string | null>(null);
  if (isTemplate)
    return <p className={classes.soft}>Drop a PDF on this template under Proofs: it gets what lies here.</p>;
  if (told !== null)
    return (
      <p className={classes.soft} role="status">
        {told} <Link href="/proofs">Proofs</Link>
      </p>
    );
  if (name === null)
    return (
      <Button fullWidth variant="subtle" onClick={() => setName('My letter')}>
        Keep as a template
      </Button>
    );
  const keep = async () => {
    await actions.whenSaved();
    const answer = await proofsApi.template(id, name).catch((error: unknown) => error as Error);
    setTold(
      answer instanceof Error
        ? answer.message
        : `"${answer.state.name}" is kept. Drop the next letter on it and deliver:`,
    );
  };
  return (
    <form
      className={classes.templateField}
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <TextInput
        aria-label="Name of the template"
        value={name}
        maxLength={LONGEST_PROOF_NAME}
        onChange={({ currentTarget }) => setName(currentTarget.value)}
        autoFocus
      />
      <Button type="submit" variant="default" size="xs" disabled={name.trim() === ''}>
        Keep
      </Button>
    </form>
  );
}
