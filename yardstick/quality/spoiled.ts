import { checkFile } from '../../src/core/findings/check-file';
import { renderAndCheck } from '../../src/core/findings/check-cut';
import type { Finding } from '../../src/core/findings/finding';
import type { Cut, FindingKind } from '../../src/core/cut/schema';
import type { Sample } from '../../src/core/stages/clear/settings';
import type { Area } from '../../src/core/decision/area';
import { newSample } from '../../src/core/cut/new-sample';
import { seededRandom } from '../../src/core/numeric/random';
import { chamferDistances } from '../../src/core/numeric/chamfer-distance';
import type { Rgb } from '../../src/core/stages/clear/sample-color';
import { createRaster, type Raster } from '../../src/core/raster/raster';
import { removeHiddenColor } from '../../src/core/stages/deliver/finish';
import { between } from './draw';
import type { Case } from './cases';
import type { Measures } from './measures';

/** A case with what the proposal made of it. */
export interface Solved {
  readonly of: Case;
  readonly cut: Cut;
  /** What the proposal decided about enclosed areas. */
  readonly areas: readonly Area[];
  readonly cutout: Raster;
  readonly measures: Measures;
}

/** How many faults of each kind are planted. */
const FAULTS: readonly (readonly [FindingKind, number])[] = [
  ['pocket', 9],
  ['speck', 10],
  ['residue', 10],
  ['pinhole', 10],
  ['halo', 9],
  ['rough-edge', 9],
  ['frame', 9],
  ['tolerance', 8],
  ['idle-sample', 8],
  ['print-size', 8],
  ['hidden-color', 10],
];

/** Clean cutouts that are looked at: so many true ones as finished files, and as many proposed cuts. */
const CLEAN_FILES = 20;
const CLEAN_CUTS = 20;

/** A planted fault, where it lies, and whether it was found there; or a clean cutout with what was found in it. */
export interface Spoiled {
  readonly name: string;
  readonly planted: FindingKind | null;
  readonly found: boolean;
  readonly findings: readonly Finding[];
}

/** A planted fault: the findings of the spoiled cutout, and the place where one of them must be. */
interface Planted {
  readonly findings: readonly Finding[];
  readonly at: { readonly x: number; readonly y: number } | null;
}

/** Plants faults in clean cutouts, each in one of its own, and lets the checks look. */
export function checkSpoiled(solved: readonly Solved[], seed: number): Spoiled[] {
  const random = seededRandom(seed * 7919 + 17);
  const cuts = solved.filter(isCleanCut);
  const files = solved.filter(({ of }) => of.kind !== 'fibre');
  const out: Spoiled[] = [];
  for (const { of } of spreadOver(solved, CLEAN_FILES)) {
    const findings = checkFile(finishedFile(of), backgroundsOf(of));
    out.push({ name: `clean file, ${of.name}`, planted: null, found: findings.length > 0, findings });
  }
  for (const { of, cut } of spreadOver(cuts, CLEAN_CUTS)) {
    const { findings } = renderAndCheck(of.picture, cut).checked;
    out.push({ name: `clean cut, ${of.name}`, planted: null, found: findings.length > 0, findings });
  }
  for (const [kind, count] of FAULTS) {
    const hosts = hostsOf(kind, cuts, files);
    for (let n = 0; n < count; n++) {
      const host = hosts[Math.floor((n * hosts.length) / count)]!;
      const { findings, at } = plant(kind, host, random);
      const found = findings.some(
        (finding) =>
          finding.kind === kind && (at === null || finding.places.some((place) => holds(place, at))),
      );
      out.push({ name: `${kind} ${n + 1} in ${host.of.name}`, planted: kind, found, findings });
    }
  }
  return out;
}

/** Cases of which the proposal left nothing behind, lost nothing, and left hardly any old background in the edge. */
function isCleanCut({ measures, cut }: Solved): boolean {
  return (
    measures.leftover === 0 &&
    measures.loss < 0.05 &&
    measures.edgeColor < 1.1 &&
    (cut.clear.samples.length > 0 || cut.clear.ink !== null)
  );
}

function hostsOf(kind: FindingKind, cuts: readonly Solved[], files: readonly Solved[]): readonly Solved[] {
  switch (kind) {
    case 'pocket':
      return cuts.filter(({ areas }) => areas.some(({ goes }) => goes));
    case 'tolerance':
    case 'idle-sample':
      return cuts.filter(({ cut }) => cut.clear.samples.length > 0);
    case 'print-size':
      return cuts;
    case 'pinhole':
      return files.filter(({ of }) => deepestIn(of.truth).deep >= 8);
    case 'halo':
    case 'rough-edge':
      return files.filter(({ of }) => deepestIn(of.truth).deep >= 8 && of.kind !== 'soft edge');
    case 'hidden-color':
      return files.filter(({ of }) => of.picture.data[0]! + of.picture.data[1]! + of.picture.data[2]! > 0);
    default:
      return files;
  }
}

