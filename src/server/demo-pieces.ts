import { copyFile, readFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { syncFile } from '../codec/sync-file';
import { INPUT_FORMATS, type InputFormat } from '../core/formats';
import { parseCut } from '../core/cut/parse';
import { dayOf } from '../core/day-of';
import { FIRST_ROUTINES } from '../core/routine/first-routines';
import { addPiece, setFindings, type Piece } from '../storage/pieces';
import { addRun, setRunState } from '../storage/runs';
import { getSetting, setSetting } from '../storage/settings';
import type { House } from './rooms';
import { thumbnailKey } from './thumbnail';

const listSchema = z.array(z.string());

/** What is known of a demo picture, as it was found when the demo was drawn; its thumbnail lies beside it. */
const drawnSchema = z.strictObject({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  format: z.enum(Object.keys(INPUT_FORMATS) as [InputFormat, ...InputFormat[]]),
  bytes: z.int(),
  width: z.int(),
  height: z.int(),
  dpi: z.number().nullable(),
  backing: z.string(),
  reason: z.string(),
  notes: z.array(z.string()),
  /** Null: untouched. */
  cut: z.unknown(),
  /** How many findings of each kind are open. */
  findings: z.record(z.string(), z.int()),
});

export type DrawnPiece = z.infer<typeof drawnSchema>;

const demoFolder = path.join('demo', 'pictures');

/** The files that the demo keeps of a picture. */
export function drawnFiles(file: string): { readonly facts: string; readonly thumbnail: string } {
  const stem = file.replace(/\.\w+$/, '');
  return { facts: `${stem}.piece.json`, thumbnail: `${stem}.thumbnail.webp` };
}

/** Puts the demo pieces and photos of a folder on the Shelf, each once: one that was loaded before does not come again. */
export async function loadDemo(house: House, which: 'pieces' | 'photos', from = demoFolder): Promise<void> {
  for (const file of await filesOf(which, from)) await loadOnce(house, from, file, true);
}

/** Lets the pictures of the series wait in a run, which somebody may let go on. Does nothing where that was done before. */
export async function loadSeries(house: House): Promise<void> {
  const key = 'demo:series-run';
  const { database } = house;
  if ((await getSetting(database, key)) !== null) return;
  const items: { name: string; pieceId: string }[] = [];
  for (const file of await filesOf('series', demoFolder)) {
    const pieceId = await loadOnce(house, demoFolder, file, false);
    items.push({ name: file, pieceId });
  }
  const routine = FIRST_ROUTINES.find(({ name }) => name === 'product-on-transparent')!;
  const run = await addRun(database, { routine, purpose: 'deliver', date: dayOf(new Date()), items });
  await setRunState(
    database,
    run.id,
    'paused',
    'Forty pictures of Ostrel Kiteworks wait here. Resume begins.',
  );
  await setSetting(database, key, String(run.id));
}

async function filesOf(which: 'pieces' | 'photos' | 'series', from: string): Promise<string[]> {
  return listSchema.parse(JSON.parse(await readFile(path.join(from, `${which}.json`), 'utf8')));
}

/** The id of a demo piece, which is loaded where it never was. */
async function loadOnce(house: House, from: string, file: string, shelved: boolean): Promise<string> {
  const key = `demo:${file}`;
  const before = await getSetting(house.database, key);
  if (before !== null) return before;
  const piece = await load(house, from, file, shelved);
  await setSetting(house.database, key, piece.id);
  return piece.id;
}

async function load(
  { database, files }: House,
  from: string,
  file: string,
  shelved: boolean,
): Promise<Piece> {
  const names = drawnFiles(file);
  const drawn = drawnSchema.parse(JSON.parse(await readFile(path.join(from, names.facts), 'utf8')));
  const { cut, findings, ...facts } = drawn;
  const keep = async (name: string, kind: 'originals' | 'thumbnails', as: string) => {
    if (await files.has(kind, as)) return;
    const incoming = await files.incomingPath();
    await copyFile(path.join(from, name), incoming);
    await syncFile(incoming);
    await files.keep(incoming, kind, as);
  };
  await keep(file, 'originals', facts.sha256);
  const proposed = cut === null ? null : parseCut(cut);
  const { piece } = await addPiece(database, { ...facts, name: file }, proposed, undefined, shelved);
  await keep(names.thumbnail, 'thumbnails', thumbnailKey(piece, piece.revision));
  await setFindings(database, piece.id, piece.revision, findings);
  return piece;
}
