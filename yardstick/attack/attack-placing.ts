import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { PDFDocument } from '@cantoo/pdf-lib';
import { untouchedCut } from '../../src/core/cut/parse';
import { newSample } from '../../src/core/cut/new-sample';
import { isKenosisError } from '../../src/core/errors';
import { seededRandom } from '../../src/core/numeric/random';
import { createCorePool, type CorePool } from '../../src/engine/node/pool';
import { letterPdf, type LetterKind } from '../../tests/make/letters';
import { asSharp } from '../../tests/make/files';
import { disc } from '../../tests/make/pictures';
import { Tally, type Limits, type PartReport } from './report';

/** A PDF, and what must come of it: taken, refused, or either, as long as it is right or told in a sentence. */
interface Case {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly must: 'taken' | 'refused' | 'either';
}

const PIECES_A_SEED = 200;

/** A file may take so long: more is a hang. */
const LIMIT_MS = 60_000;

/** Odd and damaged PDFs to place a piece in: each is right afterwards, or refused with a sentence. */
export async function attackPlacing(limits: Limits): Promise<PartReport> {
  const tally = new Tally('placing in PDFs');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const pool = createCorePool(1);
  const canRead = await hasTextReader();
  if (!canRead) tally.figure('no second reader of text is installed: text was not compared');
  const piece = path.join(root, 'piece.png');
  await asSharp(disc(81, 30)).png().toFile(piece);
  let slowest = { ms: 0, name: '' };
  try {
    let tried = 0;
    for await (const one of casesOf(limits.seed)) {
      if (Date.now() > limits.until || tried >= Math.min(limits.most, PIECES_A_SEED)) break;
      tried++;
      const begun = Date.now();
      await tryOne(pool, root, piece, one, canRead, tally);
      const ms = Date.now() - begun;
      if (ms > slowest.ms) slowest = { ms, name: one.name };
    }
    tally.figure(`slowest ${slowest.name}, ${slowest.ms} ms`);
  } finally {
    await pool.close();
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

async function tryOne(
  pool: CorePool,
  root: string,
  piece: string,
  { name, bytes, must }: Case,
  canRead: boolean,
  tally: Tally,
): Promise<void> {
  const file = path.join(root, 'letter.pdf');
  const outPath = path.join(root, 'placed.pdf');
  await writeFile(file, bytes);
  const ground = { kind: 'page', path: file, name: 'letter.pdf', number: null } as const;
  const bounds = { pixels: 0, limitMs: LIMIT_MS };
  try {
    const { unit, line, width, height } = await pool.run('ground', { path: file, ground }, bounds);
    const placement = {
      colorway: null,
      light: false,
      anchor: 'bottom-right',
      x: 0.1 * width,
      y: 0.1 * height,
      width: 0.2 * Math.min(width, height),
      angleDeg: 0,
      opacity: 100,
      blend: 'normal',
    } as const;
    const own = { originalPath: piece, originalName: 'piece.png', cut: CUT, decisionsPath: null };
    const laid = [{ ...own, placement }];
    const input = { path: file, ground, unit, surface: { width, height, line }, laid, dpi: 100, outPath };
    const made = await pool.run('proof', { ...input, format: 'pdf' }, bounds);
    tally.count(`taken, ${made.verified.kind}`);
    tally.expect(must !== 'refused', `${name} was taken`);
    tally.expect(made.page?.beside === 0, `${name}: the page differs beside the piece`);
    const placed = await readFile(outPath);
    if (made.verified.kind === 'PDF, appended to')
      tally.expect(placed.subarray(0, bytes.length).equals(bytes), `${name}: bytes of the file changed`);
    const before = canRead ? await textOf(file) : null;
    if (before !== null) tally.expect(before === (await textOf(outPath)), `${name}: its text changed`);
    else if (canRead) tally.count('taken though the second reader cannot open it');
  } catch (error) {
    const told = isKenosisError(error) && /\.$/.test(error.message) && error.message.length > 30;
    tally.count(isKenosisError(error) ? `refused as ${error.code}` : 'failed inside');
    tally.expect(
      told || (isKenosisError(error) && error.code === 'bad-argument'),
      `${name}: ${String(error)}`,
    );
    tally.expect(must !== 'taken', `${name} was refused: ${String(error)}`);
  }
}

const CUT = {
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', 2, 2, { areaPx: 3, tolerance: 12 })] },
};

const SOUND: Readonly<Record<string, LetterKind>> = {
  plain: {},
  packed: { packed: true },
  'turned by 90': { turn: 90 },
  'turned by 180': { turn: 180, packed: true },
  'turned by 270': { turn: 270 },
  cropped: { crop: [40, 60, 300, 500] },
  'cropped and turned': { crop: [40, 60, 300, 500], turn: 270, packed: true },
  'large units': { size: [300, 420], unit: 2 },
  'a form': { field: 'empty' },
  'three pages': { pages: 3 },
  tiny: { size: [40, 30] },
  'a poster': { size: [2400, 3400] },
  'two thousand pages': { pages: 2000, packed: true },
};

async function* casesOf(seed: number): AsyncGenerator<Case> {
  for (const [name, kind] of Object.entries(SOUND))
    yield { name, bytes: await letterPdf(kind), must: 'taken' };
  const plain = Buffer.from(await letterPdf({ pages: 2 }));
  const packed = Buffer.from(await letterPdf({ pages: 2, packed: true }));
  const text = (bytes: Buffer, from: string | RegExp, to: string) =>
    Buffer.from(bytes.toString('latin1').replace(from, to), 'latin1');
  yield { name: 'signed', bytes: await letterPdf({ field: 'signed' }), must: 'refused' };
  yield { name: 'encrypted', bytes: text(plain, '/Root', '/Encrypt 1 0 R /Root'), must: 'refused' };
  yield { name: 'empty', bytes: new Uint8Array(), must: 'refused' };
  yield { name: 'words', bytes: Buffer.from('%PDF-1.7\nno objects at all'), must: 'refused' };
  const none = await PDFDocument.create();
  yield { name: 'no pages', bytes: await none.save({ addDefaultPage: false }), must: 'refused' };
  yield {
    name: 'no size',
    bytes: text(plain, /\/MediaBox \[[^\]]*\]/g, '/MediaBox [ 0 0 0 0 ]'),
    must: 'either',
  };
  yield {
    name: 'huge size',
    bytes: text(plain, /\/MediaBox \[[^\]]*\]/g, '/MediaBox [ 0 0 9e6 9e6 ]'),
    must: 'refused',
  };
  yield {
    name: 'box the wrong way round',
    bytes: text(plain, /\/MediaBox \[[^\]]*\]/g, '/MediaBox [ 595 841 0 0 ]'),
    must: 'either',
  };
  yield { name: 'odd turn', bytes: text(plain, /\/Rotate 0/g, '/Rotate 45'), must: 'either' };
  yield {
    name: 'something before it',
    bytes: Buffer.concat([Buffer.from('junk\n\n'), plain]),
    must: 'either',
  };
  yield {
    name: 'something behind it',
    bytes: Buffer.concat([plain, Buffer.alloc(3000, 0x20)]),
    must: 'either',
  };
  yield { name: 'no table', bytes: text(plain, /xref[\s\S]*?trailer/, 'trailer'), must: 'either' };
  yield { name: 'a wrong table', bytes: text(plain, /startxref\s+\d+/, 'startxref\n77'), must: 'either' };
  yield {
    name: 'loose drawing',
    bytes: text(Buffer.from(await letterPdf()), 'endstream', 'q q q endstream'),
    must: 'either',
  };
  const random = seededRandom(seed);
  for (;;) {
    const whole = random() < 0.5 ? plain : packed;
    const kind = Math.floor(random() * 3);
    if (kind === 0) {
      const left = Math.floor(random() * whole.length);
      yield { name: `cut off at ${left}`, bytes: whole.subarray(0, left), must: 'either' };
      continue;
    }
    const bytes = Buffer.from(whole);
    const many = kind === 1 ? 1 + Math.floor(random() * 12) : 200;
    for (let k = 0; k < many; k++) bytes[Math.floor(random() * bytes.length)] = Math.floor(random() * 256);
    yield { name: `${many} wrong bytes`, bytes, must: 'either' };
  }
}

const run = promisify(execFile);

function hasTextReader(): Promise<boolean> {
  return run('pdftotext', ['-v']).then(
    () => true,
    () => false,
  );
}

/** The text of a PDF as another program reads it; null where that cannot open it. */
async function textOf(file: string): Promise<string | null> {
  return run('pdftotext', ['-layout', file, '-'], { maxBuffer: 50_000_000 }).then(
    ({ stdout }) => stdout,
    () => null,
  );
}
