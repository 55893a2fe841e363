import { spawn } from 'node:child_process';
import { chmod, mkdir, readdir, readFile, stat, symlink, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { freshFolder } from '../../tests/make/folder';
import { openDatabase } from './database';
import { MARKER_FILE, openDataFolder } from './data-folder';
import { LOCK_FILE } from './folder-lock';

let root: string;
beforeEach(async () => {
  root = await freshFolder();
});

const marker = async () =>
  JSON.parse(await readFile(path.join(root, MARKER_FILE), 'utf8')) as Record<string, unknown>;

describe('openDataFolder', () => {
  it('marks an empty folder, closes it to other users, and knows it again', async () => {
    await chmod(root, 0o755);
    const first = await openDataFolder(root);
    expect(await marker()).toMatchObject({ format: 'kenosis-data', version: 1, id: first.id });
    expect((await stat(root)).mode & 0o777).toBe(0o700);
    await first.close();
    await writeFile(path.join(root, `.kenosis-open.json.${first.id}`), 'half');
    await writeFile(path.join(root, '.kenosis-open.json.mine'), 'theirs');
    const second = await openDataFolder(root);
    expect(second.id).toBe(first.id);
    const hidden = (await readdir(root)).filter((name) => name.startsWith('.'));
    expect(hidden).toEqual(['.kenosis-open.json.mine']);
    await second.close();
  });

  it('refuses a folder that holds other things, and leaves it as it was', async () => {
    await mkdir(path.join(root, 'originals'));
    await writeFile(path.join(root, 'originals', 'holiday.jpg'), 'theirs');
    await expect(openDataFolder(root)).rejects.toMatchObject({
      code: 'foreign-folder',
      message: expect.stringContaining('not empty (originals)') as string,
    });
    expect(await readdir(root)).toEqual(['originals']);
    expect(await readdir(path.join(root, 'originals'))).toEqual(['holiday.jpg']);
    const adopted = await openDataFolder(root, { adopt: true });
    expect(await marker()).toMatchObject({ id: adopted.id });
    await adopted.close();
  });

  it('knows a folder from before there were markers by its database, not by an empty or a foreign one', async () => {
    await writeFile(path.join(root, 'kenosis.sqlite'), '');
    await expect(openDataFolder(root)).rejects.toMatchObject({ code: 'foreign-folder' });
    await writeFile(path.join(root, 'kenosis.sqlite'), `SQLite format 3\0${' '.repeat(200)}`);
    await expect(openDataFolder(root)).rejects.toMatchObject({ code: 'foreign-folder' });
    await writeFile(path.join(root, 'kenosis.sqlite'), '');
    const database = await openDatabase(root);
    await database.close();
    await (await openDataFolder(root)).close();
  });

  it.each([
    ['no JSON', '{', 'foreign-folder'],
    ['another format', '{"format":"other","version":1}', 'foreign-folder'],
    [
      'a later version',
      JSON.stringify({
        format: 'kenosis-data',
        version: 2,
        id: '0b0d3a5e-8a0f-4c6e-9a63-0d7a1c2b3d4e',
        created: '2026-01-01T00:00:00.000Z',
      }),
      'newer-database',
    ],
  ])('refuses a marker that is %s', async (_what, text, code) => {
    await writeFile(path.join(root, MARKER_FILE), text);
    await expect(openDataFolder(root)).rejects.toMatchObject({ code });
    expect(await readFile(path.join(root, MARKER_FILE), 'utf8')).toBe(text);
  });

  it('refuses a marker that is a link', async () => {
    await symlink('/nowhere', path.join(root, MARKER_FILE));
    await expect(openDataFolder(root)).rejects.toMatchObject({ code: 'foreign-folder' });
  });

  it('is held by one opening at a time, says where it is open, and is free again after a kill', async () => {
    const first = await openDataFolder(root, { address: 'http://127.0.0.1:4680' });
    await expect(openDataFolder(root)).rejects.toMatchObject({
      code: 'folder-in-use',
      message: expect.stringContaining('already open at http://127.0.0.1:4680') as string,
    });
    await first.close();
    const holder = spawn(
      process.execPath,
      [
        '-e',
        `const s = require('sqlite3'); const d = new s.Database(${JSON.stringify(path.join(root, LOCK_FILE))});
         d.exec('BEGIN EXCLUSIVE', () => console.log('held')); setInterval(() => {}, 1000);`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    await new Promise((resolve) => holder.stdout.once('data', resolve));
    await expect(openDataFolder(root)).rejects.toMatchObject({ code: 'folder-in-use' });
    const gone = new Promise((resolve) => holder.once('exit', resolve));
    holder.kill('SIGKILL');
    await gone;
    await (await openDataFolder(root)).close();
  });

  it('knows the database that was open last, at whatever moment it was ended, and no other', async () => {
    const first = await openDataFolder(root);
    expect(first.wasOpenLast(0)).toBe(false);
    let carried = 0;
    await first.remember(0, (next) => Promise.resolve(void (carried = next)));
    await first.close();
    const second = await openDataFolder(root);
    expect([second.wasOpenLast(carried), second.wasOpenLast(carried - 1)]).toEqual([true, false]);
    const killed = second.remember(carried, () => Promise.reject(new Error('killed')));
    await expect(killed).rejects.toThrow('killed');
    await second.close();
    const third = await openDataFolder(root);
    expect(third.wasOpenLast(carried)).toBe(true);
    await third.close();
  });
});