/** The samples of a cut, each clearing by its own tolerance. */
function byTolerance({ clear }: Cut): Sample[] {
  return clear.samples.map((sample) => ({ ...sample, rule: 'tolerance' }));
}

function plant(kind: FindingKind, { of, cut, areas }: Solved, random: () => number): Planted {
  const file = finishedFile(of);
  const backgrounds = backgroundsOf(of);
  const checked = (at: Planted['at']): Planted => ({ findings: checkFile(file, backgrounds), at });
  const withCut = (changed: Cut, at: Planted['at']): Planted => ({
    findings: renderAndCheck(of.picture, changed).checked.findings,
    at,
  });
  switch (kind) {
    case 'pocket': {
      // Tolerance alone reaches no pocket.
      const samples = byTolerance(cut);
      return withCut(
        { ...cut, clear: { ...cut.clear, samples } },
        areas.find(({ goes }) => goes)!,
      );
    }
    case 'tolerance': {
      const [sample, ...others] = byTolerance(cut);
      // Too small a tolerance leaves something only where the background has grain.
      const tolerance = of.kind.startsWith('logo') || random() < 0.5 ? 97 : 0.4;
      const changed = { ...cut.clear, samples: [{ ...sample!, tolerance }, ...others] };
      return withCut({ ...cut, clear: changed }, sample!);
    }
    case 'idle-sample': {
      const [sample] = cut.clear.samples;
      const [x, y] = [Math.min(of.truth.width - 4, sample!.x + 3), sample!.y];
      const idle = { ...sample!, ...newSample('idle', x, y), tolerance: Math.max(1, sample!.tolerance / 2) };
      return withCut({ ...cut, clear: { ...cut.clear, samples: [...cut.clear.samples, idle] } }, { x, y });
    }
    case 'print-size': {
      const print = { widthMm: Math.ceil(between(random, 60, 300)), leastDpi: 300 };
      return withCut({ ...cut, deliver: { ...cut.deliver, print } }, null);
    }
    case 'speck': {
      const at = farPlace(file, 14, random);
      blot(file, at, between(random, 0.7, 1.6), between(random, 90, 255), inkOf(file));
      return checked(at);
    }
    case 'residue': {
      const at = farPlace(file, 26, random);
      veil(file, at, random);
      return checked(at);
    }
    case 'pinhole': {
      const at = deepestIn(file);
      blot(file, at, between(random, 0.8, 1.8), -255, null);
      return checked(at);
    }
    case 'hidden-color': {
      for (let i = 0; i < file.data.length; i += 4)
        if (file.data[i + 3] === 0) file.data.set(of.picture.data.subarray(i, i + 3), i);
      return checked(null);
    }
    case 'frame':
      return checked(shiftToFrame(file, Math.floor(random() * 4)));
    case 'halo': {
      // The colors of the picture under the true alpha: nothing was taken out of the mixture.
      for (let i = 0; i < file.data.length; i += 4)
        if (file.data[i + 3]! > 0) file.data.set(of.picture.data.subarray(i, i + 3), i);
      return checked(null);
    }
    case 'rough-edge': {
      for (let i = 3; i < file.data.length; i += 4) file.data[i] = file.data[i]! >= 128 ? 255 : 0;
      return checked(null);
    }
    default:
      throw new Error(`${kind} is not planted`);
  }
}

/** The true cutout as a file without hidden color. */
function finishedFile({ truth }: Case): Raster {
  const file = createRaster(truth.width, truth.height, truth.data.slice());
  removeHiddenColor(file, 0, truth.width * truth.height);
  return file;
}

/** The colors behind a case's subject: those of its corner, of which a pattern has more than one. */
function backgroundsOf({ picture: { width, data } }: Case): Rgb[] {
  const tones: Rgb[] = [];
  for (let x = 0; x < 48; x++) {
    const p = (2 * width + x) * 4;
    const color = { red: data[p]!, green: data[p + 1]!, blue: data[p + 2]! };
    const isNew = tones.every(
      ({ red, green, blue }) =>
        Math.abs(red - color.red) + Math.abs(green - color.green) + Math.abs(blue - color.blue) > 60,
    );
    if (isNew) tones.push(color);
  }
  return tones;
}

