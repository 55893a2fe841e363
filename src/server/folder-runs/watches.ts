import type { Routine } from '../../core/routine/settings';
import type { Settled } from './ledger';

/** A folder whose files are taken as they come, and how it stands. */
export interface Watch {
  readonly id: number;
  readonly folder: string;
  readonly out: string;
  readonly routine: Routine;
  readonly isOn: boolean;
  /** Why nothing is taken although it is on; null where there is no reason. */
  readonly trouble: string | null;
  /** Files that wait or are worked on. */
  readonly working: readonly string[];
  /** What became of files, the newest first. */
  readonly settled: readonly Settled[];
  readonly counts: Readonly<Record<Settled['state'], number>>;
}

/** The watched folders of a house. */
export interface Watches {
  /** Begins to watch those that are on. */
  start(): Promise<void>;
  list(): Promise<Watch[]>;
  /** Watches another folder. Throws `bad-argument` where it cannot be watched. */
  add(watch: { readonly folder: string; readonly out: string; readonly routine: Routine }): Promise<void>;
  /** Switches one on or off. */
  switch(id: number, isOn: boolean): Promise<void>;
  remove(id: number): Promise<void>;
  close(): Promise<void>;
}
