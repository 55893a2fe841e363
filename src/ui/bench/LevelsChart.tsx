import { Switch } from '@mantine/core';
import { useState } from 'react';
import { Area, AreaChart, ReferenceLine, XAxis, YAxis } from 'recharts';
import type { ByInk } from '../../core/stages/clear/settings';
import classes from './bench.module.css';

const SIZE = { width: 272, height: 96 };

/** How often each reading occurs, with the points of the levels. */
export function LevelsChart({
  ink,
  histogram,
}: {
  readonly ink: ByInk;
  readonly histogram: readonly number[];
}) {
  const [log, setLog] = useState(true);
  const data = histogram.map((count, reading) => ({ reading, height: log ? Math.log10(1 + count) : count }));
  const line = (x: number, label: string) => (
    <ReferenceLine
      x={Math.round(x)}
      stroke="var(--mantine-color-text)"
      strokeWidth={1}
      label={{ value: label, position: 'insideTop', fontSize: 11, fill: 'var(--mantine-color-text)' }}
    />
  );
  return (
    <div>
      <figure
        className={classes.levels}
        aria-label={`Histogram of ${ink.channel}, with black, mid and white point`}
      >
        <AreaChart
          {...SIZE}
          data={data}
          margin={{ top: 14, right: 12, bottom: 0, left: 8 }}
          accessibilityLayer={false}
        >
          <XAxis
            dataKey="reading"
            type="number"
            domain={[0, 255]}
            ticks={[0, 64, 128, 192, 255]}
            tick={{ fontSize: 11 }}
            height={18}
          />
          <YAxis hide domain={[0, 'dataMax']} />
          <Area
            dataKey="height"
            type="step"
            stroke="none"
            fill="var(--mantine-color-dimmed)"
            fillOpacity={0.55}
            isAnimationActive={false}
          />
          {line(ink.black, 'B')}
          {line(ink.mid, 'M')}
          {line(ink.white, 'W')}
        </AreaChart>
      </figure>
      <Switch
        size="xs"
        label="Logarithmic, so that little ink is seen"
        checked={log}
        onChange={({ currentTarget }) => setLog(currentTarget.checked)}
      />
    </div>
  );
}
