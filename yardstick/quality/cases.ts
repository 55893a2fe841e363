import sharp from 'sharp';
import { bytesOf } from '../../src/codec/picture-library';
import { seededRandom } from '../../src/core/numeric/random';
import { createRaster, type Raster } from '../../src/core/raster/raster';
import { addGrain, asPicture, drawSubject, layOn, litBy } from '../../demo/picture';
import { outOfFocus, reflecting } from './optics';
import { between, eyes, hairlines, logo, product, subjectColor, tassel } from './draw';
import type { Backdrop } from '../../demo/picture';
import { HEIGHT, WIDTH, type Color, type Parts, type Saving } from './parts';
import { SHEETS, signedSheet } from './sheets';

export const KINDS = [
  'logo white',
  'logo black',
  'logo color',
  'flat',
  'shadow',
  'gradient',
  'pattern',
  'fibre',
  'signature',
  'soft edge',
  'spill',
  'hairline',
] as const;
export type Kind = (typeof KINDS)[number];

/** A picture whose cutout is known. */
export interface Case {
  readonly name: string;
  readonly kind: Kind;
  /** The subject alone: true alpha and true color. */
  readonly truth: Raster;
  readonly picture: Raster;
}

type Random = () => number;
/** All cases of one seed, or those of one kind. The same seed gives the same cases; no case is made by hand. */
export async function drawCases(seed: number, only?: string): Promise<Case[]> {
  const cases: Case[] = [];
  const counts: Record<Kind, number> = {
    'logo white': 7,
    'logo black': 4,
    'logo color': 6,
    flat: 7,
    shadow: 7,
    gradient: 6,
    pattern: 7,
    fibre: 4,
    signature: SHEETS.length,
    'soft edge': 5,
    spill: 5,
    hairline: 5,
  };
  for (const kind of KINDS) {
    if (only && kind !== only) continue;
    for (let n = 0; n < counts[kind]; n++) {
      const random = seededRandom(seed * 1000 + KINDS.indexOf(kind) * 50 + n);
      cases.push(await drawCase(kind, n, random));
    }
  }
  return cases;
}

async function drawCase(kind: Kind, n: number, random: Random): Promise<Case> {
  const { subject, backdrop, saving, focus, reflection, light } = partsOf(kind, n, random);
  const drawn = await drawSubject(subject, WIDTH, HEIGHT);
  const truth = focus ? outOfFocus(drawn, focus) : drawn;
  const shown = reflection ? reflecting(truth, backdrop, reflection) : light ? litBy(truth, light) : truth;
  const picture = await save(layOn(shown, backdrop), saving, random);
  return { name: `${kind} ${n + 1}`, kind, truth, picture };
}

function partsOf(kind: Kind, n: number, random: Random): Parts {
  const jpeg = (): Saving => ({
    noise: 0,
    jpegQuality: n % 3 === 0 ? null : Math.round(between(random, 70, 95)),
  });
  const photo = (): Saving => ({
    noise: between(random, 0.8, 2.6),
    jpegQuality: n % 3 === 0 ? null : Math.round(between(random, 78, 95)),
  });
  switch (kind) {
    case 'logo white':
    case 'logo black': {
      const color: Color =
        kind === 'logo white'
          ? n % 3 === 2
            ? [247, 246, 242]
            : [255, 255, 255]
          : [n % 2 ? 12 : 0, n % 2 ? 12 : 0, n % 2 ? 14 : 0];
      const keep = kind === 'logo white' && n % 3 === 2;
      const subject = keep
        ? eyes(WIDTH, HEIGHT, subjectColor(random, [color]))
        : logo(random, WIDTH, HEIGHT, [color]);
      return { subject, backdrop: () => color, saving: jpeg() };
    }
    case 'logo color': {
      const color: Color = [between(random, 40, 240), between(random, 40, 240), between(random, 40, 240)];
      return { subject: logo(random, WIDTH, HEIGHT, [color]), backdrop: () => color, saving: jpeg() };
    }
    case 'flat': {
      const color = paleOrColored(random, n);
      return {
        subject: product(random, WIDTH, HEIGHT, [color]),
        backdrop: vignette(color, between(random, 0, 0.1)),
        saving: photo(),
      };
    }
    case 'shadow': {
      const color = paleOrColored(random, n);
      const away = [color, color.map((value) => value * 0.6)];
      return {
        subject: product(random, WIDTH, HEIGHT, away),
        backdrop: shadowed(() => color, random),
        saving: photo(),
      };
    }
    case 'gradient': {
      const { backdrop, ends } = gradient(random);
      return { subject: product(random, WIDTH, HEIGHT, ends), backdrop, saving: photo() };
    }
    case 'pattern': {
      const { backdrop, tones } = checkerboard(random, n);
      const away = tones.map((tone) => [tone, tone, tone]);
      const subject =
        n % 2 ? product(random, WIDTH, HEIGHT, away) : eyes(WIDTH, HEIGHT, subjectColor(random, away));
      return {
        subject,
        backdrop: n % 3 === 2 ? shadowed(backdrop, random) : backdrop,
        saving: { noise: 0, jpegQuality: Math.round(between(random, 75, 95)) },
      };
    }
    case 'fibre': {
      const { backdrop, ends } = n % 2 ? gradient(random) : flatBackdrop(paleOrColored(random, n));
      return { subject: tassel(random, WIDTH, HEIGHT, ends), backdrop, saving: photo() };
    }
    case 'signature':
      return signedSheet(SHEETS[n]!, random);
    case 'soft edge': {
      const { backdrop, ends } = n % 2 ? gradient(random) : flatBackdrop(paleOrColored(random, n));
      const subject = product(random, WIDTH, HEIGHT, ends);
      return { subject, backdrop, saving: photo(), focus: between(random, 0.9, 2.4) };
    }
    case 'spill': {
      const color = saturated(random);
      const subject = product(random, WIDTH, HEIGHT, [color]);
      return {
        subject,
        backdrop: vignette(color, 0.05),
        saving: photo(),
        reflection: between(random, 0.2, 0.45),
      };
    }
    case 'hairline': {
      const color = paleOrColored(random, n);
      return { subject: hairlines(random, WIDTH, HEIGHT, [color]), backdrop: () => color, saving: jpeg() };
    }
  }
}

