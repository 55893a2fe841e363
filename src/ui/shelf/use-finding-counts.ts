import { useEffect, useMemo, useState } from 'react';
import { api, type ShelfPieceFacts } from '../../bench/api';

/** How long to wait before asking again while pieces are being checked. */
const AGAIN_MS = 2500;

/** The pieces with their findings, which come in one by one while the server checks what was not checked yet. */
export function useFindingCounts(pieces: readonly ShelfPieceFacts[]): readonly ShelfPieceFacts[] {
  const [counts, setCounts] = useState<ReadonlyMap<string, ShelfPieceFacts['findings']>>(new Map());
  const missing = pieces.some(({ findings }) => findings === null);
  useEffect(() => {
    if (!missing) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let over = false;
    const ask = () =>
      void api.findings().then(
        ({ pieces: found, checking }) => {
          if (over) return;
          setCounts(new Map(found.map(({ id, revision, findings }) => [`${id}-${revision}`, findings])));
          if (checking) timer = setTimeout(ask, AGAIN_MS);
        },
        () => undefined,
      );
    ask();
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [missing, pieces]);
  const [kept] = useState(() => new WeakMap<ShelfPieceFacts, ShelfPieceFacts>());
  return useMemo(
    () => pieces.map((piece) => withCounts(piece, counts.get(`${piece.id}-${piece.revision}`) ?? null, kept)),
    [pieces, counts, kept],
  );
}

/** A piece with its counts; the same object as long as they are the same, so that no other card is drawn again. */
function withCounts(
  piece: ShelfPieceFacts,
  findings: ShelfPieceFacts['findings'],
  kept: WeakMap<ShelfPieceFacts, ShelfPieceFacts>,
): ShelfPieceFacts {
  if (piece.findings !== null || findings === null) return piece;
  const last = kept.get(piece);
  if (last) return last;
  const made = { ...piece, findings };
  kept.set(piece, made);
  return made;
}
