import type { RoutineInput, RoutineResult } from '../routine-task';
import type { ErrorCode, WayOut } from '../../../core/errors';

/** What stands in the queue of a picture: everything but places, which each machine knows for itself. */
export interface QueuedJob {
  readonly sender: string;
  readonly picture: string;
  readonly pixels: number;
  readonly input: Omit<RoutineInput, 'path' | 'into' | 'materials'>;
  /** Fonts and cutouts that it names, by their hashes, with their names. */
  readonly materials: Readonly<Record<string, string>>;
}

/** What a worker says of it. What is refused is no failure of the worker: it would be refused again. */
export type QueuedAnswer =
  | { readonly result: RoutineResult; readonly folder: string }
  | {
      readonly refused: {
        readonly code: ErrorCode;
        readonly message: string;
        readonly wayOut: WayOut | null;
      };
    };

/** Only workers of the same program take a job: they alone make the same bytes. */
export function queueName(program: string): string {
  return `kenosis-routines-${program}`;
}

/** How often a job is tried where a worker fails, and how long it waits in between, longer each time. */
export const RETRIES = { attempts: 4, backoff: { type: 'exponential', delay: 500 } } as const;

/** How long a worker may be silent before its jobs are given to another. */
export const SILENT_MS = 8000;

/** How often that is looked at. */
export const LOOK_MS = 2000;
