/**
 * Reads the compressed data of a JPEG from end to end without making a picture of them (ITU-T T.81: B.1 and B.2 markers,
 * F.2 sequential and G.2 progressive Huffman decoding). Fast decoders pass over codes that are none; this tells them.
 */

/** What was found of a JPEG's compressed data. */
export interface JpegCheck {
  /** What is wrong, in a word for the log; null where every code is one. */
  readonly damage: string | null;
  /** Bytes between the end of the compressed data and the next marker. */
  readonly extraneous: number;
  /** Whether the marker of its end is there. */
  readonly ended: boolean;
}

interface Component {
  readonly id: number;
  readonly across: number;
  readonly down: number;
  /** Blocks that hold pixels, and blocks in a row with those that fill up the last unit. */
  readonly blocksX: number;
  readonly blocksY: number;
  readonly stride: number;
  /** For progressive pictures: which coefficients of each block are not 0 so far. */
  readonly nonzero: Uint8Array | null;
}

interface Frame {
  readonly progressive: boolean;
  readonly unitsX: number;
  readonly unitsY: number;
  readonly components: readonly Component[];
}

/** Every 16 bits -> length of the code they start with, and its symbol; 0 where they start with none. */
type HuffmanTable = Uint16Array;

interface Reader {
  readonly data: Uint8Array;
  /** The next byte to take. */
  at: number;
  bits: number;
  /** How many of `bits` are still to be read, and how many of those came from behind the end. */
  count: number;
  virtual: number;
}

interface ScanPart {
  readonly component: Component;
  readonly dc: HuffmanTable | undefined;
  readonly ac: HuffmanTable | undefined;
}

interface Scan {
  readonly parts: readonly ScanPart[];
  readonly from: number;
  readonly to: number;
  readonly refines: boolean;
  /** Blocks that are still to be passed over as empty in this band. */
  emptyRun: number;
}

class Damage extends Error {}

const START_OF_SCAN = 0xda;
const END = 0xd9;

/** Checks a JPEG. Null for kinds that are not read here: arithmetic coding, lossless, hierarchical. */
export function checkJpeg(data: Uint8Array): JpegCheck | null {
  const tables = new Map<number, HuffmanTable>();
  let frame: Frame | null = null;
  let restart = 0;
  let extraneous = 0;
  try {
    for (let at = 2; ;) {
      const start = nextMarker(data, at);
      if (start < 0) return { damage: null, extraneous, ended: false };
      if (frame) extraneous += start - at;
      const marker = data[start + 1]!;
      if (marker === END) return { damage: null, extraneous, ended: true };
      at = start + 2;
      if (marker === 0x01 || (marker >= 0xd0 && marker <= 0xd8)) continue;
      const length = word(data, at);
      const segment = data.subarray(at + 2, at + length);
      if (length < 2 || segment.length < length - 2) throw new Damage('segment');
      at += length;
      if (marker === 0xc4) readTables(segment, tables);
      else if (marker === 0xdd) restart = word(segment, 0);
      else if (marker === 0xc0 || marker === 0xc1 || marker === 0xc2) {
        frame = readFrame(segment, marker === 0xc2);
        if (!frame) return null;
      } else if (marker >= 0xc3 && marker <= 0xcf && marker !== 0xc8 && marker !== 0xcc) return null;
      else if (marker === START_OF_SCAN) {
        if (!frame) throw new Damage('scan before frame');
        const read = readScan(data, at, frame, scanOf(segment, frame, tables), restart);
        extraneous += read.extraneous;
        at = read.at;
      }
    }
  } catch (error) {
    if (error instanceof Damage) return { damage: error.message, extraneous, ended: false };
    throw error;
  }
}

/** Where the next marker starts; -1 where there is none. */
function nextMarker(data: Uint8Array, from: number): number {
  for (let at = from; at + 1 < data.length; at++)
    if (data[at] === 0xff && data[at + 1] !== 0 && data[at + 1] !== 0xff) return at;
  return -1;
}

function word(data: Uint8Array, at: number): number {
  if (at + 1 >= data.length) throw new Damage('segment');
  return (data[at]! << 8) | data[at + 1]!;
}

function readTables(segment: Uint8Array, tables: Map<number, HuffmanTable>): void {
  for (let at = 0; at < segment.length;) {
    const id = segment[at]!;
    const counts = segment.subarray(at + 1, at + 17);
    const total = counts.reduce((sum, count) => sum + count, 0);
    const symbols = segment.subarray(at + 17, at + 17 + total);
    if (counts.length < 16 || symbols.length < total) throw new Damage('Huffman table');
    tables.set(id, tableOf(counts, symbols));
    at += 17 + total;
  }
}

