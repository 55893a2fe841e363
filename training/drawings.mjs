// Composes drawings of open icon sets on plain grounds, with exact truth: node training/drawings.mjs ICONS LEFT_OUT OUT COUNT SEED
//
// ICONS holds the unpacked packages @iconify-json/{fluent-emoji-flat (MIT), noto (Apache-2.0), twemoji (CC-BY 4.0), tabler (MIT), ph (MIT)}.
// LEFT_OUT lists code points of subjects that nothing may be learned from, one `U+...` a line; they are left out in every set. Outlines
// without a filled body are left out too, since nobody can say what they mean, and so are brands.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';

const [, , iconFolder, leftOut, out, count, seed] = process.argv;

let state = (Number(seed) * 7919 + 13) % 4294967296;
const random = () => (state = (state * 1664525 + 1013904223) % 4294967296) / 4294967296;
const between = (low, high) => low + (high - low) * random();
const pick = (list) => list[Math.floor(random() * list.length)];
const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-9)) * Math.cos(2 * Math.PI * random());

const denied = new Set(
  readFileSync(leftOut, 'utf8')
    .split('\n')
    .filter((line) => line.startsWith('U+'))
    .map((line) => line.trim().slice(2).toLowerCase()),
);

/** The drawings of a set: names and SVG bodies. */
function drawingsOf(set) {
  const folder = path.join(iconFolder, set);
  const {
    icons,
    width = 16,
    height = width,
  } = JSON.parse(readFileSync(path.join(folder, 'icons.json'), 'utf8'));
  const chars = existsSync(path.join(folder, 'chars.json'))
    ? JSON.parse(readFileSync(path.join(folder, 'chars.json'), 'utf8'))
    : {};
  const isDenied = new Set(
    Object.entries(chars)
      .filter(([points]) => points.split('-').some((point) => denied.has(point.toLowerCase())))
      .map(([, name]) => name),
  );
  const isSign = set === 'tabler' || set === 'ph';
  return Object.entries(icons)
    .filter(([name]) => {
      if (isSign) return /-fill(ed)?$/.test(name) && !/brand|logo/.test(name);
      return !isDenied.has(name) && !/flag|person|man|woman|boy|girl|family|couple|kiss/.test(name);
    })
    .map(([name, icon]) => ({
      set,
      name,
      body: icon.body,
      w: icon.width ?? width,
      h: icon.height ?? height,
      isSign,
    }));
}

const emoji = ['fluent-emoji-flat', 'noto', 'twemoji'].flatMap(drawingsOf);
const signs = ['tabler', 'ph'].flatMap(drawingsOf);
const GROUNDS = [
  [248, 248, 246],
  [238, 236, 230],
  [200, 200, 200],
  [150, 160, 170],
  [120, 170, 215],
  [230, 190, 190],
  [190, 215, 170],
  [235, 220, 120],
  [60, 70, 90],
  [20, 20, 20],
];

/** The tones of a painted-in checkerboard by their places. */
function checkerboard() {
  const cell = between(5, 36);
  const tones = pick([
    [255, 204],
    [255, 229],
    [255, 191],
    [204, 153],
    [102, 153],
    [255, 240],
  ]);
  const [u, v] = [random() * 2 * cell, random() * 2 * cell];
  return (x, y) => tones[(Math.floor((x + u) / cell) + Math.floor((y + v) / cell)) % 2];
}

/** The share of the light that a drawing leaves of its ground: it casts a shadow on a wall, or stands in its own. */
async function shadowOf(own, side, w, h, left, top) {
  const alone = Buffer.alloc(w * h);
  const [dx, dy] = [between(-40, 40), between(6, 40)];
  for (let v = 0; v < side; v++)
    for (let u = 0; u < side; u++) {
      const [x, y] = [Math.round(u + left + dx), Math.round(v + top + dy)];
      if (x >= 0 && y >= 0 && x < w && y < h) alone[y * w + x] = own[(v * side + u) * 4 + 3];
    }
  const raw = { width: w, height: h, channels: 1 };
  const soft = await sharp(alone, { raw })
    .blur(pick([0.5, between(0.5, 3), between(3, 14)]))
    .toColourspace('b-w')
    .raw()
    .toBuffer();
  const depth = between(0.12, 0.5);
  return (x, y) => 1 - (depth * soft[y * w + x]) / 255;
}

