import { checkDocument, readDocument, type DocumentKind } from '../document';
import { PROOF_VERSION, proofSchema, type Proof } from './settings';

const PROOF: DocumentKind<Proof> = {
  noun: 'proof',
  version: PROOF_VERSION,
  steps: [],
  schema: proofSchema,
  bad: 'bad-proof',
  newer: 'newer-proof',
};

/** Checks a proof that came from outside. Throws `bad-proof` with the field's path, and `newer-proof`. */
export function parseProof(value: unknown): Proof {
  return checkDocument(PROOF, value);
}

/** Reads the text of a proof. Text that is not JSON throws `bad-proof`. */
export function parseProofText(text: string): Proof {
  return readDocument(PROOF, text);
}
