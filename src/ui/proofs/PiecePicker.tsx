import { Select } from '@mantine/core';
import { api } from '../../bench/api';
import { MOST_PLACED } from '../../core/proof/settings';
import { useProofActions } from './proof-context';
import { useShelfPieces } from './use-shelf-pieces';

/** Lays another piece of the Shelf on a ground. */
export function PiecePicker({ ground, isFull }: { readonly ground: string; readonly isFull: boolean }) {
  const { list: shelf } = useShelfPieces();
  const actions = useProofActions();
  const lay = async (id: string) => {
    const { piece, state } = await api.piece(id);
    const { name, revision } = piece;
    await actions.lay(ground, { id, name, revision, colorways: state.cut.ink.colorways });
  };
  return (
    <Select
      aria-label="Lay a piece"
      placeholder={isFull ? `${MOST_PLACED} pieces are as many as it holds` : 'Lay a piece'}
      disabled={isFull}
      size="xs"
      searchable
      value={null}
      {...shelf}
      onChange={(id) => {
        if (id) void lay(id);
      }}
    />
  );
}
