import { spawn } from 'node:child_process';
import { mkdir, readdir, readFile, symlink, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { asSharp, put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { kenosis } from '../../tests/make/kenosis';
import { disc, noise } from '../../tests/make/pictures';

let folder: string;
let out: string;
const file = (name: string) => path.join(folder, name);
const left = async (name = 'out') => (await readdir(file(name))).sort();

beforeEach(async () => {
  folder = await freshFolder();
  out = file('out');
  await mkdir(out);
  for (const radius of [20, 24, 28])
    await put(folder, `disc ${radius}.png`, await asSharp(disc(81, radius)).png().toBuffer());
});

const discs = () => [20, 24, 28].map((radius) => file(`disc ${radius}.png`));

describe('kenosis cut on several pictures', () => {
  it('writes each into the folder, the same bytes as by itself, with the options of all', async () => {
    const { code, stdout, stderr } = await kenosis(
      'cut',
      ...discs(),
      '-o',
      out,
      '--colorway',
      'navy=#1d2a6b',
    );
    expect([code, stderr]).toEqual([0, '']);
    expect(stdout.trim().split('\n').sort()).toEqual([
      ...discs().map((input) => `${input}: written as ${out}/${path.parse(input).name}-cutout.png.`),
      '3 written, 0 not sure, 0 failed.',
    ]);
    expect(await left()).toEqual([
      ...[20, 24, 28].flatMap((radius) => [`disc ${radius}-cutout-navy.png`, `disc ${radius}-cutout.png`]),
    ]);
    await kenosis('cut', discs()[1]!, '-o', file('alone.png'));
    expect(await readFile(path.join(out, 'disc 24-cutout.png'))).toEqual(await readFile(file('alone.png')));
  });

  it('goes on where one fails, and says which and why', async () => {
    await writeFile(file('text.png'), 'no picture at all');
    await put(folder, 'busy.png', await asSharp(noise(80, 80)).png().toBuffer());
    const inputs = [file('text.png'), ...discs(), file('busy.png'), file('missing.png')];
    const { code, stdout, stderr } = await kenosis('cut', ...inputs, '-o', out, '--jobs', '1');
    expect(code).toBe(1);
    expect(stdout).toContain('3 written, 0 not sure, 3 failed.');
    expect(stderr).toContain(`kenosis: ${file('text.png')}: "text.png" is not a picture`);
    expect(stderr).toContain(`kenosis: ${file('busy.png')}: Too busy to tell`);
    expect(stderr).toContain(`kenosis: ${file('missing.png')}: `);
    expect(await left()).toHaveLength(3);
  });

  it('does nothing where two would be written as one, or over what is read, or there is no folder', async () => {
    await mkdir(file('other'));
    await put(file('other'), 'disc 20.jpg', await asSharp(disc(81, 20)).jpeg().toBuffer());
    await symlink(out, file('link'));
    await put(out, 'disc 20-cutout.png', await asSharp(disc(81, 20)).png().toBuffer());
    for (const [args, said] of [
      [[...discs(), file('other/disc 20.jpg'), '-o', out], /disc 20.jpg: expected a file of its own/],
      [
        [file('disc 20.png'), file('out/disc 20-cutout.png'), '-o', file('link')],
        /is the file that IN reads/,
      ],
      [[...discs(), '-o', file('none/deep')], /-o: .*none\/deep cannot be made: there is no such/],
      [[...discs(), '-o', file('disc.png')], /-o: expected a folder for 3 pictures/],
      [[...discs(), '-', '-o', out], /IN: expected named pictures/],
      [[...discs(), '-o', out, '--report', file('r.json')], /--report: expected one picture/],
      [[...discs(), '-o', out, '--jobs', '0'], /--jobs: expected 1 to 64/],
      [[discs()[0]!, '-o', file('a.png'), '--jobs', '2'], /--jobs: expected several pictures/],
    ] as const) {
      const { code, stderr } = await kenosis('cut', ...args);
      expect([code, stderr]).toEqual([2, expect.stringMatching(said)]);
    }
    expect(await left()).toEqual(['disc 20-cutout.png']);
  });

  it('ends with 4 where one is not sure, and removes what is half written on Ctrl+C', async () => {
    const ring = disc(161, 60);
    for (let y = 55; y < 105; y++)
      for (let x = 55; x < 105; x++) ring.data.fill(255, (y * 161 + x) * 4, (y * 161 + x) * 4 + 4);
    await put(folder, 'ring.png', await asSharp(ring).png().toBuffer());
    const unsure = await kenosis('cut', file('ring.png'), discs()[0]!, '-o', out, '--enclosed', 'ask');
    expect([unsure.code, unsure.stdout]).toEqual([
      4,
      expect.stringContaining('1 written, 1 not sure, 0 failed.'),
    ]);

    const large = await asSharp(disc(3001, 1200)).png().toBuffer();
    for (const name of ['a.png', 'b.png', 'c.png']) await put(folder, name, large);
    const inputs = ['a.png', 'b.png', 'c.png'].map(file);
    const child = spawn(process.execPath, ['scripts/kenosis.mjs', 'cut', ...inputs, '-o', out]);
    const ended = new Promise((resolve) => child.on('close', resolve));
    const isWriting = async () => (await left()).some((name) => name.endsWith('.part'));
    await expect.poll(isWriting, { interval: 5, timeout: 50_000 }).toBe(true);
    child.kill('SIGINT');
    expect(await ended).toBe(130);
    expect(await isWriting()).toBe(false);
  });
});
