import { z } from 'zod';
import { badArgument, isKenosisError } from '../errors';
import { MAX_PIXELS } from '../intake-limits';
import { headBytes, joinedBytes, readHead } from '../numeric/head-bytes';
import { Fact } from '../scene/memo';
import { sceneAt, type Scene } from '../scene/scene';
import { checkerOf } from '../stages/clear/backdrop';
import { AREA_REASONS } from './area';
import { BACKGROUND, colorsAround, FAR, MIXED_TO_BORDER, type Carried } from './carry';
import type { Decision } from './decision';
import { BESIDE_TO_BORDER } from './disputes';
import { planesBy } from './pattern';
import { inEvenRows } from './sweep';
import { FULL, type Smooth } from './smooth';

/**
 * What was decided of an original, written down by what it was decided for, so that a later program changes nothing of it. Only
 * the judgment is written: what goes, and how surely. Colors are read from the picture again.
 */
export class KeptDecisions {
  private readonly all = new Map<string, Uint8Array>();
  private taken: string[] = [];

  /** `bytes` are what `pack` gave; null where nothing is kept yet. Throws `bad-argument` where they are not. */
  constructor(bytes: Uint8Array | null = null) {
    if (bytes) this.add(bytes);
  }

  /** The decision on a scene for a key; null where no backdrop was seen, undefined where none is kept that fits it. */
  of(scene: Scene, key: string): Decision | null | undefined {
    const bytes = this.all.get(key);
    try {
      return bytes && unpackDecision(bytes, scene);
    } catch (error) {
      if (isKenosisError(error)) return undefined;
      throw error;
    }
  }

  /** Whether anything is kept for what was told, as JSON, however the original is prepared. */
  isTold(told: string): boolean {
    return [...this.all.keys()].some((key) => key.endsWith(` ${told}`));
  }

  /** Notes a decision that was taken now. */
  take(key: string, decision: Decision | null): void {
    this.all.set(key, packDecision(decision));
    this.taken.push(key);
  }

  /** What was taken since this was asked last; null where nothing was. */
  packTaken(): Uint8Array | null {
    const { taken } = this;
    this.taken = [];
    return taken.length > 0 ? packed(taken.map((key) => [key, this.all.get(key)!])) : null;
  }

  /** The newest of all, so many at most. */
  pack(most: number): Uint8Array {
    return packed([...this.all].slice(-most));
  }

  /** Adds what is packed, but for keys that are there: what was decided stays. Says whether there was anything to add. */
  add(bytes: Uint8Array): boolean {
    const before = this.all.size;
    const { head, end } = readHead(bytes, 'kept decisions');
    let at = end;
    if (!Array.isArray(head)) throw badArgument('kept decisions', 'a list of them', typeof head);
    for (const [key, length] of head as [string, number][]) {
      if (!(length >= 0 && at + length <= bytes.length))
        throw badArgument('kept decisions', 'all bytes of each', 'fewer');
      if (!this.all.has(key)) this.all.set(key, bytes.slice(at, at + length));
      at += length;
    }
    return this.all.size > before;
  }
}

/** Decisions by their keys: a list of the keys with how many bytes each has, then the bytes. */
function packed(entries: readonly (readonly [string, Uint8Array])[]): Uint8Array {
  const list = entries.map(([key, { length }]) => [key, length]);
  return joinedBytes([headBytes(list), ...entries.map(([, bytes]) => bytes)]);
}

/** What is kept of the original of a scene, and how that was prepared. */
const KEPT = new Fact((): { decisions: KeptDecisions | null; prepared: string } => ({
  decisions: null,
  prepared: '',
}));

/** From now on decisions on a scene are those that are kept, and what is decided anew is noted there. */
export function keepingDecisions(scene: Scene, decisions: KeptDecisions | null, prepared: string): void {
  Object.assign(scene.memo.of(KEPT), { decisions, prepared });
}

/** The decision that is kept of a scene for what was told, as JSON; undefined where none is. */
export function keptDecision(scene: Scene, told: string): Decision | null | undefined {
  const { decisions, prepared } = scene.memo.of(KEPT);
  return decisions?.of(scene, keyOf(prepared, told));
}

/** Notes a decision that was taken now, where any are kept. */
export function takeDecision(scene: Scene, told: string, decision: Decision | null): void {
  const { decisions, prepared } = scene.memo.of(KEPT);
  decisions?.take(keyOf(prepared, told), decision);
}

const keyOf = (prepared: string, told: string) => `${prepared} ${told}`;

const length = z.int().min(1).max(MAX_PIXELS);
const place = z.int().min(0);
const share = z.number().min(0).max(1);

