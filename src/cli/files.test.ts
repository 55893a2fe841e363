import { execFileSync, spawn } from 'node:child_process';
import { chmod, link, mkdir, readdir, readFile, stat, symlink, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { asSharp, put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { kenosis, kenosisFed } from '../../tests/make/kenosis';
import { blotches, disc } from '../../tests/make/pictures';
import { assertDistinct } from './distinct-files';
import { readyPlace, writeWhole } from './output';

let folder: string;
let picture: Buffer;
beforeAll(async () => {
  picture = await asSharp(disc(121, 40)).png().toBuffer();
});
beforeEach(async () => {
  folder = await freshFolder();
});
const inFolder = (name: string) => path.join(folder, name);

describe('assertDistinct', () => {
  const check = (read: string, ...written: string[]) =>
    assertDistinct(
      [{ option: 'IN', file: inFolder(read) }],
      written.map((name, k) => ({ option: k === 0 ? '-o' : '--report', file: inFolder(name) })),
    );

  it.each([
    ['the same path', 'a.png'],
    ['a longer path', 'sub/../a.png'],
    ['a link', 'link.png'],
    ['a hard link', 'hard.png'],
    ['another case', 'A.PNG'],
    ['a path through a linked folder', 'linked/a.png'],
  ])('refuses to write over what is read: %s', async (_what, name) => {
    await put(folder, 'a.png', picture);
    await mkdir(inFolder('sub'));
    await symlink('a.png', inFolder('link.png'));
    await link(inFolder('a.png'), inFolder('hard.png'));
    await symlink(folder, inFolder('linked'));
    await expect(check('a.png', name)).rejects.toMatchObject({
      code: 'bad-argument',
      message: expect.stringMatching(/is the file that IN reads\. Nothing was written\./) as string,
    });
  });

  it('refuses two outputs of one name, there or not yet', async () => {
    await put(folder, 'a.png', picture);
    await symlink(folder, inFolder('linked'));
    await expect(check('a.png', 'o.png', 'o.png')).rejects.toThrow(/is the file that -o writes/);
    await expect(check('a.png', 'o.png', 'linked/O.png')).rejects.toThrow(/is the file that -o writes/);
    await expect(check('a.png', 'o.png', 'o.json')).resolves.toBeUndefined();
  });

  it('refuses standard output twice, and standard input twice', async () => {
    const standard = (option: string) => ({ option, file: '-' });
    await expect(assertDistinct([], [standard('-o'), standard('--report')])).rejects.toThrow(/--report/);
    await expect(assertDistinct([standard('IN'), standard('--cut')], [])).rejects.toThrow(/--cut/);
    await expect(assertDistinct([standard('IN')], [standard('-o')])).resolves.toBeUndefined();
  });
});

describe('writeWhole', () => {
  const write = (text: string) => (temporary: string) => writeFile(temporary, text);

  it('keeps the rights of a file that it replaces, and follows a link to it', async () => {
    await put(folder, 'old.json', 'old');
    await chmod(inFolder('old.json'), 0o640);
    await symlink('old.json', inFolder('link.json'));
    await writeWhole(inFolder('link.json'), write('new'));
    expect(await readFile(inFolder('old.json'), 'utf8')).toBe('new');
    expect((await stat(inFolder('old.json'))).mode & 0o777).toBe(0o640);
    expect(await readdir(folder)).toEqual(['link.json', 'old.json']);
  });

  it('takes a name as long as a file system allows, and says so in words where it is longer', async () => {
    await writeWhole(inFolder('n'.repeat(255)), write('x'));
    await expect(writeWhole(inFolder('n'.repeat(256)), write('x'))).rejects.toMatchObject({
      code: 'cannot-write',
      message: expect.stringMatching(/the name is too long\.$/) as string,
    });
    expect(await readdir(folder)).toEqual(['n'.repeat(255)]);
  });

  it('leaves the old file, and nothing else, where writing fails', async () => {
    await put(folder, 'old.json', 'old');
    const full = Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' });
    await expect(writeWhole(inFolder('old.json'), () => Promise.reject(full))).rejects.toThrow(
      /cannot be written: the disk is full\./,
    );
    expect(await readdir(folder)).toEqual(['old.json']);
    await expect(writeWhole(folder, write('x'))).rejects.toThrow(/is a folder/);
  });

  it('removes what killed runs left, and nothing that is somebody’s', async () => {
    const gone = execFileSync(process.execPath, ['-p', 'process.pid']).toString().trim();
    const name = (pid: string) => `.kenosis-${pid}-0b0d3a5e-8a0f-4c6e-9a63-0d7a1c2b3d4e.part`;
    for (const one of [name(gone), name(String(process.pid)), '.kenosis-notes.part', '.o.png.part'])
      await put(folder, one, 'x');
    await symlink('/nowhere', inFolder(name('999999')));
    await readyPlace(inFolder('o.png'));
    expect((await readdir(folder)).sort()).toEqual(
      [name(String(process.pid)), name('999999'), '.kenosis-notes.part', '.o.png.part'].sort(),
    );
    await expect(readyPlace(path.join(folder, 'nowhere', 'o.png'))).rejects.toMatchObject({
      code: 'cannot-write',
    });
  });
});

describe('kenosis and what it reads and writes', () => {
  it('never writes over what it reads: 2, and every file as it was', async () => {
    const input = await put(folder, 'a.png', picture);
    for (const more of [
      ['-o', input],
      ['-o', inFolder('o.png'), '--report', input],
      ['-o', inFolder('o.png'), '--save-cut', inFolder('o.png')],
      ['-o', inFolder('o.png'), '--colorway', 'red=#ff0000', '--report', inFolder('o-red.png')],
    ]) {
      const { code, stderr } = await kenosis('cut', input, ...more);
      expect([code, stderr]).toEqual([2, expect.stringMatching(/expected a file of its own/)]);
    }
    const { code } = await kenosis('check', input, '--report', input);
    expect(code).toBe(2);
    expect(await readdir(folder)).toEqual(['a.png']);
    expect((await readFile(input)).equals(picture)).toBe(true);
  });

  it('reads standard input and pipes, and writes standard output', async () => {
    const input = await put(folder, 'a.png', picture);
    expect((await kenosis('cut', input, '-o', inFolder('o.png'))).code).toBe(0);
    const expected = await sharp(inFolder('o.png')).raw().toBuffer();
    const fed = await kenosisFed(picture, 'cut', '-', '-o', '-', '--explain');
    expect([fed.code, fed.stderr]).toEqual([0, 'White all around the frame.\n']);
    expect((await sharp(fed.bytes).raw().toBuffer()).equals(expected)).toBe(true);
    execFileSync('mkfifo', [inFolder('pipe')]);
    const feeder = spawn('sh', ['-c', `cat '${input}' > '${inFolder('pipe')}'`]);
    expect((await kenosis('cut', inFolder('pipe'), '-o', inFolder('p.png'))).code).toBe(0);
    feeder.kill();
    expect((await sharp(inFolder('p.png')).raw().toBuffer()).equals(expected)).toBe(true);
    const nothing = await kenosisFed(Buffer.alloc(0), 'check', '-');
    expect([nothing.code, nothing.stderr]).toEqual([1, expect.stringMatching(/"standard input" is empty/)]);
  });

  it('refuses a damaged picture, and takes what can be read of it with --damaged accept', async () => {
    const jpeg = await asSharp(blotches(400, 300, 2))
      .jpeg()
      .toBuffer();
    const half = Buffer.concat([jpeg.subarray(0, jpeg.length >> 1), Buffer.from([0xff, 0xd9])]);
    const input = await put(folder, 'half.jpg', half);
    const refused = await kenosis('check', input);
    expect([refused.code, refused.stderr]).toEqual([
      1,
      expect.stringMatching(/"half.jpg" is damaged.*--damaged accept/),
    ]);
    const accepted = await kenosis('check', input, '--damaged', 'accept');
    expect([accepted.code, accepted.stderr]).toEqual([
      3,
      expect.stringMatching(/^kenosis: Damaged: only what/),
    ]);
    expect((await kenosis('check', input, '--damaged', 'maybe')).code).toBe(2);
  });

  it('ended by a signal while it writes, leaves nothing half written', async () => {
    const input = await put(
      folder,
      'large.png',
      await asSharp(blotches(3000, 2400, 4))
        .png()
        .toBuffer(),
    );
    const child = spawn(process.execPath, [
      'scripts/kenosis.mjs',
      ...['cut', input, '-o', inFolder('o.png'), '--sample', '2,2,3'],
    ]);
    const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
    await expect
      .poll(async () => (await readdir(folder)).some((name) => name.endsWith('.part')), {
        interval: 5,
        timeout: 50_000,
      })
      .toBe(true);
    child.kill('SIGINT');
    expect(await ended).toBe(130);
    expect(await readdir(folder)).toEqual(['large.png']);
  });
});