function tableOf(counts: Uint8Array, symbols: Uint8Array): HuffmanTable {
  const table = new Uint16Array(65_536);
  let code = 0;
  let next = 0;
  for (let length = 1; length <= 16; length++) {
    for (let k = 0; k < counts[length - 1]!; k++, code++, next++) {
      if (code >= 1 << length) throw new Damage('Huffman table');
      const first = code << (16 - length);
      table.fill((length << 8) | symbols[next]!, first, first + (1 << (16 - length)));
    }
    code <<= 1;
  }
  return table;
}

function readFrame(segment: Uint8Array, progressive: boolean): Frame | null {
  if (segment.length < 6) throw new Damage('frame');
  const height = word(segment, 1);
  const width = word(segment, 3);
  const count = segment[5]!;
  if (segment[0] !== 8 || height === 0) return null;
  if (width === 0 || count === 0 || segment.length < 6 + 3 * count) throw new Damage('frame');
  const given = Array.from({ length: count }, (_, k) => {
    const factors = segment[7 + 3 * k]!;
    return { id: segment[6 + 3 * k]!, across: factors >> 4, down: factors & 15 };
  });
  if (given.some(({ across, down }) => across < 1 || across > 4 || down < 1 || down > 4))
    throw new Damage('sampling');
  const mostAcross = Math.max(...given.map(({ across }) => across));
  const mostDown = Math.max(...given.map(({ down }) => down));
  const unitsX = Math.ceil(width / (8 * mostAcross));
  const unitsY = Math.ceil(height / (8 * mostDown));
  const components = given.map(({ id, across, down }) => {
    const stride = unitsX * across;
    return {
      id,
      across,
      down,
      stride,
      blocksX: Math.ceil(Math.ceil((width * across) / mostAcross) / 8),
      blocksY: Math.ceil(Math.ceil((height * down) / mostDown) / 8),
      nonzero: progressive ? new Uint8Array(stride * unitsY * down * 64) : null,
    };
  });
  return { progressive, unitsX, unitsY, components };
}

function scanOf(segment: Uint8Array, frame: Frame, tables: ReadonlyMap<number, HuffmanTable>): Scan {
  const count = segment[0] ?? 0;
  if (count < 1 || count > 4 || segment.length < 4 + 2 * count) throw new Damage('scan');
  const parts = Array.from({ length: count }, (_, k) => {
    const component = frame.components.find(({ id }) => id === segment[1 + 2 * k]);
    if (!component) throw new Damage('scan');
    const ids = segment[2 + 2 * k]!;
    return { component, dc: tables.get(ids >> 4), ac: tables.get(0x10 | (ids & 15)) };
  });
  const [from, to, bits] = segment.subarray(1 + 2 * count) as unknown as [number, number, number];
  if (!frame.progressive) return { parts, from: 0, to: 63, refines: false, emptyRun: 0 };
  if (from > to || to > 63 || (from === 0 && to > 0) || (from > 0 && count > 1)) throw new Damage('scan');
  return { parts, from, to, refines: bits >> 4 > 0, emptyRun: 0 };
}

function readScan(
  data: Uint8Array,
  start: number,
  frame: Frame,
  scan: Scan,
  restart: number,
): { readonly at: number; readonly extraneous: number } {
  const reader: Reader = { data, at: start, bits: 0, count: 0, virtual: 0 };
  const alone = scan.parts.length === 1 ? scan.parts[0]!.component : null;
  const across = alone ? alone.blocksX : frame.unitsX;
  const units = across * (alone ? alone.blocksY : frame.unitsY);
  let extraneous = 0;
  for (let unit = 0; unit < units; unit++) {
    if (restart > 0 && unit > 0 && unit % restart === 0) {
      extraneous += passRestart(reader, (unit / restart - 1) % 8);
      scan.emptyRun = 0;
    }
    const x = unit % across;
    const y = (unit - x) / across;
    if (alone) readBlock(reader, frame, scan, scan.parts[0]!, y * alone.stride + x);
    else
      for (const part of scan.parts) {
        const { across: h, down: v, stride } = part.component;
        for (let k = 0; k < h * v; k++)
          readBlock(reader, frame, scan, part, (y * v + Math.floor(k / h)) * stride + x * h + (k % h));
      }
    if (reader.count < reader.virtual) throw new Damage('data end too early');
  }
  return { at: reader.at, extraneous };
}

/** Goes on behind a restart marker. Returns how many bytes lay before it. */
function passRestart(reader: Reader, number: number): number {
  const start = nextMarker(reader.data, reader.at);
  if (start < 0 || reader.data[start + 1] !== 0xd0 + number) throw new Damage('restart marker');
  const before = start - reader.at;
  Object.assign(reader, { at: start + 2, bits: 0, count: 0, virtual: 0 });
  return before;
}

