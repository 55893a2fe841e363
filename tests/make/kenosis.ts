import { spawn } from 'node:child_process';

/** What a run of the command line said, and how it ended. */
export interface Run {
  readonly code: number;
  readonly stdout: string;
  readonly stderr: string;
}

/** Runs the command line as a person does. */
export function kenosis(...args: string[]): Promise<Run> {
  return kenosisFed(null, ...args).then(({ bytes, ...run }) => ({ ...run, stdout: bytes.toString() }));
}

/** The same with bytes on standard input; what comes on standard output is bytes. */
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
