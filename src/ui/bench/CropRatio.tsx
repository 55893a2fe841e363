import { Select } from '@mantine/core';
import { useBench, useBenchActions } from './bench-context';
import type { Crop } from '../../core/stages/prepare/settings';

const RATIOS: readonly { readonly value: string; readonly label: string; readonly ratio: number | null }[] = [
  { value: 'free', label: 'any ratio', ratio: null },
  { value: '1:1', label: '1 : 1', ratio: 1 },
  { value: '4:3', label: '4 : 3', ratio: 4 / 3 },
  { value: '3:2', label: '3 : 2', ratio: 3 / 2 },
  { value: '16:9', label: '16 : 9', ratio: 16 / 9 },
  { value: '3:1', label: '3 : 1', ratio: 3 },
];

/** Brings the crop to a ratio of width to height, around its middle. */
export function CropRatio() {
  const crop = useBench((state) => state.cut.prepare.crop);
  const frame = useBench((state) => state.frame);
  const actions = useBenchActions();
  const now: Crop = crop ?? { x: 0, y: 0, width: frame.width, height: frame.height };
  const fitting = RATIOS.find(({ ratio }) => ratio !== null && Math.abs(now.width - now.height * ratio) <= 1);
  return (
    <Select
      label="Ratio of width to height"
      size="xs"
      value={fitting?.value ?? 'free'}
      data={RATIOS.map(({ value, label }) => ({ value, label }))}
      allowDeselect={false}
      onChange={(value) => {
        const ratio = RATIOS.find((one) => one.value === value)?.ratio;
        if (ratio) actions.change('prepare', { crop: inRatio(now, ratio) });
      }}
    />
  );
}

/** The largest part of a rectangle with a ratio, in its middle. */
export function inRatio({ x, y, width, height }: Crop, ratio: number): Crop {
  const w = Math.max(1, Math.min(width, Math.round(height * ratio)));
  const h = Math.max(1, Math.min(height, Math.round(w / ratio)));
  return { x: x + ((width - w) >> 1), y: y + ((height - h) >> 1), width: w, height: h };
}
