import fontkit from '@cantoo/fontkit';
import { PDFDocument, rgb, type PDFFont, type PDFPage } from '@cantoo/pdf-lib';
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { SHIPPED, type ShippedGround } from '../src/core/proof/settings';

const POINTS_PER_MM = 72 / 25.4;
/** A screen of 96 pixels per inch. */
const POINTS_PER_PX = 72 / 96;

const NAVY = '#1d3557';
const TEAL = '#2a7f86';
const SAND = '#e9c46a';
const CORAL = '#f2715c';
const FOAM = '#f4f1e8';
const INK = '#26282d';
const SOFT = '#6a6d73';

/** A page in the ground's own unit, from its upper left corner. */
class Sheet {
  constructor(
    private readonly page: PDFPage,
    private readonly scale: number,
    private readonly fonts: { readonly regular: PDFFont; readonly bold: PDFFont },
  ) {}

  text(
    words: string,
    x: number,
    y: number,
    size: number,
    color: string,
    weight: 'regular' | 'bold' = 'regular',
  ) {
    const { scale, page } = this;
    const font = this.fonts[weight];
    page.drawText(words, {
      x: x * scale,
      y: page.getHeight() - y * scale,
      size: size * scale,
      font,
      color: toned(color),
    });
  }

  box(x: number, y: number, width: number, height: number, color: string, opacity = 1) {
    const { scale, page } = this;
    page.drawRectangle({
      x: x * scale,
      y: page.getHeight() - (y + height) * scale,
      width: width * scale,
      height: height * scale,
      color: toned(color),
      opacity,
    });
  }

  /** An outline in the language of SVG paths, in the ground's unit. */
  shape(outline: string, color: string, opacity = 1) {
    const { scale, page } = this;
    page.drawSvgPath(outline, { x: 0, y: page.getHeight(), scale, color: toned(color), opacity });
  }

  /** A color that goes over into another from top to bottom, in bands too thin to be seen. */
  fade(x: number, y: number, width: number, height: number, from: string, to: string) {
    const bands = 120;
    for (let k = 0; k < bands; k++)
      this.box(x, y + (k * height) / bands, width, height / bands + 0.6, mixed(from, to, k / (bands - 1)));
  }
}

/** Red, green and blue of a color, 0 to 1. */
function partsOf(color: string): [number, number, number] {
  const value = Number.parseInt(color.slice(1), 16);
  return [(value >> 16) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255];
}

function toned(color: string) {
  return rgb(...partsOf(color));
}

function mixed(from: string, to: string, share: number): string {
  const [one, other] = [partsOf(from), partsOf(to)];
  return `#${one
    .map((value, c) => Math.round(255 * (value + share * (other[c]! - value))))
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')}`;
}

function kite(sheet: Sheet, x: number, y: number, size: number): void {
  const at = (u: number, v: number) => `${x + u * size} ${y + v * size}`;
  sheet.shape(`M${at(0, -1)}L${at(-0.7, 0)}L${at(0, 0)}Z`, CORAL);
  sheet.shape(`M${at(0, -1)}L${at(0.7, 0)}L${at(0, 0)}Z`, SAND);
  sheet.shape(`M${at(-0.7, 0)}L${at(0, 1.2)}L${at(0, 0)}Z`, TEAL);
  sheet.shape(`M${at(0.7, 0)}L${at(0, 1.2)}L${at(0, 0)}Z`, NAVY);
}

function letter(sheet: Sheet, { width, height }: { readonly width: number; readonly height: number }): void {
  const left = 25;
  kite(sheet, left + 4, 22, 5.4);
  sheet.text('Ostrel Kiteworks', left + 13, 21.5, 6.4, NAVY, 'bold');
  sheet.text('Kites, spools and tails, made by hand', left + 13, 26.8, 3.3, SOFT);
  ['Sail Loft 3', 'Harrow Point', 'letters@ostrel.example'].forEach((line, k) =>
    sheet.text(line, width - 66, 19.5 + 4.6 * k, 3.1, SOFT),
  );
  sheet.box(left, 36, width - 2 * left, 0.35, SAND);
  ['Tilde Harrow', 'Lighthouse Row 8', 'Cape Marl'].forEach((line, k) =>
    sheet.text(line, left, 58 + 5.2 * k, 3.9, INK),
  );
  sheet.text('12 May', width - left - 14, 84, 3.9, INK);
  sheet.text('Your two kites', left, 100, 3.9, INK, 'bold');
  const body = [
    'Dear Tilde Harrow,',
    '',
    'your two kites left the workshop today. The red one has a new spar and a longer tail.',
    'Fly it in a steady wind, and keep the line dry afterwards.',
    '',
    'The spools follow by the evening boat. If anything is amiss, write to us and we will',
    'mend it.',
    '',
    'With kind regards',
  ];
  body.forEach((line, k) => sheet.text(line, left, 112 + 6 * k, 3.9, INK));
  const line = height - 92;
  sheet.box(left, line, 70, 0.25, INK);
  sheet.text('Maren Ostrel', left, line + 5.4, 3.5, INK);
  sheet.text('Ostrel Kiteworks  ·  Sail Loft 3  ·  Harrow Point', left, height - 16, 2.9, SOFT);
}

