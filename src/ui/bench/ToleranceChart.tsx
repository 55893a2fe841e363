import { useElementSize } from '@mantine/hooks';
import { memo, useMemo } from 'react';
import { Area, AreaChart, ReferenceArea, XAxis, YAxis } from 'recharts';
import type { Sample } from '../../core/stages/clear/settings';
import type { CurveReport } from '../../engine/protocol';
import { formatNumber } from '../format';
import { useBench } from './bench-context';
import classes from './bench.module.css';

const HEIGHT = 104;
const USUAL_WIDTH = 276;
const PLOT = { left: 30, right: 12, top: 6, bottom: 18 };

/** How much a sample clears at every tolerance, where it is now, and where it is safe. */
export function ToleranceChart({ sample }: { readonly sample: Sample }) {
  const curve = useBench((state) => state.curves.find(({ sampleId }) => sampleId === sample.id) ?? null);
  const { ref, width: measured } = useElementSize();
  if (!curve) return <div className={classes.chart} aria-hidden="true" />;
  const width = Math.round(measured) || USUAL_WIDTH;
  const cleared = curve.percent[Math.round(sample.tolerance)] ?? 0;
  const safe = curve.safeRange;
  const left = PLOT.left + ((width - PLOT.left - PLOT.right) * sample.tolerance) / 100;
  return (
    <figure className={classes.chart} ref={ref}>
      <Curve curve={curve} width={width} />
      <span
        className={classes.chartNow}
        style={{ left, top: PLOT.top, height: HEIGHT - PLOT.top - PLOT.bottom }}
        aria-hidden="true"
      />
      <figcaption>
        <span>{formatNumber(cleared)} % cleared</span>
        <span>{safe ? `safe ${safe.from} to ${safe.to}` : 'no clear safe range'}</span>
        {!curve.exact && <span>at view size</span>}
      </figcaption>
    </figure>
  );
}

/** The drawing itself. It does not depend on the tolerance, so it stays as it is while the slider moves. */
const Curve = memo(function Curve({ curve, width }: { readonly curve: CurveReport; readonly width: number }) {
  const data = useMemo(() => curve.percent.map((percent, tolerance) => ({ tolerance, percent })), [curve]);
  const safe = curve.safeRange;
  const margin = { top: PLOT.top, right: PLOT.right, bottom: 0, left: 0 };
  return (
    <AreaChart width={width} height={HEIGHT} data={data} margin={margin} accessibilityLayer={false}>
      {safe && (
        <ReferenceArea
          x1={safe.from}
          x2={safe.to}
          fill="var(--accent)"
          fillOpacity={0.14}
          strokeOpacity={0}
        />
      )}
      <Area
        dataKey="percent"
        type="stepAfter"
        stroke="var(--ink)"
        strokeWidth={1.2}
        fill="var(--ink)"
        fillOpacity={0.08}
        isAnimationActive={false}
      />
      <XAxis
        dataKey="tolerance"
        type="number"
        domain={[0, 100]}
        ticks={[0, 25, 50, 75, 100]}
        height={PLOT.bottom}
        {...AXIS}
      />
      <YAxis domain={[0, 100]} ticks={[0, 50, 100]} width={PLOT.left} {...AXIS} />
    </AreaChart>
  );
});

const AXIS = {
  tickLine: false,
  axisLine: { stroke: 'var(--line)' },
  tick: { fill: 'var(--ink-soft)', fontSize: 11 },
} as const;
