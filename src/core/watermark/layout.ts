import type { Raster } from '../raster/raster';
import type { CutoutPart, Group, TextPart, Watermark } from './settings';
import { PATH, PATH_NUMBERS, type ShapedLine } from './shaped';

/** What the parts of a watermark are made of, by their ids. */
export interface MarkMaterial {
  /** Of each text its lines. */
  readonly lines: ReadonlyMap<string, readonly ShapedLine[]>;
  /** sRGB, straight alpha, trimmed to what is seen. */
  readonly cutouts: ReadonlyMap<string, Raster>;
}

/** A box in the mark's own unit: 100 is the size of a text's letters. */
export interface MarkBox {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Something to draw. */
export type MarkItem =
  | {
      readonly kind: 'path';
      readonly path: readonly number[];
      /** Where the path's origin lies, and how large its unit is; y runs up in it. */
      readonly x: number;
      readonly y: number;
      readonly size: number;
    }
  | { readonly kind: 'cutout'; readonly cutout: Raster; readonly box: MarkBox; readonly painted: boolean };

/** A watermark whose parts have their places. */
export interface LaidMark {
  readonly items: readonly MarkItem[];
  /** What of it is seen, without outline, shadow and plate. Its size is 0 where nothing is. */
  readonly box: MarkBox;
}

/** A part or a group before it has its place: how large it is, and what it draws from its upper left corner. */
interface Block {
  readonly width: number;
  readonly height: number;
  readonly items: readonly MarkItem[];
}

/** Gives the parts of a watermark their places. Parts without material, and texts without letters, take no room. */
export function laidMark({ layout }: Watermark, material: MarkMaterial): LaidMark {
  const isRows = layout.of === 'rows';
  const groups = layout.groups.map((group) => groupBlock(group, isRows, material)).filter(isSomething);
  const whole = stacked(groups, { across: !isRows, gap: layout.gap, align: layout.align });
  return { items: whole.items, box: inkBox(whole.items) };
}

function groupBlock({ parts, gap, align }: Group, isRows: boolean, material: MarkMaterial): Block {
  const blocks = parts.map((part) =>
    part.kind === 'text' ? textBlock(part, material) : cutoutBlock(part, material),
  );
  return stacked(blocks.filter(isSomething), { across: isRows, gap, align });
}

const isSomething = ({ width, height }: Block) => width > 0 && height > 0;

/** Blocks one behind the other, beside each other or above each other. */
function stacked(
  blocks: readonly Block[],
  { across, gap, align }: { readonly across: boolean; readonly gap: number; readonly align: Group['align'] },
): Block {
  const thick = Math.max(0, ...blocks.map(({ width, height }) => (across ? height : width)));
  const share = align === 'start' ? 0 : align === 'end' ? 1 : 0.5;
  const items: MarkItem[] = [];
  let at = 0;
  for (const block of blocks) {
    const room = share * (thick - (across ? block.height : block.width));
    items.push(...block.items.map((item) => moved(item, across ? at : room, across ? room : at)));
    at += (across ? block.width : block.height) + gap;
  }
  const long = Math.max(0, at - gap);
  return { width: across ? long : thick, height: across ? thick : long, items };
}

function moved(item: MarkItem, x: number, y: number): MarkItem {
  if (item.kind === 'path') return { ...item, x: item.x + x, y: item.y + y };
  return { ...item, box: { ...item.box, x: item.box.x + x, y: item.box.y + y } };
}

/** A text: its lines at their distance, each as long as its letters, trimmed to what is seen of them. */
function textBlock({ id, size, tracking, lineHeight, align }: TextPart, { lines }: MarkMaterial): Block {
  const items: MarkItem[] = [];
  const wide: number[] = [];
  for (const [k, { glyphs }] of (lines.get(id) ?? []).entries()) {
    const own: MarkItem[] = [];
    let x = 0;
    for (const { path, advance, dx, dy } of glyphs) {
      if (path.length > 0)
        own.push({
          kind: 'path',
          path,
          x: x + dx * size,
          y: k * size * (lineHeight / 100) - dy * size,
          size,
        });
      x += (advance + tracking / 1000) * size;
    }
    const { x: start, width } = inkBox(own);
    items.push(...own.map((item) => ({ ...moved(item, -start, 0), line: k })));
    wide.push(width);
  }
  const box = inkBox(items);
  const share = align === 'left' ? 0 : align === 'right' ? 1 : 0.5;
  const placed = (items as (MarkItem & { readonly line: number })[]).map(({ line, ...item }) =>
    moved(item, share * (box.width - wide[line]!), -box.y),
  );
  return { width: box.width, height: box.height, items: placed };
}

function cutoutBlock({ id, size, painted }: CutoutPart, { cutouts }: MarkMaterial): Block {
  const cutout = cutouts.get(id);
  if (!cutout) return { width: 0, height: 0, items: [] };
  const width = (size * cutout.width) / cutout.height;
  const box = { x: 0, y: 0, width, height: size };
  return { width, height: size, items: [{ kind: 'cutout', cutout, box, painted }] };
}

/** The smallest box that holds what is seen of items: of curves the points that span them, which they never leave. */
export function inkBox(items: readonly MarkItem[]): MarkBox {
  let left = Infinity;
  let top = Infinity;
  let right = -Infinity;
  let bottom = -Infinity;
  const take = (x: number, y: number) => {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  };
  for (const item of items) {
    if (item.kind === 'cutout') {
      take(item.box.x, item.box.y);
      take(item.box.x + item.box.width, item.box.y + item.box.height);
      continue;
    }
    const { path, x, y, size } = item;
    for (let k = 0; k < path.length;) {
      const code = path[k]!;
      const count = PATH_NUMBERS[code]!;
      if (code !== PATH.close)
        for (let n = 1; n <= count; n += 2) take(x + path[k + n]! * size, y - path[k + n + 1]! * size);
      k += 1 + count;
    }
  }
  return left > right
    ? { x: 0, y: 0, width: 0, height: 0 }
    : { x: left, y: top, width: right - left, height: bottom - top };
}
