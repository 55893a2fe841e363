import { same } from '../stages/stage';
import type { Watermark } from './settings';

/** What a change of a watermark is called in undo. */
export function describeWatermarkChange(before: Watermark, after: Watermark): string {
  if (before.name !== after.name) return 'another name';
  if (!same(before.layout, after.layout)) return layoutChange(before, after);
  if (!same(before.look, after.look)) {
    const keys = Object.keys(after.look) as (keyof Watermark['look'])[];
    const changed = keys.filter((key) => !same(before.look[key], after.look[key]));
    return changed.length === 1 ? LOOK_WORDS[changed[0]!] : 'look';
  }
  if (!same(before.portrait, after.portrait))
    return (before.portrait === null) === (after.portrait === null)
      ? 'place on portraits'
      : 'portraits apart';
  if (!same(before.place, after.place)) {
    const keys = Object.keys(after.place) as (keyof Watermark['place'])[];
    const changed = keys.filter((key) => !same(before.place[key], after.place[key]));
    return changed.length === 1 ? PLACE_WORDS[changed[0]!] : 'place';
  }
  return 'no change';
}

const LOOK_WORDS: Readonly<Record<keyof Watermark['look'], string>> = {
  light: 'light color',
  dark: 'dark color',
  version: 'light or dark',
  opacity: 'opacity',
  blend: 'blending',
  outline: 'outline',
  shadow: 'shadow',
  plate: 'plate',
  contrast: 'contrast',
};

const PLACE_WORDS: Readonly<Record<keyof Watermark['place'], string>> = {
  size: 'size',
  anchor: 'place',
  inset: 'inset',
  angleDeg: 'turn',
  quiet: 'quiet place',
  mostShare: 'most of the picture',
  tiled: 'tiling',
};

function layoutChange(before: Watermark, after: Watermark): string {
  const parts = ({ layout }: Watermark) => layout.groups.flatMap((group) => group.parts);
  const [old, now] = [parts(before), parts(after)];
  if (now.length > old.length) return 'a part more';
  if (now.length < old.length) return 'a part less';
  const changed = now.filter((part) => {
    const twin = old.find(({ id }) => id === part.id);
    return !twin || !same(twin, part);
  });
  if (changed.length !== 1) return 'layout';
  const [part] = changed as [(typeof now)[number]];
  const twin = old.find(({ id }) => id === part.id);
  if (part.kind === 'text' && twin?.kind === 'text') {
    if (part.text !== twin.text) return 'text';
    if (!same(part.font, twin.font) || part.weight !== twin.weight) return 'typeface';
  }
  return part.kind === 'text' ? 'text settings' : 'cutout';
}
