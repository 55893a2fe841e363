/** What one part of the campaign tried, and what came of it. */
export interface PartReport {
  readonly part: string;
  /** How often each outcome came, in the order in which they first came. */
  readonly counts: ReadonlyMap<string, number>;
  /** What must not be: each with the seed or the words by which it can be tried again. */
  readonly wrong: readonly string[];
  /** Figures worth telling. */
  readonly figures: readonly string[];
}

/** Collects what a part finds. */
export class Tally {
  private readonly counts = new Map<string, number>();
  private readonly wrongs: string[] = [];
  private readonly told: string[] = [];

  constructor(private readonly part: string) {}

  count(outcome: string, by = 1): void {
    this.counts.set(outcome, (this.counts.get(outcome) ?? 0) + by);
  }

  wrong(what: string): void {
    this.count('wrong');
    this.wrongs.push(what);
  }

  /** Notes what must not be where `right` does not hold. */
  expect(right: boolean, what: string): void {
    this.count('checked');
    if (!right) this.wrong(what);
  }

  figure(what: string): void {
    this.told.push(what);
  }

  report(): PartReport {
    return { part: this.part, counts: this.counts, wrong: this.wrongs, figures: this.told };
  }
}

/** When a part has to come to its end. */
export interface Limits {
  readonly seed: number;
  /** Milliseconds since the epoch. */
  readonly until: number;
  /** How many things to try at most. */
  readonly most: number;
}

export function linesOf({ part, counts, wrong, figures }: PartReport): string[] {
  const outcomes = [...counts].map(([outcome, count]) => `${count} ${outcome}`).join(', ');
  return [
    `${part}: ${outcomes || 'nothing tried'}`,
    ...figures.map((figure) => `    ${figure}`),
    ...wrong.slice(0, 20).map((what) => `    WRONG: ${what}`),
    ...(wrong.length > 20 ? [`    and ${wrong.length - 20} more`] : []),
  ];
}
