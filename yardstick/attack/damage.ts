import fc from 'fast-check';
import type { BasePicture } from './pictures';

/** One thing that is done to a file; places are shares of its length. */
export type Damage =
  | { readonly kind: 'truncate'; readonly at: number }
  | { readonly kind: 'close'; readonly at: number }
  | { readonly kind: 'flip'; readonly at: number; readonly bits: number }
  | { readonly kind: 'zero'; readonly at: number; readonly length: number }
  | { readonly kind: 'insert'; readonly at: number; readonly bytes: readonly number[] }
  | { readonly kind: 'remove'; readonly at: number; readonly length: number }
  | { readonly kind: 'double'; readonly at: number; readonly length: number }
  | { readonly kind: 'splice'; readonly at: number; readonly other: number }
  | { readonly kind: 'swap'; readonly one: number; readonly other: number }
  | { readonly kind: 'lie'; readonly at: number; readonly value: number };

/** A base picture and what is done to it. */
export interface DamagedCase {
  readonly base: number;
  readonly damages: readonly Damage[];
}

/** In ten-thousandths, all alike likely: floating point would favor what is next to nothing. */
const share = (most = 10_000) => fc.integer({ min: 0, max: most }).map((part) => part / 10_000);
const short = () => fc.integer({ min: 1, max: 64 });

const damage = (): fc.Arbitrary<Damage> =>
  fc.oneof(
    fc.record({ kind: fc.constant('truncate' as const), at: share() }),
    fc.record({ kind: fc.constant('close' as const), at: share() }),
    fc.record({ kind: fc.constant('flip' as const), at: share(), bits: fc.integer({ min: 1, max: 255 }) }),
    fc.record({ kind: fc.constant('zero' as const), at: share(), length: short() }),
    fc.record({
      kind: fc.constant('insert' as const),
      at: share(),
      bytes: fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 1, maxLength: 24 }),
    }),
    fc.record({ kind: fc.constant('remove' as const), at: share(), length: short() }),
    fc.record({ kind: fc.constant('double' as const), at: share(), length: short() }),
    fc.record({ kind: fc.constant('splice' as const), at: share(), other: fc.nat() }),
    fc.record({ kind: fc.constant('swap' as const), one: share(), other: share() }),
    fc.record({
      kind: fc.constant('lie' as const),
      at: share(2000),
      value: fc.oneof(fc.constantFrom(0, 1, 0x7fffffff, 0xffffffff, 0x10000, 20_000), fc.nat()),
    }),
  );

/** Cases from a seed: the same seed gives the same cases. */
export function damagedCases(bases: number, count: number, seed: number): DamagedCase[] {
  const one = fc.record({
    base: fc.integer({ min: 0, max: bases - 1 }),
    damages: fc.array(damage(), { minLength: 1, maxLength: 3 }),
  });
  return fc.sample(one, { seed, numRuns: count });
}

/** The bytes of a case. */
export function bytesOf({ base, damages }: DamagedCase, bases: readonly BasePicture[]): Buffer {
  const { bytes, format } = bases[base]!;
  return damages.reduce((now, damage) => damaged(now, damage, format, bases), bytes);
}

/** How each format says that it is over. */
const END: Readonly<Record<BasePicture['format'], Buffer>> = {
  png: Buffer.from('0000000049454e44ae426082', 'hex'),
  jpeg: Buffer.from('ffd9', 'hex'),
  webp: Buffer.alloc(2),
  tiff: Buffer.alloc(4),
  gif: Buffer.from(';'),
  avif: Buffer.alloc(4),
  heic: Buffer.alloc(4),
  bmp: Buffer.alloc(2),
  svg: Buffer.from('</svg>'),
  pdf: Buffer.from('\n%%EOF\n'),
  jp2: Buffer.from('ffd9', 'hex'),
};

function damaged(
  bytes: Buffer,
  damage: Damage,
  format: BasePicture['format'],
  bases: readonly BasePicture[],
): Buffer {
  const place = (at: number) => Math.min(bytes.length, Math.floor(at * bytes.length));
  switch (damage.kind) {
    case 'truncate':
      return bytes.subarray(0, place(damage.at));
    case 'close':
      return Buffer.concat([bytes.subarray(0, place(damage.at)), END[format]]);
    case 'flip': {
      const copy = Buffer.from(bytes);
      if (copy.length > 0) copy[Math.min(copy.length - 1, place(damage.at))]! ^= damage.bits;
      return copy;
    }
    case 'zero':
      return Buffer.from(bytes).fill(
        0,
        place(damage.at),
        Math.min(bytes.length, place(damage.at) + damage.length),
      );
    case 'insert':
      return Buffer.concat([
        bytes.subarray(0, place(damage.at)),
        Buffer.from(damage.bytes),
        bytes.subarray(place(damage.at)),
      ]);
    case 'remove':
      return Buffer.concat([
        bytes.subarray(0, place(damage.at)),
        bytes.subarray(place(damage.at) + damage.length),
      ]);
    case 'double': {
      const part = bytes.subarray(place(damage.at), place(damage.at) + damage.length);
      return Buffer.concat([bytes.subarray(0, place(damage.at)), part, bytes.subarray(place(damage.at))]);
    }
    case 'splice': {
      const other = bases[damage.other % bases.length]!.bytes;
      const at = Math.floor(damage.at * other.length);
      return Buffer.concat([bytes.subarray(0, place(damage.at)), other.subarray(at)]);
    }
    case 'swap':
      return swapped(bytes, place(damage.one), place(damage.other), format);
    case 'lie': {
      const copy = Buffer.from(bytes);
      const at = place(damage.at);
      if (at + 4 <= copy.length) copy.writeUInt32BE(damage.value % 0x1_0000_0000, at);
      return copy;
    }
  }
}

/** Exchanges two PNG chunks, or two stretches of other files. */
function swapped(bytes: Buffer, one: number, other: number, format: BasePicture['format']): Buffer {
  const [from, to] = one < other ? [one, other] : [other, one];
  if (format !== 'png') {
    const length = Math.min(32, to - from, bytes.length - to);
    const copy = Buffer.from(bytes);
    bytes.copy(copy, from, to, to + length);
    bytes.copy(copy, to, from, from + length);
    return copy;
  }
  const chunks = chunksOf(bytes);
  const at = (place: number) =>
    Math.max(
      0,
      chunks.findIndex(({ end }) => place < end),
    );
  const [a, b] = [at(from), at(to)];
  [chunks[a], chunks[b]] = [chunks[b]!, chunks[a]!];
  return Buffer.concat([
    bytes.subarray(0, 8),
    ...chunks.map((chunk) => bytes.subarray(chunk.start, chunk.end)),
  ]);
}

function chunksOf(bytes: Buffer): { start: number; end: number }[] {
  const chunks: { start: number; end: number }[] = [];
  for (let start = 8; start + 12 <= bytes.length;) {
    const end = start + 12 + bytes.readUInt32BE(start);
    if (end > bytes.length) break;
    chunks.push({ start, end });
    start = end;
  }
  return chunks.length > 0 ? chunks : [{ start: Math.min(8, bytes.length), end: bytes.length }];
}
