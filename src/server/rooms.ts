import type AsyncLock from 'async-lock';
import type { CorePool } from '../engine/node/pool';
import type { Database } from '../storage/database';
import type { FileStore } from '../storage/file-store';
import type { Originals } from './originals';
import type { Runs } from './runs/runs';
import type { Watches } from './folder-runs/watches';

/** Everything the use cases work with. One for each process. */
export interface House {
  readonly dataFolder: string;
  readonly database: Database;
  readonly files: FileStore;
  readonly pool: CorePool;
  readonly originals: Originals;
  /** A name of the program that renders, for what only it has made. */
  readonly program: string;
  /** Work on one file after another: by the SHA-256 of its bytes. */
  readonly locks: AsyncLock;
  /** What a person should know of how the data were found, in sentences. */
  readonly notices: readonly string[];
  /** Routines on many pieces. */
  readonly runs: Runs;
  /** Folders whose files are taken as they come. */
  readonly watches: Watches;
  /** Ends when pieces that are being rebuilt from their originals are all there. */
  readonly recovery: Promise<void>;
  /** Whether they are being rebuilt now. */
  isRecovering(): boolean;
  close(): Promise<void>;
}
