import { FIRST_WATERMARKS, groupOf, newText, newWatermark } from '../../core/watermark/first-watermarks';
import { markRoutine } from '../../core/watermark/mark-routine';
import { LONGEST_WATERMARK_NAME, type Marked, type Watermark } from '../../core/watermark/settings';
import type { Routine } from '../../core/routine/settings';
import { getSetting, setSetting } from '../../storage/settings';
import { addWatermark, getWatermark, listWatermarks, type WatermarkState } from '../../storage/watermarks';
import type { House } from '../rooms';
import { unpacked, usedWatermark, wholeWatermark } from './materials';

/** Which of the watermarks that a house begins with it has been given. */
const GIVEN = 'first-watermarks';

/** Gives a house the watermarks that it begins with, once: what somebody forgets does not come again. */
export async function giveFirstWatermarks({ database }: Pick<House, 'database'>): Promise<void> {
  if ((await getSetting(database, GIVEN)) !== null) return;
  await setSetting(database, GIVEN, 'all');
  const there = new Set((await listWatermarks(database)).map(({ watermark }) => watermark.name));
  for (const watermark of FIRST_WATERMARKS)
    if (!there.has(watermark.name)) await addWatermark(database, watermark);
}

/** The demo's watermark of sign and name. Does nothing where it was made before, or its piece is not there. */
export async function giveDemoWatermark(
  { database }: Pick<House, 'database'>,
  kite: string | null,
): Promise<void> {
  const key = 'demo:watermark';
  if (kite === null || (await getSetting(database, key)) !== null) return;
  await setSetting(database, key, 'made');
  const cutout = {
    kind: 'cutout',
    id: 'c1',
    source: { kind: 'piece', piece: kite, colorway: null, light: false },
    size: 260,
    painted: false,
  } as const;
  const name = newText('t1', 'Ostrel Kiteworks', { align: 'left', weight: 600 });
  const line = newText('t2', '© {year} Maren Ostrel', { align: 'left', size: 62, weight: 300 });
  await addWatermark(
    database,
    newWatermark('kite and name', [], {
      layout: {
        of: 'columns',
        gap: 44,
        align: 'middle',
        groups: [groupOf([cutout]), groupOf([name, line], { align: 'start', gap: 28 })],
      },
    }),
  );
}

/** A new watermark: of one line, of a document that was brought, or a copy of another. */
export async function makeWatermark(
  house: House,
  wanted: { readonly name: string } | { readonly copyOf: number } | { readonly watermark: Watermark },
): Promise<WatermarkState> {
  if ('watermark' in wanted) return addWatermark(house.database, await unpacked(house, wanted.watermark));
  if ('copyOf' in wanted) {
    const { watermark } = await getWatermark(house.database, wanted.copyOf);
    const name = [...`${watermark.name}, copy`].slice(0, LONGEST_WATERMARK_NAME).join('').trim();
    return addWatermark(house.database, { ...watermark, name });
  }
  return addWatermark(
    house.database,
    newWatermark(wanted.name, [groupOf([newText('t1', '© {year} {photo}')])]),
  );
}

/** A watermark of the house as it is handed on, with all it needs in it. */
export async function exportWatermark(house: House, id: number): Promise<Watermark> {
  return wholeWatermark(house, (await getWatermark(house.database, id)).watermark);
}

/** The routine that marks photos with a watermark of the house. Throws `not-found`, and what its cutouts throw. */
export async function markingRoutine(house: House, id: number, marked: Marked): Promise<Routine> {
  const { watermark } = await getWatermark(house.database, id);
  return markRoutine(await usedWatermark(house, watermark), marked);
}