function readBlock(reader: Reader, frame: Frame, scan: Scan, part: ScanPart, block: number): void {
  const { nonzero } = part.component;
  if (!frame.progressive) {
    skipDifference(reader, part.dc);
    skipCoefficients(reader, part.ac);
  } else if (scan.from === 0) {
    if (scan.refines) skipBits(reader, 1);
    else skipDifference(reader, part.dc);
  } else if (scan.refines) refineBand(reader, scan, part.ac, nonzero!, block * 64);
  else readBand(reader, scan, part.ac, nonzero!, block * 64);
}

function skipDifference(reader: Reader, table: HuffmanTable | undefined): void {
  const size = symbolOf(reader, table);
  if (size > 16) throw new Damage('code');
  skipBits(reader, size);
}

function skipCoefficients(reader: Reader, table: HuffmanTable | undefined): void {
  for (let k = 1; k < 64;) {
    const symbol = symbolOf(reader, table);
    const run = symbol >> 4;
    const size = symbol & 15;
    if (size === 0 && run < 15) return;
    k += size === 0 ? 16 : run;
    if (k > (size === 0 ? 64 : 63)) throw new Damage('coefficient');
    if (size === 0) continue;
    skipBits(reader, size);
    k++;
  }
}

function readBand(
  reader: Reader,
  scan: Scan,
  table: HuffmanTable | undefined,
  nonzero: Uint8Array,
  at: number,
): void {
  if (scan.emptyRun > 0) {
    scan.emptyRun--;
    return;
  }
  for (let k = scan.from; k <= scan.to;) {
    const symbol = symbolOf(reader, table);
    const run = symbol >> 4;
    const size = symbol & 15;
    if (size === 0 && run < 15) {
      scan.emptyRun = (1 << run) - 1 + readBits(reader, run);
      return;
    }
    k += size === 0 ? 16 : run;
    if (size === 0) {
      if (k > scan.to + 1) throw new Damage('coefficient');
      continue;
    }
    if (k > scan.to) throw new Damage('coefficient');
    skipBits(reader, size);
    nonzero[at + k] = 1;
    k++;
  }
}

/** A band's coefficients get one more bit each; those that become other than 0 are coded as runs (G.1.2.3). */
function refineBand(
  reader: Reader,
  scan: Scan,
  table: HuffmanTable | undefined,
  nonzero: Uint8Array,
  at: number,
): void {
  let k = scan.from;
  while (scan.emptyRun === 0 && k <= scan.to) {
    const symbol = symbolOf(reader, table);
    const size = symbol & 15;
    let run = symbol >> 4;
    if (size === 0 && run < 15) {
      scan.emptyRun = (1 << run) + readBits(reader, run);
      break;
    }
    if (size > 1) throw new Damage('coefficient');
    skipBits(reader, size);
    for (; k <= scan.to; k++) {
      if (nonzero[at + k] === 1) skipBits(reader, 1);
      else if (run-- === 0) break;
    }
    if (size === 1) {
      if (k > scan.to) throw new Damage('coefficient');
      nonzero[at + k] = 1;
    }
    k++;
  }
  if (scan.emptyRun === 0) return;
  for (; k <= scan.to; k++) if (nonzero[at + k] === 1) skipBits(reader, 1);
  scan.emptyRun--;
}

/** Makes at least 17 bits ready. A marker ends the data: behind it come zeros, which must not be used. */
function fill(reader: Reader): void {
  const { data } = reader;
  while (reader.count <= 16) {
    let byte = reader.at < data.length ? data[reader.at]! : -1;
    if (byte === 0xff) {
      if (data[reader.at + 1] === 0) reader.at += 2;
      else byte = -1;
    } else if (byte >= 0) reader.at++;
    if (byte < 0) {
      byte = 0;
      reader.virtual += 8;
    }
    reader.bits = (reader.bits << 8) | byte;
    reader.count += 8;
  }
}

function symbolOf(reader: Reader, table: HuffmanTable | undefined): number {
  if (!table) throw new Damage('no Huffman table');
  if (reader.count < 17) fill(reader);
  const entry = table[(reader.bits >>> (reader.count - 16)) & 0xffff]!;
  if (entry === 0) throw new Damage('code');
  reader.count -= entry >> 8;
  return entry & 0xff;
}

function skipBits(reader: Reader, count: number): void {
  if (reader.count < count) fill(reader);
  reader.count -= count;
}

function readBits(reader: Reader, count: number): number {
  if (reader.count < count) fill(reader);
  reader.count -= count;
  return (reader.bits >>> reader.count) & ((1 << count) - 1);
}
