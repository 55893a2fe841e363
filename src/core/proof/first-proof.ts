import { heldAt, type PlacedBox, type Surface } from './place';
import {
  PROOF_VERSION,
  SHIPPED,
  type Anchor,
  type Ground,
  type GroundSource,
  type Placement,
  type Proof,
  type ShippedGround,
} from './settings';

/** Where a piece is laid at first on each ground that ships, in its unit, and by which anchor it is held. */
const SLOTS: Readonly<Record<ShippedGround, PlacedBox & { readonly anchor: Anchor }>> = {
  'letter-a4': { x: 25, y: 180, width: 58, height: 24, anchor: 'line' },
  'letter-us': { x: 25, y: 162, width: 58, height: 24, anchor: 'line' },
  slide: { x: 1130, y: 190, width: 640, height: 700, anchor: 'right' },
  'header-light': { x: 120, y: 14, width: 400, height: 68, anchor: 'top-left' },
  'header-dark': { x: 120, y: 14, width: 400, height: 68, anchor: 'top-left' },
  card: { x: 7, y: 6, width: 44, height: 20, anchor: 'top-left' },
  tile: { x: 140, y: 90, width: 720, height: 620, anchor: 'center' },
  thumbnail: { x: 740, y: 110, width: 470, height: 470, anchor: 'right' },
};

/** On any other ground: this share of its width and height, so far from its lower right corner. */
const SHARE = 0.3;
const INSET_SHARE = 0.06;

/** A signature on paper: how large it is at most, in millimeters. */
const SIGNATURE_MM = { width: 58, height: 24 } as const;

/** How far a piece begins behind the beginning of the line that it lies on. */
const ALONG_LINE_MM = 3;

/** A piece laid on a ground where such pieces usually lie there; its height is `aspect` times its width. */
export function firstPlacement(
  source: GroundSource,
  unit: 'mm' | 'px',
  surface: Surface,
  aspect: number,
  piece: Pick<Placement, 'id' | 'piece'>,
): Placement {
  const { box, anchor } = firstBox(source, unit, surface, aspect);
  return {
    ...piece,
    colorway: null,
    light: false,
    ...heldAt(box, anchor, surface),
    angleDeg: 0,
    opacity: 100,
    // Ink soaks into paper.
    blend: unit === 'mm' && source.kind !== 'picture' ? 'multiply' : 'normal',
  };
}

function firstBox(
  source: GroundSource,
  unit: 'mm' | 'px',
  surface: Surface,
  aspect: number,
): { readonly box: PlacedBox; readonly anchor: Anchor } {
  const { line, width, height } = surface;
  if (line) {
    const box = fitted(
      { x: 0, y: 0, width: Math.min(SIGNATURE_MM.width, line.width), height: SIGNATURE_MM.height },
      aspect,
    );
    const x = line.x + Math.min(ALONG_LINE_MM, Math.max(0, line.width - box.width) / 2);
    return { box: { ...box, x, y: line.y - box.height }, anchor: 'line' };
  }
  if (source.kind === 'shipped') {
    const slot = SLOTS[source.which];
    return { box: fitted(slot, aspect, slot.anchor.includes('left')), anchor: slot.anchor };
  }
  const isCentered = source.kind === 'color';
  const share = isCentered ? 2 * SHARE : SHARE;
  const most = unit === 'mm' ? SIGNATURE_MM : { width: share * width, height: share * height };
  const inset = INSET_SHARE * Math.min(width, height);
  const box = fitted({ x: 0, y: 0, ...most }, aspect);
  if (isCentered)
    return { box: { ...box, x: (width - box.width) / 2, y: (height - box.height) / 2 }, anchor: 'center' };
  return {
    box: { ...box, x: width - inset - box.width, y: height - inset - box.height },
    anchor: 'bottom-right',
  };
}

/** The largest box of a shape within another: in its middle, or at its left. */
function fitted(slot: PlacedBox, aspect: number, isLeft = false): PlacedBox {
  const width = Math.min(slot.width, slot.height / aspect);
  const height = width * aspect;
  return {
    x: isLeft ? slot.x : slot.x + (slot.width - width) / 2,
    y: slot.y + (slot.height - height) / 2,
    width,
    height,
  };
}

/** The grounds that a piece is tried on first. */
export const FIRST_GROUNDS: readonly GroundSource[] = [
  { kind: 'shipped', which: 'letter-a4' },
  { kind: 'shipped', which: 'header-light' },
  { kind: 'shipped', which: 'header-dark' },
  { kind: 'shipped', which: 'slide' },
  { kind: 'shipped', which: 'card' },
  { kind: 'shipped', which: 'tile' },
  { kind: 'shipped', which: 'thumbnail' },
  { kind: 'color', from: '#8a8a8a', to: null, angleDeg: 0, width: 1200, height: 800 },
];

export function newProof(grounds: readonly Ground[]): Proof {
  return { format: 'kenosis-proof', version: PROOF_VERSION, grounds: [...grounds] };
}

/** An id that none of these has. */
export function freshId(taken: readonly { readonly id: string }[]): string {
  const known = new Set(taken.map(({ id }) => id));
  for (let number = 1; ; number++) if (!known.has(`g${number}`)) return `g${number}`;
}

/** The size of a ground that needs no file to be known; null for a page or a picture. */
export function sizeOfSource(source: GroundSource): {
  readonly name: string;
  readonly unit: 'mm' | 'px';
  readonly width: number;
  readonly height: number;
} | null {
  if (source.kind === 'shipped') return SHIPPED[source.which];
  if (source.kind !== 'color') return null;
  const { from, to, width, height } = source;
  return { name: to ? `${from} to ${to}` : from, unit: 'px', width, height };
}
