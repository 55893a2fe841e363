import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Raster } from '../../core/raster/raster';
import { cornersOf } from '../../core/proof/place';
import { freshFolder } from '../../../tests/make/folder';
import { letterPdf, type LetterKind } from '../../../tests/make/letters';
import { paint } from '../../../tests/make/pictures';
import { placeInPdf, type PdfLayer } from './place-in-pdf';
import { readPage, renderPage } from './render-page';

let folder: string;
beforeAll(async () => {
  folder = await freshFolder();
});

async function rendered(bytes: Uint8Array, number: number | null = 1, dpi = 600): Promise<Raster> {
  const file = path.join(folder, `${Math.random()}.pdf`);
  await writeFile(file, bytes);
  const page = await readPage({ path: file, name: 'letter.pdf' }, number);
  return renderPage({ path: file, name: 'letter.pdf' }, page, (page.view.widthMm / 25.4) * dpi);
}

/** A full red piece; a renderer shows its corners. */
const red = (width = 120, height = 60) => paint(width, height, () => [220, 20, 30]);

const layer = (more: Partial<PdfLayer> = {}): PdfLayer => ({
  cutout: red(),
  box: { x: 40, y: 30, width: 30, height: 15 },
  angleDeg: 0,
  opacity: 100,
  blend: 'normal',
  ...more,
});

/** The extremes of what is red, in millimeters. */
function redBox({ data, width, height }: Raster, dpi = 600) {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = (y * width + x) * 4;
      if (data[p]! < 180 || data[p + 1]! > 120 || data[p + 2]! > 120) continue;
      left = Math.min(left, x);
      right = Math.max(right, x + 1);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y + 1);
    }
  const mm = (px: number) => (px * 25.4) / dpi;
  return { left: mm(left), top: mm(top), right: mm(right), bottom: mm(bottom) };
}

/** Rendering takes as long as a page is large. */
const SMALL = [300, 220] as const;

const KINDS: Readonly<Record<string, LetterKind>> = {
  plain: { size: SMALL },
  'packed objects': { packed: true, size: SMALL },
  'turned by 90': { turn: 90, size: SMALL },
  'turned by 180': { turn: 180, size: SMALL },
  'turned by 270': { turn: 270, packed: true, size: SMALL },
  cropped: { crop: [50, 100, 300, 250] },
  'cropped and turned': { crop: [50, 100, 300, 250], turn: 90 },
  'large units': { size: [150, 110], unit: 2 },
};

