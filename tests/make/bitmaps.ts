import type { Raster } from '../../src/core/raster/raster';

/** How a bitmap is to be written. */
export interface BitmapKind {
  readonly bits: 1 | 2 | 4 | 8 | 16 | 24 | 32;
  readonly header?: 12 | 40 | 124;
  readonly topDown?: boolean;
  /** Red, green, blue, alpha. */
  readonly masks?: readonly [number, number, number, number];
  readonly runs?: boolean;
  readonly perMeter?: number;
}

/** A BMP file of a raster, written from the format's description as plainly as can be: a palette holds its first colors. */
export function bitmapOf({ width, height, data }: Raster, kind: BitmapKind): Buffer {
  const { bits, header = 40, topDown = false, masks, runs = false, perMeter = 0 } = kind;
  const isCore = header === 12;
  const colors: number[] = [];
  const colorAt = (x: number, y: number) => {
    const p = (y * width + x) * 4;
    return ((data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!) >>> 0;
  };
  if (bits <= 8)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) if (!colors.includes(colorAt(x, y))) colors.push(colorAt(x, y));
  if (colors.length > 1 << bits) throw new Error('too many colors');
  const palette = Buffer.concat(
    colors.map((color) =>
      Buffer.from([color & 255, (color >> 8) & 255, color >> 16, ...(isCore ? [] : [0])]),
    ),
  );
  const rows: Buffer[] = [];
  for (let k = 0; k < height; k++) {
    const y = topDown ? k : height - 1 - k;
    rows.push(runs ? runsOf(row(y)) : row(y));
  }
  const pixels = Buffer.concat([...rows, ...(runs ? [Buffer.from([0, 1])] : [])]);
  const extra = masks && header === 40 ? 12 : 0;
  const head = Buffer.alloc(14 + header + extra);
  head.write('BM', 'latin1');
  head.writeUInt32LE(head.length + palette.length + pixels.length, 2);
  head.writeUInt32LE(head.length + palette.length, 10);
  head.writeUInt32LE(header, 14);
  if (isCore) {
    head.writeUInt16LE(width, 18);
    head.writeUInt16LE(height, 20);
    head.writeUInt16LE(1, 22);
    head.writeUInt16LE(bits, 24);
  } else {
    head.writeInt32LE(width, 18);
    head.writeInt32LE(topDown ? -height : height, 22);
    head.writeUInt16LE(1, 26);
    head.writeUInt16LE(bits, 28);
    head.writeUInt32LE(masks ? 3 : runs ? (bits === 8 ? 1 : 2) : 0, 30);
    head.writeInt32LE(perMeter, 38);
    head.writeUInt32LE(colors.length, 46);
    masks?.slice(0, header === 40 ? 3 : 4).forEach((mask, k) => head.writeUInt32LE(mask >>> 0, 54 + 4 * k));
  }
  return Buffer.concat([head, palette, pixels]);

  function row(y: number): Buffer {
    const out = Buffer.alloc(runs ? width : Math.ceil((width * bits) / 32) * 4);
    for (let x = 0; x < width; x++) {
      const p = (y * width + x) * 4;
      if (bits <= 8) {
        const index = colors.indexOf(colorAt(x, y));
        if (runs) out[x] = index;
        else {
          const at = Math.floor((x * bits) / 8);
          out[at] = out[at]! | (index << (8 - bits - ((x * bits) % 8)));
        }
      } else if (masks) {
        let value = 0;
        masks.forEach((mask, c) => {
          if (mask === 0) return;
          const shift = Math.log2(mask & (-mask >>> 0));
          const most = mask >>> shift;
          value = (value | (Math.round((data[p + c]! * most) / 255) << shift)) >>> 0;
        });
        if (bits === 16) out.writeUInt16LE(value, 2 * x);
        else out.writeUInt32LE(value, 4 * x);
      } else out.set([data[p + 2]!, data[p + 1]!, data[p]!], (x * bits) / 8);
    }
    return out;
  }

  /** Runs of one index, single pixels and stretches as they are. */
  function runsOf(indexes: Buffer): Buffer {
    const out: number[] = [];
    const half = bits === 4;
    for (let x = 0; x < width;) {
      let count = 1;
      while (x + count < width && count < 255 && indexes[x + count] === indexes[x]) count++;
      if (count < 3 && width - x >= 5) {
        const taken = [...indexes.subarray(x, x + 5)];
        const bytes = half ? [0, 2, 4].map((k) => (taken[k]! << 4) | (taken[k + 1] ?? 0)) : taken;
        out.push(0, 5, ...bytes, ...(bytes.length % 2 ? [0] : []));
        x += 5;
      } else {
        const index = indexes[x]!;
        out.push(count, half ? (index << 4) | index : index);
        x += count;
      }
    }
    return Buffer.from([...out, 0, 0]);
  }
}
