import { describe, expect, it } from 'vitest';
import type { PieceFacts } from '../../bench/api';
import type { ArrivedFacts, UploadState } from '../../bench/upload';
import { fold, foldedWords } from './folded';

const done = (change: Partial<ArrivedFacts> = {}, notes: string[] = []) => ({
  state: {
    kind: 'done',
    arrived: [{ known: false, healed: false, piece: { notes } as unknown as PieceFacts, ...change }],
  } as UploadState,
});
const refused = { state: { kind: 'refused', message: 'No picture.', wayOut: null } as UploadState };
const sending = { state: { kind: 'sending', percent: 20 } as UploadState };

describe('fold', () => {
  it('lists a few one by one', () => {
    const entries = [done(), done(), done(), refused];
    expect(fold(entries)).toEqual({ folded: [], listed: entries });
  });

  it('tells of many in one line, and lists what is on its way or needs a look', () => {
    const known = done({ known: true });
    const noted = done({}, ['Damaged: only what could be read was taken.']);
    const plain = Array.from({ length: 38 }, () => done());
    const entries = [refused, ...plain, known, sending, noted, refused];
    const { folded, listed } = fold(entries);
    expect(folded).toEqual(plain);
    expect(listed).toEqual([refused, known, sending, noted, refused]);
    expect(foldedWords(folded, listed)).toBe('38 brought in, 2 could not be used');
    expect(foldedWords(folded, [])).toBe('38 brought in');
  });
});