describe('placing in a PDF', () => {
  it.each(Object.entries(KINDS))('lies within 0.05 mm of what was asked: %s', async (_name, kind) => {
    const placed = await placeInPdf(await letterPdf(kind), 'letter.pdf', 1, [layer()]);
    const box = redBox(await rendered(placed));
    expect(Math.abs(box.left - 40)).toBeLessThan(0.05);
    expect(Math.abs(box.top - 30)).toBeLessThan(0.05);
    expect(Math.abs(box.right - 70)).toBeLessThan(0.05);
    expect(Math.abs(box.bottom - 45)).toBeLessThan(0.05);
  });

  it('turns clockwise about the middle', async () => {
    const angleDeg = 30;
    const placed = await placeInPdf(await letterPdf(), 'letter.pdf', 1, [layer({ angleDeg })]);
    const box = redBox(await rendered(placed));
    const corners = cornersOf(layer().box, angleDeg);
    expect(Math.abs(box.left - Math.min(...corners.map(({ x }) => x)))).toBeLessThan(0.08);
    expect(Math.abs(box.top - Math.min(...corners.map(({ y }) => y)))).toBeLessThan(0.08);
    expect(Math.abs(box.right - Math.max(...corners.map(({ x }) => x)))).toBeLessThan(0.08);
    // The corner that was the upper right one lies to the right and lower now.
    expect(corners[1]!.y).toBeGreaterThan(corners[0]!.y);
  });

  it('leaves every byte of the file where it was, also when pieces are placed twice', async () => {
    for (const packed of [false, true]) {
      const letter = await letterPdf({ pages: 3, packed });
      const once = await placeInPdf(letter, 'letter.pdf', 2, [layer()]);
      const twice = await placeInPdf(once, 'letter.pdf', 2, [
        layer({ box: { x: 100, y: 200, width: 20, height: 10 } }),
      ]);
      expect(Buffer.compare(once.subarray(0, letter.length), letter)).toBe(0);
      expect(Buffer.compare(twice.subarray(0, once.length), once)).toBe(0);
      const box = redBox(await rendered(twice, 2, 150), 150);
      expect(box.left).toBeCloseTo(40, 0);
      expect(box.bottom).toBeCloseTo(210, 0);
      for (const number of [1, 3]) {
        const [now, before] = [await rendered(twice, number, 72), await rendered(letter, number, 72)];
        expect(Buffer.compare(now.data, before.data)).toBe(0);
      }
    }
  });

  it('keeps the color of the piece within a level, and its alpha over white', async () => {
    const soft = paint(90, 30, (x) => [30, 60, 110, x < 30 ? 255 : x < 60 ? 128 : 40]);
    const box = { x: 50.8, y: 101.6, width: 76.2, height: 25.4 };
    const placed = await placeInPdf(await letterPdf(), 'letter.pdf', 1, [layer({ cutout: soft, box })]);
    const page = await rendered(placed, 1, 300);
    for (const [x, alpha] of [
      [15, 255],
      [45, 128],
      [75, 40],
    ] as const) {
      const p =
        (Math.round(101.6 * (300 / 25.4) + 150) * page.width +
          Math.round((50.8 + (x / 90) * 76.2) * (300 / 25.4))) *
        4;
      [30, 60, 110].forEach((color, c) => {
        const expected = (color * alpha + 255 * (255 - alpha)) / 255;
        expect(Math.abs(page.data[p + c]! - expected)).toBeLessThanOrEqual(1);
      });
    }
  });

  it('multiplies with what is below it, as opaque as asked', async () => {
    const letter = await letterPdf();
    const light = paint(10, 10, () => [200, 100, 255]);
    const box = { x: 20, y: 20, width: 100, height: 50 };
    const page = await rendered(
      await placeInPdf(letter, 'letter.pdf', 1, [
        layer({ cutout: paint(10, 10, () => [128, 128, 128]), box }),
        layer({ cutout: light, box, blend: 'multiply', opacity: 50 }),
      ]),
      1,
      100,
    );
    const p = (Math.round((45 / 25.4) * 100) * page.width + Math.round((110 / 25.4) * 100)) * 4;
    [200, 100, 255].forEach((color, c) => {
      const expected = 0.5 * ((color * 128) / 255) + 0.5 * 128;
      expect(Math.abs(page.data[p + c]! - expected)).toBeLessThanOrEqual(2);
    });
  });

  it('refuses what is signed, locked, damaged, empty, or has no such page, with a sentence', async () => {
    const place = (bytes: Uint8Array, number = 1) => placeInPdf(bytes, 'letter.pdf', number, [layer()]);
    await expect(place(await letterPdf({ field: 'signed' }))).rejects.toMatchObject({ code: 'forbidden' });
    await expect(place(await letterPdf({ field: 'empty' }))).resolves.toBeDefined();
    await expect(place(await letterPdf(), 2)).rejects.toThrow('page: "letter.pdf" has 1 page, not 2');
    await expect(place(new TextEncoder().encode('no pdf at all'))).rejects.toMatchObject({ code: 'bad-pdf' });
    await expect(place(new Uint8Array())).rejects.toMatchObject({ code: 'bad-pdf' });
    const locked = Buffer.from(await letterPdf())
      .toString('latin1')
      .replace('/Root', '/Encrypt 1 0 R /Root');
    await expect(place(Buffer.from(locked, 'latin1'))).rejects.toThrow('is locked: it is encrypted');
  });

  it('says how large a page is, and how many there are', async () => {
    const file = path.join(folder, 'read.pdf');
    await writeFile(file, await letterPdf({ pages: 2 }));
    const page = await readPage({ path: file, name: 'read.pdf' }, null);
    expect(page).toMatchObject({ number: 2, facts: { pages: 2, isSigned: false } });
    expect(page.view.widthMm).toBeCloseTo(210, 2);
  });
});
