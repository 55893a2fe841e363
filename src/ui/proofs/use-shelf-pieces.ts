import { useState } from 'react';
import { api, type ShelfPieceFacts } from '../../bench/api';

/** The pieces of the Shelf, asked for each time a list of them is opened. */
export function useShelfPieces() {
  const [pieces, setPieces] = useState<readonly ShelfPieceFacts[] | null>(null);
  /** For a list to choose from. */
  const list = {
    data: (pieces ?? []).map(({ id, name }) => ({ value: id, label: name })),
    nothingFoundMessage: pieces === null ? 'Looking' : 'Nothing is called that.',
    onDropdownOpen: () =>
      void api.pieces().then(
        (answer) => setPieces(answer.pieces),
        () => undefined,
      ),
  };
  return { pieces, list };
}
