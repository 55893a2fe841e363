import { spawn } from 'node:child_process';
import path from 'node:path';
import { kenosis as commandLine } from '../../src/cli/kenosis';
import runs from '../../src/cli/runs-main';

/** What a run of the command line said, and how it ended. */
export interface Run {
  readonly code: number;
  readonly stdout: string;
  readonly stderr: string;
}

const PARTS = { program: path.resolve('dist/kenosis.mjs'), runs };

/** Streams and console of this process, which the command line speaks through. */
const VOICES = [
  [process.stdout, 'log'],
  [process.stderr, 'error'],
] as const;

/**
 * Runs the command line within this process, one call after the other; `kenosisFed` starts it as a person does. What it says is
 * returned instead of shown.
 */
export async function kenosis(...args: string[]): Promise<Run> {
  const said = ['', ''];
  const restore = VOICES.map(([stream, method], k) => {
    const { write } = stream;
    const speak = console[method];
    stream.write = (text: string | Uint8Array, ...rest: unknown[]) => {
      said[k] += Buffer.from(text).toString();
      for (const done of rest) if (typeof done === 'function') (done as () => void)();
      return true;
    };
    console[method] = (...words: unknown[]) => void (said[k] += `${words.map(String).join(' ')}\n`);
    return () => {
      stream.write = write;
      console[method] = speak;
    };
  });
  try {
    const code = await commandLine(args, PARTS);
    return { code, stdout: said[0]!, stderr: said[1]! };
  } finally {
    for (const back of restore) back();
  }
}

/** Runs the command line as a person does, with bytes on standard input; what comes on standard output is bytes. */
export function kenosisFed(
  input: Uint8Array | null,
  ...args: string[]
): Promise<{ readonly code: number; readonly bytes: Buffer; readonly stderr: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['scripts/kenosis.mjs', ...args]);
    const out: Buffer[] = [];
    const err: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => out.push(chunk));
    child.stderr.on('data', (chunk: Buffer) => err.push(chunk));
    child.on('close', (code) =>
      resolve({ code: code ?? 1, bytes: Buffer.concat(out), stderr: Buffer.concat(err).toString() }),
    );
    child.stdin.on('error', () => undefined);
    child.stdin.end(input ?? undefined);
  });
}
