import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { asSharp, put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { disc, noise, paint } from '../../tests/make/pictures';
import { parseCutText } from '../core/cut/parse';

let folder: string;
let input: string;
const file = (name: string) => path.join(folder, name);

beforeAll(async () => {
  folder = await freshFolder();
  input = await put(
    folder,
    'disc.png',
    await asSharp(disc(121, 40)).withMetadata({ density: 300 }).png().toBuffer(),
  );
});

function kenosis(...args: string[]): Promise<{ code: number; stdout: string; stderr: string }> {
  return new Promise((resolve) => {
    execFile(process.execPath, ['scripts/kenosis.mjs', ...args], (error, stdout, stderr) => {
      resolve({ code: error ? Number(error.code) : 0, stdout, stderr });
    });
  });
}

describe('kenosis cut', () => {
  it('proposes a cut by itself, explains it when asked, and reports', async () => {
    const { code, stdout } = await kenosis(
      'cut',
      input,
      '-o',
      file('a.png'),
      '--explain',
      '--report',
      file('a.json'),
    );
    expect(code).toBe(0);
    expect(stdout).toBe('White all around the frame.\n');
    const { data, info } = await sharp(file('a.png')).raw().toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 121, height: 121, channels: 4 });
    expect((await sharp(file('a.png')).metadata()).density).toBe(300);
    const report = JSON.parse(await readFile(file('a.json'), 'utf8')) as Record<string, number> & {
      timingsMs: object;
    };
    const transparent = data.filter((value, p) => p % 4 === 3 && value === 0).length;
    expect(report.percentTransparent).toBeCloseTo((100 * transparent) / 121 ** 2, 6);
    expect(report).toMatchObject({ width: 121, height: 121 });
    expect(Object.keys(report.timingsMs)).toEqual(['decode', 'clear', 'deliver']);
    expect(report.peakMemoryBytes).toBeGreaterThan(10_000_000);
  });

  it('gives the same pixels from the cut it saved', async () => {
    await kenosis(
      'cut',
      input,
      '-o',
      file('b.png'),
      '--sample',
      '3,3,20,everywhere',
      '--save-cut',
      file('b.json'),
    );
    const cut = parseCutText(await readFile(file('b.json'), 'utf8'));
    expect(cut.clear.samples).toMatchObject([{ x: 3, y: 3, tolerance: 20, reach: 'everywhere' }]);
    expect((await kenosis('cut', input, '-o', file('c.png'), '--cut', file('b.json'))).code).toBe(0);
    expect(await sharp(file('c.png')).raw().toBuffer()).toEqual(await sharp(file('b.png')).raw().toBuffer());
  });

  it('keeps a place that looks like the background', async () => {
    const ring = await put(folder, 'ring.png', await asSharp(ringPicture()).png().toBuffer());
    const alphaInside = async (...extra: string[]) => {
      expect((await kenosis('cut', ring, '-o', file('ring-out.png'), ...extra)).code).toBe(0);
      const { data } = await sharp(file('ring-out.png')).raw().toBuffer({ resolveWithObject: true });
      return data[(60 * 121 + 60) * 4 + 3];
    };
    expect(await alphaInside()).toBe(0);
    expect(await alphaInside('--keep', '58,61')).toBe(255);
  });

  it('adds samples to a given cut', async () => {
    const args = ['--cut', file('b.json'), '--sample', '60,60,5', '--save-cut', file('d.json')];
    expect((await kenosis('cut', input, '-o', file('d.png'), ...args)).code).toBe(0);
    expect(parseCutText(await readFile(file('d.json'), 'utf8')).clear.samples).toHaveLength(2);
  });

  it.each([
    [['glue'], /expected cut/],
    [['cut', 'IN', '-o', 'x.jpg'], /ending in .png/],
    [['cut', 'IN', '-o', 'x.png', '--sample', '500,3'], /--sample: .*within 121 x 121/],
    [['cut', 'IN', '-o', 'x.png', '--keep', '3,500'], /--keep: .*within 121 x 121/],
  ])('ends with 2 and the usage for %j', async (args, message) => {
    const { code, stderr } = await kenosis(
      ...args.map((arg) => (arg === 'IN' ? input : arg.replace(/^x\./, file('x.')))),
    );
    expect(code).toBe(2);
    expect(stderr).toMatch(message);
    expect(stderr).toContain('usage: kenosis cut');
  });

  it('shapes the edge of a proposed cut, and refuses to where the given cut has Edge switched off', async () => {
    const saved = file('shaped.json');
    const made = await kenosis(
      'cut',
      input,
      '-o',
      file('shaped.png'),
      '--offset',
      '-0.5',
      '--save-cut',
      saved,
    );
    expect(made.code).toBe(0);
    const cut = JSON.parse(await readFile(saved, 'utf8')) as { edge: object };
    expect(cut.edge).toMatchObject({ on: true, offsetPx: -0.5 });
    const off = await put(folder, 'off.json', JSON.stringify({ ...cut, edge: { ...cut.edge, on: false } }));
    const refused = await kenosis('cut', input, '-o', file('never.png'), '--cut', off, '--softness', '2');
    expect(refused.code).toBe(2);
    expect(refused.stderr).toMatch(/--softness: expected a cut whose Edge is on/);
  });

  it('ends with 1, one line and no file for anything else', async () => {
    const text = await put(folder, 'text.png', 'words');
    const busy = await put(folder, 'busy.png', await asSharp(noise(64, 64)).png().toBuffer());
    const badCut = await put(folder, 'bad.json', '{"format":"kenosis-cut","version":99}');
    for (const [args, message] of [
      [[file('missing.png')], /missing.png.* cannot be read/],
      [[text], /not a picture/],
      [[busy], /Too busy to tell/],
      [[input, '--cut', badCut], /cut\.version: expected 1 to 3, got 99/],
      [[input, '--cut', file('none.json')], /none.json.* cannot be read/],
    ] as const) {
      const { code, stderr } = await kenosis('cut', ...args, '-o', file('never.png'));
      expect(code, String(message)).toBe(1);
      expect(stderr).toMatch(message);
      expect(stderr.trim().split('\n')).toHaveLength(1);
    }
    const nowhere = await kenosis('cut', input, '-o', path.join(folder, 'no-such-folder', 'out.png'));
    expect([nowhere.code, nowhere.stderr]).toEqual([1, expect.stringMatching(/cannot be written/)]);
    expect(existsSync(file('never.png'))).toBe(false);
    expect((await readdir(folder)).filter((name) => name.startsWith('.'))).toEqual([]);
  });
});

function ringPicture() {
  return paint(121, 121, (x, y) => {
    const far = Math.hypot(x - 60, y - 60);
    return far > 20 && far < 40 ? [20, 60, 90] : [255, 255, 255];
  });
}
