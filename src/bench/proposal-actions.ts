import type { Cut } from '../core/cut/schema';
import { api, type AnewFacts } from './api';
import type { StoreParts } from './bench-state';
import type { SaveQueue } from './save-queue';

/** What was proposed anew, and where the small picture of the cut lies that it was proposed beside. */
export interface Anew extends AnewFacts {
  readonly nowAddress: string;
}

/** Proposing for a piece that was decided before. */
export function proposalActions({ commit, piece }: StoreParts, queue: SaveQueue) {
  return {
    /** Asks what would be proposed today beside what is saved. */
    async proposeAnew(signal: AbortSignal): Promise<Anew> {
      await queue.whenSaved();
      const { revision } = queue;
      const anew = await api.proposeAnew(piece.id, revision, signal);
      return { ...anew, nowAddress: api.thumbnailAddress({ ...piece, revision }) };
    },
    /** Works on with what was proposed; one step of undo. */
    takeAnew: (cut: Cut) => commit(cut, 'take a new proposal'),
  };
}
