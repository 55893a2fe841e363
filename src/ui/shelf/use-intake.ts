import { useCallback, useRef, useState } from 'react';
import { NO_WISHES, upload, type UploadState, type UploadWishes } from '../../bench/upload';

/** One file on its way to the Shelf. */
export interface IntakeEntry {
  readonly id: number;
  readonly file: File;
  readonly state: UploadState;
}

interface Waiting {
  readonly id: number;
  readonly file: File;
  readonly wishes: UploadWishes;
  readonly abort: AbortController;
}

/** Files that travel at the same time. */
const AT_ONCE = 2;

/** Sends files a few at a time and keeps what is to be told about each; of those that came in until the next ones are brought. */
export function useIntake(
  onArrived: () => void,
  { keepsDone = false, asPhotos = false }: { readonly keepsDone?: boolean; readonly asPhotos?: boolean } = {},
) {
  const [entries, setEntries] = useState<readonly IntakeEntry[]>([]);
  const waiting = useRef<Waiting[]>([]);
  const aborts = useRef(new Map<number, AbortController>());
  const travelling = useRef(0);
  const count = useRef(0);

  const tell = useCallback((id: number, state: UploadState) => {
    setEntries((all) => all.map((entry) => (entry.id === id ? { ...entry, state } : entry)));
  }, []);

  const pump = useCallback(
    function next(): void {
      while (travelling.current < AT_ONCE && waiting.current.length > 0) {
        const { id, file, wishes, abort } = waiting.current.shift()!;
        travelling.current++;
        void upload(file, { ...wishes, asPhoto: asPhotos }, abort.signal, (state) => {
          tell(id, state);
          if (state.kind === 'done') onArrived();
        }).finally(() => {
          travelling.current--;
          aborts.current.delete(id);
          next();
        });
      }
    },
    [onArrived, tell, asPhotos],
  );

  const enqueue = useCallback(
    (files: readonly File[], wishes: UploadWishes, replaced: number | null) => {
      const fresh = files.map((file) => ({
        id: ++count.current,
        file,
        wishes,
        abort: new AbortController(),
      }));
      for (const { id, abort } of fresh) aborts.current.set(id, abort);
      waiting.current.push(...fresh);
      setEntries((all) => [
        ...all.filter(({ id, state }) => (keepsDone || state.kind !== 'done') && id !== replaced),
        ...fresh.map(({ id, file }) => ({ id, file, state: { kind: 'waiting' } as const })),
      ]);
      pump();
    },
    [pump, keepsDone],
  );
  const take = useCallback((files: readonly File[]) => enqueue(files, NO_WISHES, null), [enqueue]);
  /** Sends bundles: pieces with all that was done to them. */
  const takeBundles = useCallback(
    (files: readonly File[]) => enqueue(files, { ...NO_WISHES, bundle: true }, null),
    [enqueue],
  );
  /** Sends a refused picture again: what can be read of it is taken. */
  const acceptDamaged = useCallback(
    ({ id, file }: IntakeEntry) => enqueue([file], { ...NO_WISHES, damaged: 'accept' }, id),
    [enqueue],
  );
  /** Sends a file again whose pages were chosen. */
  const choose = useCallback(
    ({ id, file }: IntakeEntry, pages: readonly number[], dpi: number | null) =>
      enqueue([file], { ...NO_WISHES, pages, dpi }, id),
    [enqueue],
  );

  /** Tells why something that was brought is none that can be sent. */
  const refuse = useCallback((name: string, message: string) => {
    const state: UploadState = { kind: 'refused', message, wayOut: null };
    setEntries((all) => [...all, { id: ++count.current, file: new File([], name), state }]);
  }, []);

  const cancel = useCallback((id: number) => aborts.current.get(id)?.abort(), []);
  const dismiss = useCallback(
    (ids: readonly number[]) => setEntries((all) => all.filter(({ id }) => !ids.includes(id))),
    [],
  );

  return { entries, take, takeBundles, acceptDamaged, choose, refuse, cancel, dismiss };
}
