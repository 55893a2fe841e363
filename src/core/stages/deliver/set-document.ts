import { checkDocument, readDocument, type DocumentKind } from '../../document';
import { setSchema } from './set-settings';
import type { OutputSet } from './sets';
import { z } from 'zod';

/** The version this program writes. */
export const SET_VERSION = 2;

const documentSchema = setSchema.extend({
  format: z.literal('kenosis-set'),
  version: z.literal(SET_VERSION),
});

/** A set as it is kept and as a file. */
export type SetDocument = z.infer<typeof documentSchema>;

const SET: DocumentKind<SetDocument> = {
  noun: 'set',
  version: SET_VERSION,
  // From version 1 to 2: it says what it is.
  steps: [(document) => ({ ...document, format: 'kenosis-set', version: 2 })],
  isFirstUnnumbered: true,
  schema: documentSchema,
  bad: 'bad-set',
  newer: 'newer-set',
};

export function setDocument({ name, outputs, hidden }: OutputSet): SetDocument {
  return { format: 'kenosis-set', version: SET_VERSION, name, outputs: [...outputs], hidden };
}

/** Checks a set that came from outside. Throws `bad-set` with the field's path, and `newer-set`. */
export function parseSet(value: unknown): OutputSet {
  return setOf(checkDocument(SET, value));
}

/** Reads the text of a set. Text that is not JSON throws `bad-set`. */
export function parseSetText(text: string): OutputSet {
  return setOf(readDocument(SET, text));
}

function setOf({ name, outputs, hidden }: SetDocument): OutputSet {
  return { name, outputs, hidden };
}
