import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../../tests/make/files';
import { freshFolder } from '../../../tests/make/folder';
import { letterPdf } from '../../../tests/make/letters';
import { paint } from '../../../tests/make/pictures';
import { ONLY_PAGE } from '../../core/cut/page';
import { SHIPPED, type ShippedGround } from '../../core/proof/settings';
import type { Raster } from '../../core/raster/raster';
import { drawGround, groundFacts, type GroundFile } from './grounds';
import { layersOf, writeProof, type Laid } from './write-proof';

let folder: string;
const at = (name: string) => path.join(folder, name);
beforeAll(async () => {
  folder = await freshFolder();
});

const page = (file: string, number: number | null = 1): GroundFile => ({
  kind: 'page',
  path: file,
  name: 'x.pdf',
  number,
});

const colorAt = ({ data, width }: Raster, x: number, y: number) => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];

describe('the grounds that ship', () => {
  const shipped = Object.entries(SHIPPED) as [ShippedGround, (typeof SHIPPED)[ShippedGround]][];

  it.each(shipped)(
    'are as large as they are said to be, and can be drawn: %s',
    async (which, { unit, width, height }) => {
      const ground = page(path.resolve('grounds', `${which}.pdf`));
      const facts = await groundFacts(ground);
      // Those of screens are pages of 96 pixels per inch.
      const perUnit = unit === 'mm' ? 1 : 25.4 / 96;
      expect(facts).toMatchObject({ unit: 'mm', pages: 1, number: 1, isSigned: false });
      expect(facts.width).toBeCloseTo(width * perUnit, 2);
      expect(facts.height).toBeCloseTo(height * perUnit, 2);
      const drawn = await drawGround(ground, 300);
      expect([drawn.width, drawn.height]).toEqual([300, Math.round((300 * height) / width)]);
      const colors = new Set<number>();
      for (let p = 0; p < drawn.data.length; p += 4) {
        expect(drawn.data[p + 3]).toBe(255);
        colors.add((drawn.data[p]! << 16) | (drawn.data[p + 1]! << 8) | drawn.data[p + 2]!);
      }
      expect(colors.size).toBeGreaterThan(20);
    },
  );

  it.each(['letter-a4', 'letter-us'] as const)(
    'have the line where their letter is signed: %s',
    async (which) => {
      const { line, height } = await groundFacts(page(path.resolve('grounds', `${which}.pdf`)));
      expect(line!.x).toBeCloseTo(25, 0);
      expect(line!.width).toBeCloseTo(70, 0);
      expect(Math.abs(line!.y - (height - 92))).toBeLessThan(0.5);
    },
  );
});

describe('a ground', () => {
  it('is the page that is asked for, the last one where none is', async () => {
    await writeFile(at('three.pdf'), await letterPdf({ pages: 3, size: [200, 300] }));
    expect(await groundFacts(page(at('three.pdf'), null))).toMatchObject({ pages: 3, number: 3 });
    await expect(groundFacts(page(at('three.pdf'), 4))).rejects.toThrow('has 3 pages, not 4');
  });

  it('is drawn on white where a picture is transparent, at its own size without any change', async () => {
    const picture = paint(40, 20, (x, y) => [x * 6, y * 12, 90, x < 20 ? 255 : 0]);
    await asSharp(picture).png().toFile(at('half.png'));
    const ground: GroundFile = { kind: 'picture', path: at('half.png'), name: 'half.png', page: ONLY_PAGE };
    expect(await groundFacts(ground)).toMatchObject({ unit: 'px', width: 40, height: 20, line: null });
    const own = await drawGround(ground, 40);
    expect(colorAt(own, 5, 7)).toEqual([30, 84, 90, 255]);
    expect(colorAt(own, 30, 7)).toEqual([255, 255, 255, 255]);
    const small = await drawGround(ground, 10);
    expect([small.width, small.height]).toEqual([10, 5]);
  });

  it('may be narrow or flat beyond measure: it is drawn as far as memory goes', async () => {
    const narrow: GroundFile = {
      kind: 'color',
      from: '#204060',
      to: null,
      angleDeg: 0,
      width: 16,
      height: 8000,
    };
    const drawn = await drawGround(narrow, 400_000);
    expect(drawn.width * drawn.height).toBeLessThanOrEqual(101_000_000);
    expect(colorAt(drawn, 0, 0)).toEqual([32, 64, 96, 255]);
    const flat = await drawGround({ ...narrow, width: 8000, height: 16 }, 30);
    expect([flat.width, flat.height]).toEqual([30, 1]);
  });
});

describe('writing a ground with cutouts', () => {
  const cutout = paint(80, 40, () => [20, 40, 110, 255]);
  const laid: Laid = {
    anchor: 'bottom-right',
    x: 10,
    y: 5,
    width: 20,
    angleDeg: 0,
    opacity: 100,
    blend: 'normal',
  };

  it('measures from the anchor in the unit of the ground, whatever its pixels', () => {
    const surface = { width: 100, height: 60, line: null };
    const [fine] = layersOf([laid], [cutout], surface, 10);
    expect(fine!.box).toEqual({ x: 700, y: 450, width: 200, height: 100 });
    const [coarse] = layersOf([laid], [cutout], surface, 1);
    expect(coarse!.box).toEqual({ x: 70, y: 45, width: 20, height: 10 });
  });

  it('gives a picture and the PDF of the same page the same look', async () => {
    await writeFile(at('page.pdf'), await letterPdf({ size: [283.465, 170.079] }));
    const ground = page(at('page.pdf'));
    const { unit, width, height } = await groundFacts(ground);
    const settings = { ground, unit, surface: { width, height, line: null }, dpi: 127 };
    const png = await writeProof({ ...settings, format: 'png', outPath: at('page.png') }, [laid], [cutout]);
    expect(png.verified).toMatchObject({ width: 500, height: 300, dpi: expect.closeTo(127, 0) as number });
    const pdf = await writeProof({ ...settings, format: 'pdf', outPath: at('placed.pdf') }, [laid], [cutout]);
    expect(pdf.verified.kind).toBe('PDF, appended to');
    const drawn = await drawGround(page(at('placed.pdf')), 500);
    // The middle of the piece, and the paper beside it.
    expect(colorAt(drawn, 400, 250)).toEqual([20, 40, 110, 255]);
    expect(colorAt(drawn, 330, 250)).toEqual([255, 255, 255, 255]);
  });

  it('refuses a picture as PDF, and more pixels than a picture may have', async () => {
    const color: GroundFile = {
      kind: 'color',
      from: '#ffffff',
      to: null,
      angleDeg: 0,
      width: 100,
      height: 60,
    };
    const surface = { width: 100, height: 60, line: null };
    const settings = { ground: color, unit: 'px', surface, dpi: 300, outPath: at('never') } as const;
    await expect(writeProof({ ...settings, format: 'pdf' }, [laid], [cutout])).rejects.toMatchObject({
      code: 'bad-argument',
    });
    await expect(
      writeProof(
        {
          ...settings,
          unit: 'mm',
          surface: { width: 3000, height: 3000, line: null },
          dpi: 600,
          format: 'png',
        },
        [laid],
        [cutout],
      ),
    ).rejects.toThrow('Choose fewer dpi.');
  });
});
