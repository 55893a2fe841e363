import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { describe, expect, it } from 'vitest';

const run = promisify(execFile);

describe('kenosis as it is started', () => {
  it('says its version', async () => {
    const { stdout } = await run(process.execPath, ['scripts/kenosis-bin.mjs', '--version']);
    expect(stdout).toMatch(/^\d+\.\d+\.\d+\n$/);
  });

  it('says in one sentence that Node.js is too old, and ends with 1', async () => {
    const older = "Object.defineProperty(process,'versions',{value:{...process.versions,node:'18.19.0'}})";
    const args = [
      '--import',
      `data:text/javascript,${encodeURIComponent(older)}`,
      'scripts/kenosis-bin.mjs',
      'demo',
    ];
    await expect(run(process.execPath, args)).rejects.toMatchObject({
      code: 1,
      stderr: expect.stringMatching(
        /^\nKenosis: needs Node\.js 20\.9 or newer; this is 18\.19\.0\./,
      ) as string,
    });
  });
});