async function compose() {
  const w = Math.round(between(300, 460));
  const h = Math.round(w * between(0.75, 1.1));
  const sign = random() < 0.35;
  const drawing = pick(sign ? signs : emoji);
  const side = Math.round(Math.min(w, h) * between(0.55, 0.9));
  const color = `rgb(${[0, 0, 0].map(() => Math.round(between(0, random() < 0.7 ? 140 : 255))).join(',')})`;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${side * 3}" height="${side * 3}" viewBox="0 0 ${drawing.w} ${drawing.h}" color="${color}">${drawing.body}</svg>`;
  const own = await sharp(Buffer.from(svg))
    .resize(side, side, { kernel: 'cubic' })
    .ensureAlpha()
    .raw()
    .toBuffer();
  const [left, top] = [
    Math.round((w - side) * between(0.2, 0.8)),
    Math.round((h - side) * between(0.2, 0.8)),
  ];
  const ground = random() < 0.5 ? [255, 255, 255] : pick(GROUNDS);
  const fall = random() < 0.5 ? 0 : between(0, 0.12);
  const turn = random() * 6.28;
  const grain = random() < 0.35 ? between(0.4, 2) : 0;
  const board = random() < 0.15 ? checkerboard() : null;
  const shade = random() < 0.3 && !board ? await shadowOf(own, side, w, h, left, top) : null;
  const picture = Buffer.alloc(w * h * 3);
  const truth = Buffer.alloc(w * h * 4);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const light =
        1 -
        fall *
          ((x / w - 0.5) * Math.cos(turn) + (y / h - 0.5) * Math.sin(turn) + 0.5) *
          (shade ? shade(x, y) : 1);
      const [u, v] = [x - left, y - top];
      const p = u >= 0 && v >= 0 && u < side && v < side ? (v * side + u) * 4 : -1;
      const alpha = p < 0 ? 0 : own[p + 3] / 255;
      for (let c = 0; c < 3; c++) {
        const value =
          (p < 0 ? 0 : own[p + c]) * alpha +
          (board ? board(x, y) : ground[c]) * light * (1 - alpha) +
          grain * normal();
        picture[i * 3 + c] = Math.max(0, Math.min(255, Math.round(value)));
        truth[i * 4 + c] = alpha > 0 ? own[p + c] : 0;
      }
      truth[i * 4 + 3] = Math.round(alpha * 255);
    }
  return {
    w,
    h,
    picture,
    truth,
    told: `${drawing.set} ${drawing.name} on ${ground} falling ${fall.toFixed(2)} grain ${grain.toFixed(1)}`,
  };
}

for (let k = 0; k < Number(count); k++) {
  const composed = await compose().catch(() => null);
  // A few drawings of these sets are none to the renderer.
  if (!composed) continue;
  const { w, h, picture, truth, told } = composed;
  const name = `drawn-${seed}-${String(k).padStart(4, '0')}`;
  const folder = path.join(out, 'cases', name);
  mkdirSync(folder, { recursive: true });
  const quality = random() < 0.6 ? Math.round(between(60, 97)) : null;
  const input = quality === null ? 'input.png' : 'input.jpg';
  const image = sharp(picture, { raw: { width: w, height: h, channels: 3 } });
  await (
    quality === null
      ? image.png()
      : image.jpeg({ quality, chromaSubsampling: random() < 0.6 ? '4:2:0' : '4:4:4' })
  ).toFile(path.join(folder, input));
  await sharp(truth, { raw: { width: w, height: h, channels: 4 } })
    .png()
    .toFile(path.join(folder, 'truth.png'));
  const found = { name, category: 'drawn', input, truth: 'truth.png', background: told, hint: {} };
  writeFileSync(path.join(folder, 'case.json'), JSON.stringify(found));
}
