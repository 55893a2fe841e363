import type { Progress, Steps } from './steps';

/** What others do of a task, while this thread does what they have not taken. */
export interface Help {
  /** The next part that nobody has taken, now taken; -1 where none is left. */
  take(): number;
  /** Hands over what others have made since. The bytes are there until it returns. */
  collect(put: (part: number, bytes: Uint8Array) => void): void;
  /** Waits a little while for others. False where they have given no sign of life for long. */
  wait(): boolean;
  /** Ends it: what others still make is not waited for. Gives their counts of where the edge cannot be told. */
  end(): readonly Uint32Array[];
}

/**
 * Does all parts of some work: those that others have not taken in turn, and puts in place what others made. Each part is
 * done once, whoever does it.
 */
export function* doParts(
  parts: number,
  doing: string,
  help: Help | null,
  work: { readonly own: (part: number) => void; readonly put: (part: number, bytes: Uint8Array) => void },
): Steps<void> {
  const missing = new Set(Array(parts).keys());
  const told = (): Progress => ({ doing, done: parts - missing.size, total: parts });
  const put = (part: number, bytes: Uint8Array) => {
    work.put(part, bytes);
    missing.delete(part);
  };
  for (let turn = 0; ; turn++) {
    const part = help ? help.take() : turn;
    if (part < 0 || part >= parts) break;
    work.own(part);
    missing.delete(part);
    help?.collect(put);
    yield told();
  }
  if (!help) return;
  for (help.collect(put); missing.size > 0 && help.wait(); help.collect(put)) yield told();
  // What others took and did not bring.
  for (const part of missing) {
    work.own(part);
    yield told();
  }
}
