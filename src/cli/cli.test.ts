import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { asSharp, put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { kenosis } from '../../tests/make/kenosis';
import { cutDisc, spoiled } from '../../tests/make/cutouts';
import { disc, noise, paint } from '../../tests/make/pictures';
import { writtenSheet } from '../../tests/make/sheets';
import { inspectPicture } from '../codec/inspect';
import { outputIn } from '../core/stages/deliver/new-output';
import { AS_IT_IS } from '../core/stages/deliver/output-settings';
import { parseCutText, untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import { renderCut } from '../core/render';

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
    expect(report).toMatchObject({
      width: 121,
      height: 121,
      files: [{ file: file('a.png'), format: 'png', decoder: 'fast-png', scale: 1, color: { largest: 0 } }],
    });
    expect(Object.keys(report.timingsMs)).toEqual(['decode', 'clear', 'deliver', 'check']);
    expect(report.findings).toEqual([]);
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

  it('replays what a hand did, to the byte', async () => {
    const brush = {
      kind: 'brush' as const,
      radiusPx: 9,
      softness: 30,
      strength: 80,
      pressure: 'none' as const,
      alike: null,
    };
    const cut: Cut = {
      ...untouchedCut(),
      touchUp: {
        ...untouchedCut().touchUp,
        strokes: [
          { ...brush, does: 'clear', path: '10,60 110,60.5' },
          { ...brush, does: 'restore', path: '60,20 60,100' },
        ],
      },
    };
    await put(folder, 'hand.json', JSON.stringify(cut));
    const { code } = await kenosis('cut', input, '-o', file('hand.png'), '--cut', file('hand.json'));
    expect(code).toBe(0);
    const replayed = await sharp(file('hand.png')).ensureAlpha().raw().toBuffer();
    expect(replayed.equals(renderCut(disc(121, 40), cut).raster.data)).toBe(true);
    const broken = {
      ...cut,
      touchUp: { ...cut.touchUp, strokes: [{ ...brush, does: 'clear', path: 'NaN,2' }] },
    };
    await put(folder, 'broken.json', JSON.stringify(broken));
    const refused = await kenosis('cut', input, '-o', file('none.png'), '--cut', file('broken.json'));
    expect(refused.code).toBe(1);
    expect(refused.stderr).toContain('cut.touchUp.strokes[0].path: expected places');
    expect(existsSync(file('none.png'))).toBe(false);
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
    [['glue'], /command: expected cut, check, place, mark, run, watch or worker, got glue/],
    [[], /command: expected cut, .*got nothing/],
    [['cut', 'IN', '-o', 'x.doc'], /ending in a format that is written/],
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

  it('clears writing by ink, over the very frame of IN, with a file for each colorway', async () => {
    const sheet = await put(folder, 'sheet.png', await asSharp(writtenSheet()).png().toBuffer());
    const names = ['--colorway', 'navy=#1d2a6b', '--colorway', 'off white=#F4F1E8'];
    const ink = ['--method', 'ink', '--channel', 'red', '--ink', '#8A1F2D', '--density', '40'];
    const done = await kenosis(
      'cut',
      sheet,
      '-o',
      file('sheet-cut.png'),
      ...ink,
      ...names,
      '--save-cut',
      file('s.json'),
    );
    expect([done.code, done.stderr]).toEqual([0, '']);
    const cut = parseCutText(await readFile(file('s.json'), 'utf8'));
    expect(cut.clear.ink).toMatchObject({ channel: 'red' });
    expect(cut.prepare.crop).toBeNull();
    expect(cut.ink).toMatchObject({ color: '#8a1f2d', density: 40 });
    const colors = [];
    for (const name of ['sheet-cut', 'sheet-cut-navy', 'sheet-cut-off-white']) {
      const { data, info } = await sharp(file(`${name}.png`))
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect(info).toMatchObject({ width: 360, height: 200 });
      const p = [...data.keys()].find((at) => at % 4 === 3 && data[at] === 255)! - 3;
      colors.push(data.subarray(p, p + 3).toString('hex'));
    }
    expect(colors).toEqual(['8a1f2d', '1d2a6b', 'f4f1e8']);
  });

  it('crops and straightens only when it is asked to', async () => {
    const askew = writtenSheet({ rules: 28, rulesDeg: 4, width: 480, height: 360 });
    const sheet = await put(folder, 'askew.png', await asSharp(askew).png().toBuffer());
    const args = ['--auto-crop', '--auto-straighten', '--explain', '--save-cut', file('askew.json')];
    const { code, stdout } = await kenosis('cut', sheet, '-o', file('askew-cut.png'), ...args);
    expect(code).toBe(0);
    expect(stdout).toMatch(/straightened by -4.*; cropped to the writing/);
    const cut = parseCutText(await readFile(file('askew.json'), 'utf8'));
    const { width, height } = await sharp(file('askew-cut.png')).metadata();
    expect({ width, height }).toMatchObject({
      width: cut.prepare.crop!.width,
      height: cut.prepare.crop!.height,
    });
  });

  it('says of what is no ink why, and writes nothing', async () => {
    const blank = paint(200, 100, () => [244, 240, 230]);
    const solid = paint(200, 100, () => [22, 24, 30]);
    for (const [picture, message] of [
      [blank, /The page is blank/],
      [solid, /too dark for paper|dark all over/],
      [writtenSheet({ width: 20, height: 20 }), /under 32 pixels/],
      [noise(200, 100), /No ink was cleared and nothing was written/],
    ] as const) {
      const sheet = await put(folder, 'no-ink.png', await asSharp(picture).png().toBuffer());
      const { code, stderr } = await kenosis('cut', sheet, '-o', file('never.png'), '--method', 'ink');
      expect(code).toBe(1);
      expect(stderr).toMatch(message);
    }
    const framed = await kenosis('cut', input, '-o', file('never.png'), '--auto-crop');
    expect([framed.code, framed.stderr]).toEqual([
      1,
      expect.stringMatching(
        /--auto-crop works on ink on paper, .*\(White all around the frame\)\. Nothing was written/,
      ),
    ]);
    const all = await kenosis('cut', input, '-o', file('never.png'), '--sample', '3,3,100,everywhere');
    expect([all.code, all.stderr]).toEqual([
      1,
      expect.stringMatching(/Everything of "disc.png" would be cleared/),
    ]);
    expect(existsSync(file('never.png'))).toBe(false);
  });

  it('ends with 1, one line and no file for anything else', async () => {
    const text = await put(folder, 'text.png', 'words');
    const busy = await put(folder, 'busy.png', await asSharp(noise(64, 64)).png().toBuffer());
    const badCut = await put(folder, 'bad.json', '{"format":"kenosis-cut","version":99}');
    for (const [args, message] of [
      [[file('missing.png')], /missing.png.* cannot be read/],
      [[text], /not a picture/],
      [[busy], /Too busy to tell/],
      [[input, '--cut', badCut], /cut\.version: expected 1 to 8, got 99/],
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

describe('kenosis cut in every format', () => {
  it('writes what the name of its file says, laid out as was said', async () => {
    const sized = ['--size', '60w', '--trim', '--padding', '5'];
    for (const ending of ['jpg', 'svg']) {
      const out = file(`out.${ending}`);
      const { code, stderr } = await kenosis('cut', input, '-o', out, ...sized);
      expect([code, stderr]).toEqual([0, '']);
      if (ending === 'svg') expect(await readFile(out, 'utf8')).toContain('width="60"');
      else expect(await inspectPicture(out, 'out')).toMatchObject({ format: 'jpeg', width: 60 });
    }
  });

  it('writes every format', async () => {
    const out = path.join(folder, 'every');
    await mkdir(out);
    const formats = ['png', 'webp', 'avif', 'tiff', 'gif', 'jpeg', 'svg', 'pdf', 'ico'] as const;
    const set = { name: 'every', hidden: 'removed', outputs: formats.map((format) => outputIn(format)) };
    const every = await put(folder, 'every.json', JSON.stringify(set));
    const { code, stderr } = await kenosis('cut', input, '-o', out, '--set', every);
    expect([code, stderr]).toEqual([0, '']);
    expect((await readdir(out)).map((name) => path.extname(name)).sort()).toEqual([
      '.avif',
      '.gif',
      '.ico',
      '.jpg',
      '.pdf',
      '.png',
      '.svg',
      '.tif',
      '.webp',
    ]);
  });

  it('writes the files of a set in all colorways, and says what it wrote', async () => {
    const out = path.join(folder, 'set');
    await mkdir(out);
    const own = await put(
      folder,
      'own.json',
      JSON.stringify({
        name: 'own',
        hidden: 'removed',
        outputs: [
          outputIn('png'),
          { ...outputIn('webp'), size: { ...AS_IT_IS, to: { kind: 'width', px: 50 } } },
        ],
      }),
    );
    const { code, stdout } = await kenosis(
      ...['cut', input, '-o', out, '--set', own, '--colorway', 'navy=#1d2a6b'],
      ...['--name', '{piece}-{colorway}-{width}'],
    );
    expect([code, stdout]).toEqual([0, '4 files written.\n']);
    expect((await readdir(out)).sort()).toEqual([
      'disc--121.png',
      'disc--50.webp',
      'disc-navy-121.png',
      'disc-navy-50.webp',
    ]);
  });

  it('reads the page that is named, and asks for one where there are several', async () => {
    const frames = [disc(40, 12), disc(40, 16)].map(({ data }) => data);
    const moving = sharp(Buffer.concat(frames), {
      raw: { width: 40, height: 80, channels: 4, pageHeight: 40 },
    });
    const gif = await put(folder, 'moving.gif', await moving.gif().toBuffer());
    const out = file('frame.png');
    const asked = await kenosis('cut', gif, '-o', out);
    expect([asked.code, asked.stderr]).toEqual([
      1,
      expect.stringMatching(/holds 2 pictures. Name one: --page 1/),
    ]);
    const { code } = await kenosis('cut', gif, '-o', out, '--page', '2', '--save-cut', file('page.json'));
    expect(code).toBe(0);
    expect(parseCutText(await readFile(file('page.json'), 'utf8')).page).toEqual({
      number: 2,
      widthPx: null,
    });
    // The cut knows its page.
    await kenosis('cut', gif, '-o', file('again.png'), '--cut', file('page.json'));
    expect(await readFile(file('again.png'))).toEqual(await readFile(out));
    const none = await kenosis('cut', gif, '-o', out, '--page', '3');
    expect([none.code, none.stderr]).toEqual([2, expect.stringMatching(/has 2 pages, not 3/)]);
  });

  it('reads a drawing as fine as was said', async () => {
    const svg = await put(
      folder,
      'drawn.svg',
      '<svg xmlns="http://www.w3.org/2000/svg" width="96" height="48"><circle cx="48" cy="24" r="16"/></svg>',
    );
    const { code } = await kenosis('cut', svg, '-o', file('drawn.png'), '--drawn-dpi', '200');
    expect(code).toBe(0);
    expect(await sharp(file('drawn.png')).metadata()).toMatchObject({
      width: 200,
      height: 100,
      density: 200,
    });
    const pixels = await kenosis('cut', input, '-o', file('x.png'), '--drawn-dpi', '200');
    expect([pixels.code, pixels.stderr]).toEqual([
      2,
      expect.stringMatching(/--drawn-dpi: expected a page without/),
    ]);
  });

  it('refuses pictures whose files of a set would have the same names', async () => {
    const twin = path.join(folder, 'twin');
    await mkdir(twin);
    const other = await put(twin, 'disc.jpg', await asSharp(disc(121, 30)).jpeg().toBuffer());
    const { code, stderr } = await kenosis('cut', input, other, '-o', twin, '--set', 'site');
    expect([code, stderr]).toEqual([
      2,
      expect.stringMatching(/IN: expected pictures of different names for a set/),
    ]);
    expect(await readdir(twin)).toEqual(['disc.jpg']);
  });

  it('refuses a set that is none before anything is read, and a folder that cannot be made', async () => {
    const broken = await put(folder, 'broken.json', '{"name": "x", "outputs": []}');
    const one = await kenosis('cut', input, '-o', folder, '--set', broken);
    expect([one.code, one.stderr]).toEqual([2, expect.stringMatching(/--set: .*broken.json/)]);
    const other = await kenosis('cut', input, '-o', folder, '--set', 'poster');
    expect([other.code, other.stderr]).toEqual([
      2,
      expect.stringMatching(/--set: expected cut, site, print, shop/),
    ]);
    const nowhere = await kenosis('cut', input, '-o', file('nowhere/deep'), '--set', 'site');
    expect([nowhere.code, nowhere.stderr]).toEqual([2, expect.stringMatching(/-o: .*deep cannot be made/)]);
  });
});

describe('kenosis check', () => {
  it('says nothing of a clean cutout, and exits 3 with places for a spoiled one', async () => {
    const clean = await put(folder, 'clean.png', await asSharp(cutDisc(120)).png().toBuffer());
    expect(await kenosis('check', clean)).toEqual({ code: 0, stdout: '', stderr: '' });
    const dusty = spoiled(cutDisc(120), [10, 12, 3, 2, [140, 30, 40, 255]], [60, 60, 2, 2, [0, 0, 0, 0]]);
    const file1 = await put(folder, 'dusty.png', await asSharp(dusty).png().toBuffer());
    const { code, stdout } = await kenosis('check', file1, '--report', file('check.json'));
    expect(code).toBe(3);
    expect(stdout).toContain('speck: 1 small island of up to 6 px stand alone. At 10,12 (3 x 2).');
    expect(stdout).toContain('pinhole: 1 small hole');
    const report = JSON.parse(await readFile(file('check.json'), 'utf8')) as {
      findings: { kind: string; places: object[] }[];
    };
    expect(report.findings.map(({ kind }) => kind)).toEqual(['speck', 'pinhole']);
    expect(report.findings[0]!.places).toEqual([{ x: 10, y: 12, width: 3, height: 2, pixels: 6 }]);
    const ignoring = await kenosis('check', file1, '--ignore', 'speck', '--ignore', 'pinhole');
    expect(ignoring).toEqual({ code: 0, stdout: '', stderr: '' });
  });

  it('looks for a halo toward the background it is told', async () => {
    const green = spoiled(cutDisc(120), [60, 30, 34, 60, [70, 140, 60, 255]]);
    const glowing = paint(120, 120, (x, y) => {
      const [r, g, b, a] = green.data.subarray((y * 120 + x) * 4);
      const far = Math.hypot(x - 59.5, y - 59.5);
      return far > 27 ? [90, 120, 50, far > 30 ? 0 : 255] : [r!, g!, b!, a === 0 ? 0 : 255];
    });
    const picture = await put(folder, 'green.png', await asSharp(glowing).png().toBuffer());
    const kinds = async (...options: string[]) =>
      (await kenosis('check', picture, '--ignore', 'rough-edge', '--ignore', 'hidden-color', ...options))
        .stdout;
    expect(await kinds('--background', '#00ff20')).toContain('halo:');
    expect(await kinds('--background', '#0000ff')).not.toContain('halo:');
  });

  it('refuses what is no picture, and says so', async () => {
    const text = await put(folder, 'note.png', Buffer.from('not a picture'));
    const { code, stderr } = await kenosis('check', text);
    expect(code).toBe(1);
    expect(stderr).toContain('note.png');
    expect((await kenosis('check', file('nowhere.png'))).code).toBe(1);
  });
});

describe('what is told of a picture', () => {
  /** A red ring on white with a hole, which could be paint as well. */
  const ring = (x: number, y: number) => Math.abs(Math.hypot(x - 100, y - 80) - 50) < 12;
  const alphaIn = async (name: string, x: number, y: number) => {
    const { data, info } = await sharp(file(name)).raw().toBuffer({ resolveWithObject: true });
    return data[(y * info.width + x) * 4 + 3];
  };
  let pictured: string;
  let marked: string;

  beforeAll(async () => {
    const picture = paint(200, 160, (x, y) => (ring(x, y) ? [200, 30, 40] : [255, 255, 255]));
    pictured = await put(folder, 'ring.png', await asSharp(picture).png().toBuffer());
    const stays = [{ radiusPx: 2, points: [[58, 80]] }];
    const goes = [
      {
        radiusPx: 3,
        points: [
          [5, 5],
          [195, 5],
          [195, 155],
          [5, 155],
          [5, 5],
        ],
      },
      {
        radiusPx: 3,
        points: [
          [90, 80],
          [110, 80],
        ],
      },
    ];
    marked = await put(folder, 'marks.json', Buffer.from(JSON.stringify({ stays, goes })));
  });

  it('keeps or clears all enclosed areas, and says how sure it was', async () => {
    const cut = (name: string, ...more: string[]) => kenosis('cut', pictured, '-o', file(name), ...more);
    expect((await cut('keep.png', '--enclosed', 'keep')).code).toBe(0);
    expect(await alphaIn('keep.png', 100, 80)).toBe(255);
    expect((await cut('clear.png', '--enclosed', 'clear', '--report', file('ring.json'))).code).toBe(0);
    expect(await alphaIn('clear.png', 100, 80)).toBe(0);
    const report = JSON.parse(await readFile(file('ring.json'), 'utf8')) as { decision: object };
    expect(report.decision).toEqual({ sure: true, areasCleared: 1, areasKept: 0, areasNotSure: 0 });
  });

  it('writes nothing where it is not sure and that was asked for', async () => {
    for (const more of [['--sure'], ['--enclosed', 'ask']]) {
      const { code, stderr } = await kenosis('cut', pictured, '-o', file('unsure.png'), ...more);
      expect(code).toBe(4);
      expect(stderr).toMatch(/Not sure of 1 area .*Nothing was written.*--enclosed keep/s);
      expect(existsSync(file('unsure.png'))).toBe(false);
    }
  });

  it('obeys marks, and names what is wrong with a file of them', async () => {
    const cut = (marks: string, name: string) =>
      kenosis('cut', pictured, '-o', file(name), '--marks', marks, '--save-cut', file(`${name}.json`));
    expect((await cut(marked, 'marked.png')).code).toBe(0);
    expect([await alphaIn('marked.png', 58, 80), await alphaIn('marked.png', 100, 80)]).toEqual([255, 0]);
    const saved = parseCutText(await readFile(file('marked.png.json'), 'utf8'));
    expect(saved.clear.marks.map(({ goes }) => goes)).toEqual([false, true, true]);
    const wrong = async (text: string) => {
      const { code, stderr } = await cut(await put(folder, 'wrong.json', Buffer.from(text)), 'wrong.png');
      expect(code).toBe(2);
      return stderr;
    };
    expect(await wrong('{"stays": [}')).toMatch(/--marks ".*wrong\.json": this is no JSON/);
    expect(await wrong('{"goes": [{"radiusPx": 0, "points": [[1, 2]]}]}')).toMatch(/goes\.0\.radiusPx/);
    expect(await wrong('{"keeps": []}')).toMatch(/keeps/);
    expect(existsSync(file('wrong.png'))).toBe(false);
  });
});
