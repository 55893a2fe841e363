import { Select } from '@mantine/core';
import { api } from '../../bench/api';
import { useProofActions } from './proof-context';
import { useShelfPieces } from './use-shelf-pieces';

/** Lays another piece of the Shelf on a ground. */
export function PiecePicker({ ground }: { readonly ground: string }) {
  const shelf = useShelfPieces();
  const actions = useProofActions();
  const lay = async (id: string) => {
    const { piece, state } = await api.piece(id);
    const { name, revision } = piece;
    await actions.lay(ground, { id, name, revision, colorways: state.cut.ink.colorways });
  };
  return (
    <Select
      aria-label="Lay a piece"
      placeholder="Lay a piece"
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
