import type { RoutineInput, RoutineResult } from '../routine-task';

/** A routine on one picture, as it is given to an engine. */
export interface RoutineJob {
  /** The same for the same work however often it is given: letters, digits and hyphens. */
  readonly id: string;
  readonly input: RoutineInput;
  /** Pixels of the picture where they are known, by which it is told whether it takes too long. */
  readonly pixels: number;
}

/**
 * What carries routines out. Whichever it is, the same job gives the same files byte for byte, in the folder that the job names;
 * what is done with them, and that it is done once, is the caller's.
 */
export interface JobEngine {
  /** How many jobs it can use at a time. */
  readonly slots: number;
  /** Where the work is done, in a few words. */
  readonly words: string;
  /**
   * Throws what `carryOut` throws, and `aborted`. A result that is taken must be let go of by `forget`, after what it says was
   * written down: until then it is given again to whoever asks with the same id.
   */
  carryOut(job: RoutineJob, signal?: AbortSignal): Promise<RoutineResult>;
  forget(id: string): Promise<void>;
  close(): Promise<void>;
}