/** What is written of a decision but for its planes. */
const headSchema = z.strictObject({
  width: length,
  height: length,
  reduction: z.int().min(0).max(30),
  clean: z.boolean(),
  drawnOnWhite: z.boolean(),
  colored: z.boolean(),
  areas: z.array(
    z.strictObject({
      x: place,
      y: place,
      pixels: place,
      box: z.tuple([place, place, place, place]),
      dots: z.array(z.tuple([place, place])),
      goes: z.boolean(),
      why: z.enum(AREA_REASONS),
      sure: z.boolean(),
    }),
  ),
  frameShare: share,
  byMarks: z.boolean(),
  shaded: z.boolean(),
  evened: z.boolean(),
  tolerance: z.number().positive(),
  isPattern: z.boolean(),
  /** The terms of the backdrop, for each channel. */
  terms: z.array(z.array(z.number()).length(FULL)).length(3),
});

type Head = z.infer<typeof headSchema>;

/** A pixel's zone, how near a border is (see `NEARNESS`), and whether it is firm, doubtful and between, in one byte. */
const ZONES = FAR + 1;

/** Distances to a border that stand for all others: within what may be mixed, beside it, and beyond. */
const NEARNESS = [0, BESIDE_TO_BORDER, 255] as const;

const nearnessOf = (toBorder: number) =>
  toBorder <= MIXED_TO_BORDER ? 0 : toBorder <= BESIDE_TO_BORDER ? 1 : 2;

/** Runs of equal pixels: their byte, and how many there are in groups of seven bits, the lowest first. */
function packDecision(decision: Decision | null): Uint8Array {
  if (!decision) return headBytes(null);
  const { goes, firm, doubtful, toBorder, carried, backdrop, ...known } = decision;
  const { zones, between, tolerance, checker } = carried;
  const terms = backdrop.map((own) => Array.from(own));
  const head: Record<keyof Head, unknown> = { ...known, tolerance, isPattern: checker !== null, terms };
  const runs: number[] = [];
  let last = -1;
  let count = 0;
  const write = () => {
    if (count === 0) return;
    runs.push(last);
    for (; count >= 128; count >>= 7) runs.push((count & 127) | 128);
    runs.push(count);
  };
  for (let i = 0; i < goes.length; i++) {
    const flags = firm[i]! + 2 * doubtful[i]! + 4 * between[i]!;
    const byte = zones[i]! + ZONES * (nearnessOf(toBorder[i]!) + NEARNESS.length * flags);
    if (byte === last) count++;
    else {
      write();
      last = byte;
      count = 1;
    }
  }
  write();
  return joinedBytes([headBytes(head), Uint8Array.from(runs)]);
}

/** The decision that was written down; undefined where it is not of that picture. */
function unpackDecision(bytes: Uint8Array, whole: Scene): Decision | null | undefined {
  const { head: read, end } = readHead(bytes, 'kept decision');
  if (read === null) return null;
  const checked = headSchema.safeParse(read);
  if (!checked.success) return undefined;
  const { tolerance, isPattern, terms, ...head } = checked.data;
  const { width, height, reduction } = head;
  const scene = sceneAt(whole, reduction);
  const checker = isPattern ? checkerOf(scene) : null;
  if (scene.raster.width !== width || scene.raster.height !== height || isPattern !== (checker !== null))
    return undefined;
  const plane = () => new Uint8Array(width * height);
  const [goes, firm, doubtful, toBorder, between, zones, mask] = Array.from({ length: 7 }, plane) as [
    Uint8Array,
    Uint8Array,
    Uint8Array,
    Uint8Array,
    Uint8Array,
    Uint8Array,
    Uint8Array,
  ];
  let i = 0;
  for (let at = end; at < bytes.length;) {
    const byte = bytes[at++]!;
    let count = 0;
    for (let shift = 0, group = 128; group >= 128; shift += 7) {
      group = bytes[at++]!;
      count += (group & 127) << shift;
    }
    const zone = byte % ZONES;
    const flags = Math.floor(byte / ZONES / NEARNESS.length);
    const to = i + count;
    if (to > goes.length) return undefined;
    zones.fill(zone, i, to);
    toBorder.fill(NEARNESS[Math.floor(byte / ZONES) % NEARNESS.length]!, i, to);
    if (zone >= BACKGROUND) {
      goes.fill(1, i, to);
      mask.fill(255, i, to);
    }
    firm.fill(flags & 1, i, to);
    doubtful.fill((flags >> 1) & 1, i, to);
    between.fill(flags >> 2, i, to);
    i = to;
  }
  if (i !== goes.length) return undefined;
  const backdrop = terms.map((own) => Float64Array.from(own)) as unknown as Smooth;
  const seen = planesBy(scene, checker);
  const planes = head.evened ? inEvenRows(seen) : seen;
  if (!planes) return undefined;
  const lab = colorsAround(planes, backdrop, toBorder, goes);
  const carried: Carried = { width, height, reduction, zones, mask, lab, checker, between, tolerance };
  return { ...head, goes, firm, doubtful, toBorder, backdrop, carried };
}
