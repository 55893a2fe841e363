import { open, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { freshFolder } from '../../tests/make/folder';
import { BACKUPS, backUp, clearRemains, keepNewest, listBackups, restoreBackup } from './backups';
import { openDatabase, type Database } from './database';
import { DATABASE_FILE } from './database-file';
import { getSetting, setSetting } from './settings';

let root: string;
beforeEach(async () => {
  root = await freshFolder();
});

const day = (n: number) => new Date(Date.UTC(2026, 2, n, 8, 12));
const inDatabase = async <T>(work: (database: Database) => Promise<T>): Promise<T> => {
  const database = await openDatabase(root);
  try {
    return await work(database);
  } finally {
    await database.close();
  }
};
const write = (value: string) => inDatabase((database) => setSetting(database, 'which', value));
const read = () => inDatabase((database) => getSetting(database, 'which'));

describe('backUp', () => {
  it('copies a database in use, and keeps the last seven copies and what is not a copy', async () => {
    await inDatabase(async (database) => {
      for (let n = 1; n <= BACKUPS + 2; n++) {
        await setSetting(database, 'which', `day ${n}`);
        await backUp(root, day(n));
        if (n === 1) await writeFile(path.join(root, 'backups', 'letter.txt'), 'not ours');
      }
    });
    const all = await listBackups(root);
    expect(all.map(({ when }) => when.slice(8, 10))).toEqual(['09', '08', '07', '06', '05', '04', '03']);
    expect(await readFile(path.join(root, 'backups', 'letter.txt'), 'utf8')).toBe('not ours');
    await restoreBackup(root, all[1]!.name, day(20));
    expect(await read()).toBe('day 8');
  });

  it('clears away copies that a kill left half made, and nothing else', async () => {
    await write('once');
    await backUp(root, day(1));
    for (const name of ['.kenosis-12345.sqlite', '.kenosis-12345.sqlite-journal', '.kenosis-notes.sqlite'])
      await writeFile(path.join(root, 'backups', name), 'half');
    await backUp(root, day(2));
    expect((await readdir(path.join(root, 'backups'))).sort()).toEqual([
      '.kenosis-notes.sqlite',
      'kenosis-2026-03-01T08-12-00Z.sqlite',
    ]);
  });

  it('makes no second copy of what did not change, whatever token the database carries', async () => {
    await write('once');
    await backUp(root, day(1));
    await inDatabase((database) => database.setToken(12_345));
    await backUp(root, day(2));
    expect(await listBackups(root)).toHaveLength(1);
    await write('twice');
    await backUp(root, day(3));
    expect(await listBackups(root)).toHaveLength(2);
  });
});

describe('restoreBackup', () => {
  it('takes the newest copy that is whole and keeps what it replaces', async () => {
    for (const n of [1, 2]) {
      await write(`day ${n}`);
      await backUp(root, day(n));
    }
    const [newest] = await listBackups(root);
    await writeFile(newest!.path, 'scribble');
    await writeFile(path.join(root, DATABASE_FILE), 'damaged');
    expect((await restoreBackup(root, 'latest', day(3))).when).toBe('2026-03-01 08:12:00 UTC');
    expect(await read()).toBe('day 1');
    const replaced = path.join(root, 'backups', 'replaced-2026-03-03T08-12-00Z.sqlite');
    expect(await readFile(replaced, 'utf8')).toBe('damaged');
  });

  it('changes nothing where there is no such copy', async () => {
    await write('here');
    await expect(restoreBackup(root, '../kenosis.sqlite', day(1))).rejects.toMatchObject({
      code: 'not-found',
    });
    await expect(restoreBackup(root, 'latest', day(1))).rejects.toThrow(/There: none/);
    expect(await read()).toBe('here');
  });
});

describe('a database that is gone', () => {
  it('has its newest copy kept for good, and its remains moved away', async () => {
    await write('before');
    await backUp(root, day(1));
    await rm(path.join(root, DATABASE_FILE));
    await writeFile(path.join(root, `${DATABASE_FILE}-wal`), 'remains');
    expect(await keepNewest(root)).toMatchObject({ name: 'kept-2026-03-01T08-12-00Z.sqlite' });
    await clearRemains(root, day(2));
    expect(await readdir(path.join(root, 'backups'))).toEqual([
      'kept-2026-03-01T08-12-00Z.sqlite',
      'remains-2026-03-02T08-12-00Z.sqlite-wal',
    ]);
    for (let n = 3; n <= BACKUPS + 5; n++) {
      await write(`day ${n}`);
      await backUp(root, day(n));
    }
    expect((await listBackups(root)).at(-1)).toMatchObject({ name: 'kept-2026-03-01T08-12-00Z.sqlite' });
  });
});

describe('openDatabase', () => {
  it('says so where the database is damaged or of a later version, and leaves it as it is', async () => {
    await write('here');
    await inDatabase((database) =>
      database.sequelize.query("INSERT INTO migrations (name) VALUES ('999-later')"),
    );
    await expect(openDatabase(root)).rejects.toMatchObject({
      code: 'newer-database',
      message: expect.stringContaining('999-later') as string,
    });
    const file = path.join(root, DATABASE_FILE);
    const handle = await open(file, 'r+');
    await handle.write(Buffer.alloc(8192, 0xa5), 0, 8192, 4096);
    await handle.close();
    const before = await readFile(file);
    await expect(openDatabase(root)).rejects.toMatchObject({ code: 'damaged-database' });
    expect((await readFile(file)).equals(before)).toBe(true);
    await writeFile(file, 'hello, this is a letter and no database at all');
    await expect(openDatabase(root)).rejects.toMatchObject({ code: 'damaged-database' });
  });
});
