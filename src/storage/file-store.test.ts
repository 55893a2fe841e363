import { existsSync } from 'node:fs';
import { lstat, mkdir, readdir, rm, stat, symlink, utimes, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { freshFolder } from '../../tests/make/folder';
import { openFileStore } from './file-store';
import type { Shelfmark } from './own-files';

const hash = (digit: string) => digit.repeat(64);
const none = () => false;
const ever = new Date(0);

let root: string;
beforeEach(async () => {
  root = await freshFolder();
});

async function kept(kind: Shelfmark, key: string): Promise<string> {
  const files = await openFileStore(root);
  const incoming = await files.incomingPath();
  await writeFile(incoming, key);
  await files.keep(incoming, kind, key);
  return files.pathOf(kind, key);
}

describe('openFileStore', () => {
  it('shows a file only when it was kept, and empties incoming of our own half files when it opens', async () => {
    const files = await openFileStore(root);
    const whole = await files.incomingPath();
    await writeFile(whole, 'whole');
    await writeFile(await files.incomingPath(), 'half');
    await writeFile(path.join(root, 'incoming', 'letter.txt'), 'not ours');
    expect(await files.has('originals', hash('1'))).toBe(false);
    await files.keep(whole, 'originals', hash('1'));
    const again = await openFileStore(root);
    expect(await again.has('originals', hash('1'))).toBe(true);
    expect(await readdir(path.join(root, 'incoming'))).toEqual(['letter.txt']);
  });

  it('makes incoming anew where it was taken away', async () => {
    const files = await openFileStore(root);
    await rm(path.join(root, 'incoming'), { recursive: true });
    await writeFile(await files.incomingPath(), 'whole');
    expect(await readdir(path.join(root, 'incoming'))).toHaveLength(1);
  });

  it.each(['originals', 'incoming', 'deliveries', 'quarantine'])(
    'refuses a link in the place of %s, and touches nothing behind it',
    async (name) => {
      const elsewhere = await freshFolder();
      await writeFile(path.join(elsewhere, hash('a')), 'photo');
      await symlink(elsewhere, path.join(root, name));
      await expect(openFileStore(root)).rejects.toMatchObject({ code: 'foreign-folder' });
      expect(await readdir(elsewhere)).toEqual([hash('a')]);
    },
  );

  it('refuses a shard that is a link', async () => {
    const files = await openFileStore(root);
    const elsewhere = await freshFolder();
    await symlink(elsewhere, path.join(root, 'originals', 'aa'));
    const incoming = await files.incomingPath();
    await writeFile(incoming, 'x');
    await expect(files.keep(incoming, 'originals', hash('a'))).rejects.toMatchObject({
      code: 'foreign-folder',
    });
    expect(await readdir(elsewhere)).toEqual([]);
  });

  it.each(['../../etc/passwd', 'ab', '', 'ABCD', 'abcd/../..'])('refuses the key %j', async (key) => {
    const files = await openFileStore(root);
    expect(() => files.pathOf('originals', key)).toThrow(/file key/);
  });
});

describe('setAside and clearQuarantine', () => {
  it('lay what no row names into quarantine, and let it go only after seven days', async () => {
    const named = await kept('deliveries', hash('2'));
    const unnamed = await kept('deliveries', hash('3'));
    const at = (day: string) => openFileStore(root, () => new Date(`${day}T12:00:00Z`));
    const first = await at('2026-03-01');
    expect(await first.setAside('deliveries', (key) => key === hash('2'), ever)).toBe(1);
    expect([existsSync(named), existsSync(unnamed)]).toEqual([true, false]);
    const aside = path.join(root, 'quarantine', '2026-03-01', 'deliveries', '33', hash('3'));
    expect(existsSync(aside)).toBe(true);
    expect(await first.quarantined()).toMatchObject({ files: 1, bytes: 64 });
    expect(await (await at('2026-03-08')).clearQuarantine()).toBe(0);
    expect(existsSync(aside)).toBe(true);
    expect(await (await at('2026-03-09')).clearQuarantine()).toBe(1);
    expect(await readdir(path.join(root, 'quarantine'))).toEqual([]);
  });

  it('bring back what is named again', async () => {
    const file = await kept('originals', hash('4'));
    const files = await openFileStore(root);
    await files.setAside('originals', none, ever);
    expect(existsSync(file)).toBe(false);
    await files.setAside('originals', (key) => key === hash('4'), ever);
    expect(existsSync(file)).toBe(true);
  });

  it('leave alone what is older than the database knows', async () => {
    const file = await kept('originals', hash('5'));
    await utimes(file, new Date('2026-01-01'), new Date('2026-01-01'));
    const files = await openFileStore(root);
    expect(await files.setAside('originals', none, new Date('2026-02-01'))).toBe(0);
    expect(existsSync(file)).toBe(true);
  });

  it('never touch what is not ours: other names, links, folders, files out of their shard', async () => {
    const elsewhere = await freshFolder();
    await writeFile(path.join(elsewhere, hash('6')), 'photo');
    const files = await openFileStore(root);
    const inside = (...parts: string[]) => path.join(root, 'originals', ...parts);
    await mkdir(inside('2024'));
    await mkdir(inside('66', hash('7')), { recursive: true });
    await writeFile(inside('holiday.jpg'), 'theirs');
    await writeFile(inside('2024', hash('8')), 'theirs');
    await writeFile(inside('66', 'IMG_0001.JPG'), 'theirs');
    await writeFile(inside('66', hash('9')), 'theirs');
    await symlink(path.join(elsewhere, hash('6')), inside('66', hash('6')));
    await symlink(elsewhere, inside('aa'));
    const old = path.join(root, 'quarantine', '2020-01-01');
    await mkdir(path.join(old, 'originals', '66'), { recursive: true });
    await writeFile(path.join(old, 'originals', '66', 'mine.txt'), 'theirs');
    expect(await files.setAside('originals', none, ever)).toBe(0);
    expect(await files.clearQuarantine()).toBe(0);
    for (const key of [hash('6'), hash('7')]) await files.remove('originals', key);
    expect((await lstat(inside('66', hash('6')))).isSymbolicLink()).toBe(true);
    expect(await readdir(inside('66'))).toEqual([hash('6'), hash('7'), hash('9'), 'IMG_0001.JPG']);
    expect(await readdir(inside('2024'))).toEqual([hash('8')]);
    expect(await readdir(elsewhere)).toEqual([hash('6')]);
    expect(await readdir(path.join(old, 'originals', '66'))).toEqual(['mine.txt']);
  });

  it('remove the thumbnails of one piece and no other', async () => {
    const id = 'a'.repeat(16);
    const mine = await kept('thumbnails', `${id}-19abc-1`);
    const other = await kept('thumbnails', `${'a'.repeat(15)}b-19abc-1`);
    await (await openFileStore(root)).removeOf('thumbnails', id);
    expect([existsSync(mine), existsSync(other)]).toEqual([false, true]);
  });

  it('remove the oldest cutouts until the others have room, and nothing that is not ours', async () => {
    const keys = ['a', 'b', 'c'].map((digit) => `${digit.repeat(16)}-19abc-1-12ef`);
    const paths: string[] = [];
    for (const [age, key] of keys.entries()) {
      const file = await kept('cutouts', key);
      await utimes(file, 1000 - age, 1000 - age);
      paths.push(file);
    }
    await writeFile(path.join(path.dirname(paths[2]!), 'mine.txt'), 'theirs');
    const files = await openFileStore(root);
    const { size } = await stat(paths[0]!);
    await files.removeOldest('cutouts', 2 * size);
    expect(paths.map((file) => existsSync(file))).toEqual([true, true, false]);
    await files.removeOldest('cutouts', 0);
    expect(paths.map((file) => existsSync(file))).toEqual([false, false, false]);
    expect(await readdir(path.dirname(paths[2]!))).toEqual(['mine.txt']);
  });

  it('remove the cutouts of a piece but one', async () => {
    const id = 'a'.repeat(16);
    const keys = [1, 2, 3].map((revision) => `${id}-19abc-${revision}-12ef`);
    const paths: string[] = [];
    for (const key of keys) paths.push(await kept('cutouts', key));
    await (await openFileStore(root)).removeOf('cutouts', id, keys[1]);
    expect(paths.map((file) => existsSync(file))).toEqual([false, true, false]);
  });
});