function paleOrColored(random: Random, n: number): Color {
  if (n % 3 === 1) return [between(random, 60, 200), between(random, 60, 200), between(random, 60, 200)];
  const tone = between(random, 225, 250);
  return [tone, tone - between(random, 0, 6), tone - between(random, 0, 12)];
}

/** A backdrop as they are used to be cleared: green, blue, strongly colored. */
function saturated(random: Random): Color {
  const strong = Math.floor(random() * 3);
  const channel = (c: number) => (c === strong ? between(random, 150, 220) : between(random, 20, 90));
  return [channel(0), channel(1), channel(2)];
}

function flatBackdrop(color: Color): { backdrop: Backdrop; ends: Color[] } {
  return { backdrop: () => color, ends: [color] };
}

function vignette(color: Color, strength: number): Backdrop {
  return (x, y) => {
    const far = ((x / WIDTH - 0.5) ** 2 + (y / HEIGHT - 0.5) ** 2) * 2;
    return scale(color, 1 - strength * far);
  };
}

function gradient(random: Random): { backdrop: Backdrop; ends: Color[] } {
  const pick = (): Color => [between(random, 70, 250), between(random, 70, 250), between(random, 70, 250)];
  const one = pick();
  const two = one.map((value) =>
    Math.min(252, Math.max(40, value + between(random, -90, 90))),
  ) as unknown as Color;
  const angle = random() * Math.PI * 2;
  const backdrop: Backdrop = (x, y) => {
    const along = ((x / WIDTH - 0.5) * Math.cos(angle) + (y / HEIGHT - 0.5) * Math.sin(angle)) / 1.42 + 0.5;
    return one.map((value, c) => value + (two[c]! - value) * along) as unknown as Color;
  };
  return { backdrop, ends: [one, two] };
}

/** A soft contact shadow below the subject. */
function shadowed(backdrop: Backdrop, random: Random): Backdrop {
  const strength = between(random, 0.25, 0.5);
  const cx = WIDTH * between(random, 0.46, 0.54);
  const cy = HEIGHT * between(random, 0.76, 0.84);
  const rx = WIDTH * between(random, 0.16, 0.26);
  const ry = HEIGHT * between(random, 0.05, 0.1);
  return (x, y) =>
    scale(backdrop(x, y), 1 - strength * Math.exp(-(((x - cx) / rx) ** 2) - ((y - cy) / ry) ** 2));
}

/** Two tones in cells of a non-integer size, as a resized screenshot has them: averaged over pixels and a bit blurred. */
function checkerboard(random: Random, n: number): { backdrop: Backdrop; tones: number[] } {
  const cell = between(random, 7, 24);
  const tones = [
    [255, 204],
    [255, 229],
    [102, 153],
    [242, 217],
  ][n % 4]!;
  const px = random() * cell * 2;
  const py = random() * cell * 2;
  const soft = between(random, 0.7, 1.3);
  const wave = (at: number) => {
    const phase = (((at % (2 * cell)) + 2 * cell) % (2 * cell)) / cell; // 0 to 2, rising at 0, falling at 1
    const near = phase < 0.5 ? phase : phase < 1.5 ? 1 - phase : phase - 2;
    return Math.min(1, Math.max(-1, (2 * near * cell) / soft));
  };
  const backdrop: Backdrop = (x, y) => {
    const mix = 0.5 + 0.5 * wave(x + 0.5 - px) * wave(y + 0.5 - py);
    const tone = tones[1]! + (tones[0]! - tones[1]!) * mix;
    return [tone, tone, tone];
  };
  return { backdrop, tones };
}

function scale(color: Color | readonly number[], factor: number): Color {
  return [color[0] * factor, color[1] * factor, color[2] * factor];
}

async function save(picture: Raster, saving: Saving, random: Random): Promise<Raster> {
  if (saving.noise > 0) addGrain(picture, saving.noise, random);
  if (saving.jpegQuality === null) return picture;
  const jpeg = await asPicture(picture)
    .removeAlpha()
    .jpeg({ quality: saving.jpegQuality, chromaSubsampling: '4:2:0' })
    .toBuffer();
  const decoded = await sharp(jpeg).ensureAlpha().raw().toBuffer();
  return createRaster(picture.width, picture.height, bytesOf(decoded));
}