const DRAW: Readonly<Record<ShippedGround, (sheet: Sheet) => void>> = {
  'letter-a4': (sheet) => letter(sheet, SHIPPED['letter-a4']),
  'letter-us': (sheet) => letter(sheet, SHIPPED['letter-us']),
  slide(sheet) {
    sheet.box(0, 0, 1920, 1080, '#fbfaf7');
    sheet.box(0, 0, 24, 1080, TEAL);
    sheet.text('Spring at the workshop', 130, 220, 84, NAVY, 'bold');
    [
      'Three new sails, all of them sewn here',
      'Spools with a brake that holds in a gale',
      'Open days from the first of May',
    ].forEach((line, k) => {
      sheet.box(132, 392 + 116 * k, 18, 18, CORAL);
      sheet.text(line, 180, 412 + 116 * k, 42, INK);
    });
    sheet.text('Ostrel Kiteworks', 130, 1010, 28, SOFT);
    sheet.text('7', 1770, 1010, 28, SOFT);
  },
  'header-light': (sheet) =>
    header(sheet, { bar: '#ffffff', words: INK, soft: SOFT, from: '#dfeaf0', to: '#f6efe2', title: NAVY }),
  'header-dark': (sheet) =>
    header(sheet, {
      bar: '#14181d',
      words: '#e7e9ec',
      soft: '#9aa3ad',
      from: '#1c242c',
      to: '#0f1317',
      title: '#f4f1e8',
    }),
  card(sheet) {
    sheet.box(0, 0, 85, 55, '#ffffff');
    sheet.box(0, 51.6, 85, 3.4, NAVY);
    sheet.text('Maren Ostrel', 7, 33, 4.6, NAVY, 'bold');
    sheet.text('Kites, spools and tails', 7, 37.6, 2.9, SOFT);
    sheet.text('Sail Loft 3, Harrow Point', 7, 44, 2.7, INK);
    sheet.text('maren@ostrel.example', 7, 47.6, 2.7, INK);
  },
  tile(sheet) {
    sheet.box(0, 0, 1000, 1000, '#ffffff');
    sheet.box(40, 40, 920, 720, '#f0efeb');
    sheet.text('Harrow, a kite for steady wind', 44, 840, 44, INK, 'bold');
    sheet.text('Ripstop and ash, 1.4 m', 44, 894, 32, SOFT);
    sheet.text('84', 880, 840, 44, TEAL, 'bold');
    sheet.box(44, 930, 912, 2, '#d8d5cd');
  },
  thumbnail(sheet) {
    sheet.fade(0, 0, 1280, 720, '#2c6f93', '#e8d9b8');
    sheet.shape('M0 520Q320 470 640 516T1280 500V720H0Z', '#c9ae7c');
    sheet.shape('M0 596Q420 548 820 600T1280 580V720H0Z', '#b3945f', 0.8);
    sheet.text('How to sew', 70, 250, 104, FOAM, 'bold');
    sheet.text('a tail', 70, 366, 104, FOAM, 'bold');
    sheet.box(1140, 640, 104, 46, '#000000', 0.72);
    sheet.text('12:40', 1156, 674, 30, '#ffffff', 'bold');
  },
};

function header(
  sheet: Sheet,
  { bar, words, soft, from, to, title }: Record<'bar' | 'words' | 'soft' | 'from' | 'to' | 'title', string>,
): void {
  sheet.box(0, 0, 1440, 480, bar);
  sheet.fade(0, 96, 1440, 384, from, to);
  ['Kites', 'Spools', 'Repairs', 'Visit us'].forEach((word, k) =>
    sheet.text(word, 870 + 136 * k, 58, 22, words),
  );
  sheet.text('Made where the wind is', 120, 288, 56, title, 'bold');
  sheet.text('Kites, spools and tails from a loft on the coast', 122, 342, 24, soft);
}

/** Draws the grounds that ship, each a PDF of one page. */
export async function drawGrounds(folder: string): Promise<void> {
  const fontOf = (weight: number) =>
    readFile(
      path.resolve(`node_modules/@fontsource/commissioner/files/commissioner-latin-${weight}-normal.woff`),
    );
  const [regular, bold] = await Promise.all([fontOf(400), fontOf(700)]);
  for (const [which, { unit, width, height }] of Object.entries(SHIPPED)) {
    const document = await PDFDocument.create({ updateMetadata: false });
    document.registerFontkit(fontkit);
    document.setProducer('Kenosis');
    document.setTitle(SHIPPED[which as ShippedGround].name);
    const fonts = {
      regular: await document.embedFont(regular, { subset: true }),
      bold: await document.embedFont(bold, { subset: true }),
    };
    const scale = unit === 'mm' ? POINTS_PER_MM : POINTS_PER_PX;
    const page = document.addPage([width * scale, height * scale]);
    DRAW[which as ShippedGround](new Sheet(page, scale, fonts));
    await writeFile(path.join(folder, `${which}.pdf`), await document.save({ useObjectStreams: false }));
    console.log(`${which}.pdf: ${width} x ${height} ${unit}`);
  }
}
