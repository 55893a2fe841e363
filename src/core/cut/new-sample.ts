import type { Sample } from '../stages/clear/settings';

/** A sample at a place with everything else as it starts: by tolerance, a flat backdrop, no shade allowance, joined. */
export function newSample(id: string, x: number, y: number, change: Partial<Sample> = {}): Sample {
  return {
    id,
    x,
    y,
    to: null,
    areaPx: 5,
    rule: 'tolerance',
    tolerance: 12,
    reach: 'joined',
    backdrop: 'flat',
    shade: { darker: 0, lighter: 0 },
    on: true,
    ...change,
  };
}

/** An id that no sample of the cut has. */
export function freeSampleId(samples: readonly Sample[]): string {
  const taken = new Set(samples.map(({ id }) => id));
  for (let n = samples.length + 1; ; n++) if (!taken.has(`s${n}`)) return `s${n}`;
}
