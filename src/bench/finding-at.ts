import type { FindingKind } from '../core/cut/schema';

/** The place that is looked at: the how-manieth of which kind of finding. */
export interface FindingAt {
  readonly kind: FindingKind;
  readonly index: number;
  /** Whether it was decided; then the place that has its number now is the next one. */
  readonly done: boolean;
}
