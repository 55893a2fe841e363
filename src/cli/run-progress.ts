import { countOf } from '../core/findings/counts';
import { counted } from '../core/findings/finding';
import { timeLeftWords } from '../core/time-left';
import type { Settled } from '../server/folder-runs/ledger';

/** What is told of a run while it goes on: a line that is drawn anew on a terminal, a line of JSON for each picture elsewhere. */
export interface RunProgress {
  readonly tell: (settled: Settled, isBefore: boolean) => void;
  /** Ends the line on a terminal; once. */
  readonly end: () => void;
}

export function runProgress(files: number, { toError = false } = {}): RunProgress {
  const stream = toError ? process.stderr : process.stdout;
  const counts = { delivered: 0, held: 0, skipped: 0, failed: 0 };
  const begun = Date.now();
  let before = 0;
  let done = 0;
  let isOver = false;
  const line = () => {
    const left = done > before ? ((Date.now() - begun) / (done - before)) * (files - done) : null;
    const words = [
      `${done} of ${files}`,
      ...(counts.held > 0 ? [`${counts.held} held back`] : []),
      ...(counts.skipped > 0 ? [`${counts.skipped} left out`] : []),
      ...(counts.failed > 0 ? [`${counts.failed} failed`] : []),
      ...(left === null || done === files ? [] : [timeLeftWords(left)]),
    ];
    return words.join(', ');
  };
  return {
    tell(settled, isBefore) {
      done++;
      counts[settled.state]++;
      if (isBefore) before++;
      if (!stream.isTTY) {
        const { kind, key, stays, ...row } = settled;
        stream.write(`${JSON.stringify(isBefore ? { ...row, before: true } : row)}\n`);
        return;
      }
      if (settled.message !== '') stream.write(`\r\x1b[K${settled.name}: ${settled.message}\n`);
      stream.write(`\r\x1b[K${line()}`);
    },
    end() {
      if (isOver) return;
      isOver = true;
      if (stream.isTTY)
        stream.write(`\r\x1b[K${line()} in ${counted(Math.round((Date.now() - begun) / 1000), 'second')}.\n`);
    },
  };
}

/** What became of a file in a watched folder, in one line. */
export function settledWords({ name, state, message, files, findings }: Settled): string {
  const found = countOf(findings);
  const words =
    state === 'delivered'
      ? `${files.map((file) => file.name).join(', ')}${found > 0 ? `, ${counted(found, 'finding')}` : ''}`
      : state === 'held'
        ? 'held back'
        : state === 'skipped'
          ? 'left out'
          : 'failed';
  return `${name}: ${words}${message === '' ? '' : `. ${message}`}`;
}
