import { useBench } from './bench-context';

interface Props {
  readonly density: number;
  /** The share over which the brush fades, in percent. */
  readonly softness?: number;
  /** What it does, in its middle. */
  readonly sign?: 'plus' | 'minus' | undefined;
}

/** Two rings at the pointer: where the brush ends, and within it where it begins to fade. */
export function BrushRings({ density, softness = 0, sign }: Props) {
  const over = useBench((state) => state.over);
  const brushPx = useBench((state) => state.brushPx);
  const scale = useBench(({ view }) => view.scale);
  if (!over) return null;
  const cx = over.x / density;
  const cy = over.y / density;
  const outer = (brushPx * scale) / 2 / density;
  const inner = outer * (1 - softness / 100);
  const arm = Math.min(6, outer / 2);
  const shape = `M${cx - arm} ${cy}h${2 * arm}${sign === 'plus' ? `M${cx} ${cy - arm}v${2 * arm}` : ''}`;
  const rings = (stroke: string, strokeWidth: number) => (
    <g fill="none" stroke={stroke}>
      <circle cx={cx} cy={cy} r={Math.max(1, outer)} strokeWidth={strokeWidth} />
      {softness > 0 && <circle cx={cx} cy={cy} r={inner} strokeWidth={strokeWidth * 0.6} opacity={0.85} />}
      {sign && <path d={shape} strokeWidth={strokeWidth} />}
    </g>
  );
  return (
    <>
      {rings('#ffffff', 3)}
      {rings('#1c1c1c', 1.2)}
    </>
  );
}
