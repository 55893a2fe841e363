import { spawn } from 'node:child_process';
import { copyFile, mkdir, mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FIRST_WATERMARKS } from '../../src/core/watermark/first-watermarks';
import { helpOf } from '../../src/cli/commands';
import { freshFolder } from '../make/folder';
import { demoPicture } from './demo';
import { startServer, type TestServer } from './server';

/** The port that the documents name. */
const PORT = 4680;

let root: string;
let server: TestServer;

beforeAll(async () => {
  root = await freshFolder();
  server = await startServer(path.join(root, 'data'), { port: PORT });
  // The program as it is found on the path where it is installed.
  await mkdir(path.join(root, 'bin'));
  const program = `#!/bin/sh\nexec ${process.execPath} ${path.resolve('scripts/kenosis.mjs')} "$@"\n`;
  await writeFile(path.join(root, 'bin', 'kenosis'), program, { mode: 0o755 });
});
afterAll(() => server.kill());

/** Every file that a command of the documents names. */
const FILES: Readonly<Record<string, string>> = {
  'kite.jpg': demoPicture('ostrel-kite.jpg'),
  'signature.png': 'demo/pictures/ostrel-signature-scan.truth.png',
  'logo.png': 'demo/pictures/ostrel-wordmark.truth.png',
  'letter.pdf': 'grounds/letter-a4.pdf',
  'beach.jpg': demoPicture('ostrel-beach-noon.jpg'),
  'photos/dunes.jpg': demoPicture('ostrel-beach-storm.jpg'),
};

/** A folder that has nothing but these. */
async function folderWithFiles(): Promise<string> {
  const folder = await mkdtemp(path.join(root, 'empty-'));
  await mkdir(path.join(folder, 'photos'));
  for (const [name, from] of Object.entries(FILES)) await copyFile(from, path.join(folder, name));
  await writeFile(path.join(folder, 'kite.watermark.json'), JSON.stringify(FIRST_WATERMARKS[0]));
  return folder;
}

/** The blocks of code of a page that hold commands, as they stand there. */
async function blocksOf(page: string): Promise<string[]> {
  const text = await readFile(page, 'utf8');
  return [...text.matchAll(/^```(?:sh|bash)?\n([\s\S]*?)^```/gm)]
    .map(([, block]) => block!)
    .filter((block) => /^(kenosis|curl|run=|npm|npx|export|PORT=|KENOSIS_)/m.test(block));
}

/** Shows how a command is used, with names that stand for something. */
const isSynopsis = (block: string) => /\[--|\b(IN|OUT|FOLDER|ROUTINE|CUTOUT)\b/.test(block);

/** What starts or tests the whole product, which this test is a part of, or needs another machine. */
const isElsewhere = (block: string) => /^(npm|npx|export|PORT=|KENOSIS_)/m.test(block);

async function pages(): Promise<string[]> {
  const docs = (await readdir('docs')).filter((name) => name.endsWith('.md'));
  return ['README.md', ...docs.map((name) => `docs/${name}`)];
}

function bash(script: string, cwd: string): Promise<{ readonly code: number | null; readonly said: string }> {
  return new Promise((resolve) => {
    const env = { ...process.env, PATH: `${path.join(root, 'bin')}:${process.env.PATH}` };
    const child = spawn('bash', ['-ec', script], { cwd, env });
    let said = '';
    child.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.on('close', (code) => resolve({ code, said }));
  });
}

describe('commands of the documents', () => {
  it('run as they stand there, in a folder with the files they name', async () => {
    let count = 0;
    for (const page of await pages())
      for (const block of await blocksOf(page)) {
        if (isSynopsis(block) || isElsewhere(block)) continue;
        count++;
        const cwd = await folderWithFiles();
        const { code, said } = await bash(block, cwd);
        // 3 is done, with findings; the photos of the demo have some.
        expect([page, block, said, [0, 3].includes(code ?? -1)]).toEqual([page, block, said, true]);
        const outputs = [...block.matchAll(/-o (\S+)\s*$/gm)].map(([, made]) => made!);
        expect(outputs.length).toBeGreaterThan(0);
        for (const made of outputs) {
          const bytes = await readFile(path.join(cwd, made)).catch(() => readdir(path.join(cwd, made)));
          expect([page, made, bytes.length > 0]).toEqual([page, made, true]);
          expect(bytes.toString().startsWith('{')).toBe(false);
        }
      }
    expect(count).toBeGreaterThanOrEqual(5);
  });

  it('end with an error code, and leave no file, where there is no cutout', async () => {
    const [block] = (await blocksOf('README.md')).filter((one) => one.startsWith('run='));
    const cwd = await folderWithFiles();
    await writeFile(path.join(cwd, 'kite.jpg'), 'no picture');
    const { code } = await bash(block!, cwd);
    expect(code).toBe(22);
    expect(await readdir(cwd)).not.toContain('kite.png');
    const held = await bash(block!.replace('&notSure=deliver', '&notSure=hold'), await folderWithFiles());
    expect(held.code).toBe(22);
  });

  it('are told in the command line’s own help as on its page', async () => {
    const page = await readFile('docs/command-line.md', 'utf8');
    for (const [command] of page.matchAll(/^kenosis \w+ .*$/gm)) {
      const [, name, rest] = /^kenosis (\w+) (.*)$/.exec(command)!;
      const words = rest!.split(/\s+/).filter((word) => /^\[?--[a-z-]+/.test(word));
      for (const word of words) expect(helpOf(name)).toContain(/--[a-z-]+/.exec(word)![0]);
    }
  });
});