/** So many of a list, spread evenly over it. */
function spreadOver<T>(all: readonly T[], count: number): T[] {
  return Array.from(
    { length: Math.min(count, all.length) },
    (_, k) => all[Math.floor((k * all.length) / count)]!,
  );
}

/** The opaque pixel that lies deepest in the subject. */
function deepestIn({ width, height, data }: Raster): { x: number; y: number; deep: number } {
  const solid = Uint8Array.from({ length: width * height }, (_, i) => (data[i * 4 + 3] === 255 ? 1 : 0));
  const far = new Uint8Array(solid.length);
  chamferDistances(solid, 1, width, height, far);
  let best = 0;
  for (let i = 0; i < far.length; i++) if (far[i]! > far[best]!) best = i;
  return { x: best % width, y: Math.floor(best / width), deep: far[best]! / 3 };
}

/** A place with nothing of the subject within so many pixels, nor the frame. */
function farPlace(
  { width, height, data }: Raster,
  px: number,
  random: () => number,
): { x: number; y: number } {
  const empty = Uint8Array.from({ length: width * height }, (_, i) => (data[i * 4 + 3] === 0 ? 1 : 0));
  const far = new Uint8Array(empty.length);
  chamferDistances(empty, 1, width, height, far);
  let best = { x: 0, y: 0, far: -1 };
  for (let tries = 0; tries < 4000; tries++) {
    const x = Math.floor(between(random, px, width - px));
    const y = Math.floor(between(random, px, height - px));
    const there = far[y * width + x]! / 3;
    if (there >= px) return { x, y };
    if (there > best.far) best = { x, y, far: there };
  }
  return best;
}

function inkOf(file: Raster): readonly [number, number, number] {
  const { x, y } = deepestIn(file);
  const p = (y * file.width + x) * 4;
  return [file.data[p]!, file.data[p + 1]!, file.data[p + 2]!];
}

/** Adds an anti-aliased disc of alpha, or takes one away. */
function blot(
  file: Raster,
  at: { x: number; y: number },
  radius: number,
  alpha: number,
  color: readonly [number, number, number] | null,
): void {
  for (let y = at.y - 4; y <= at.y + 4; y++)
    for (let x = at.x - 4; x <= at.x + 4; x++) {
      if (x < 0 || y < 0 || x >= file.width || y >= file.height) continue;
      const cover = Math.min(1, Math.max(0, radius + 0.5 - Math.hypot(x - at.x, y - at.y)));
      if (cover === 0) continue;
      const p = (y * file.width + x) * 4;
      if (color) file.data.set(color, p);
      file.data[p + 3] = Math.min(255, Math.max(0, Math.round(file.data[p + 3]! + cover * alpha)));
    }
}

/** A veil of alpha 1 to 8, or a smudge up to 30, in the colors of paper. */
function veil(file: Raster, at: { x: number; y: number }, random: () => number): void {
  const broad = random() < 0.6;
  const [wide, high] = broad ? [between(random, 14, 60), between(random, 12, 40)] : [5, 4];
  const most = broad ? between(random, 1, 8) : between(random, 12, 30);
  for (let y = 0; y < file.height; y++)
    for (let x = 0; x < file.width; x++) {
      const p = (y * file.width + x) * 4;
      const fall = 1 - ((x - at.x) / wide) ** 2 - ((y - at.y) / high) ** 2;
      if (fall <= 0 || file.data[p + 3] !== 0) continue;
      file.data.set([250, 249, 246], p);
      file.data[p + 3] = Math.max(1, Math.round(most * Math.sqrt(fall)));
    }
}

/** Moves the subject against one side of the frame, so that a tenth of it is cut off. Returns a place where it touches. */
function shiftToFrame(file: Raster, side: number): { x: number; y: number } | null {
  const { width, height } = file;
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let i = 0; i < width * height; i++) {
    if (file.data[i * 4 + 3]! < 128) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  const [w, h] = [right - left, bottom - top];
  const dx =
    side === 0 ? -left - Math.round(w / 10) : side === 1 ? width - 1 - right + Math.round(w / 10) : 0;
  const dy =
    side === 2 ? -top - Math.round(h / 10) : side === 3 ? height - 1 - bottom + Math.round(h / 10) : 0;
  const before = file.data.slice();
  file.data.fill(0);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x - dx, y - dy];
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const from = (v * width + u) * 4;
      file.data.set(before.subarray(from, from + 4), (y * width + x) * 4);
    }
  return null;
}

function holds(
  { x, y, width, height }: { x: number; y: number; width: number; height: number },
  at: { x: number; y: number },
): boolean {
  return at.x >= x - 2 && at.y >= y - 2 && at.x < x + width + 2 && at.y < y + height + 2;
}
