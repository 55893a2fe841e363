import { INPUT_FORMATS, isInputFormat } from '../core/formats';
import { type ErrorCode, isKenosisError, KenosisError } from '../core/errors';
import type { Database } from '../storage/database';
import { addPiece, originalsInUse } from '../storage/pieces';
import { getSetting, removeSetting, setSetting } from '../storage/settings';
import { REBUILT_AT } from './housekeeping';
import type { House } from './rooms';
import { hashFile } from '../engine/node/hash-file';
import { firstPage } from './page-choice';
import { readPicture } from './read-picture';

/** Set from the start of a recovery to its end, so that one that was cut short goes on at the next start. */
const RECOVERING = 'recovering';

type Rooms = Pick<House, 'database' | 'files' | 'pool'>;

/** Notes that pieces are to be rebuilt from the originals that this database does not name. */
export async function beginRecovery(database: Database): Promise<void> {
  await setSetting(database, RECOVERING, '1');
}

/** A recovery under way: what to tell of it, and when it is over. */
export interface Recovery {
  readonly notice: string | null;
  readonly over: Promise<void>;
}

/** Goes on with a recovery where one was begun, in the background. */
export async function continueRecovery(rooms: Rooms): Promise<Recovery> {
  const { database, files } = rooms;
  const nothing: Recovery = { notice: null, over: Promise.resolve() };
  if ((await getSetting(database, RECOVERING)) !== '1') return nothing;
  const named = await originalsInUse(database);
  const unnamed = (await files.keysOf('originals')).filter((key) => !named.has(key));
  if (unnamed.length === 0) {
    await endRecovery(database);
    return nothing;
  }
  const many = unnamed.length === 1 ? '1 original' : `${unnamed.length} originals`;
  return {
    notice: `The database is missing, or is not the one that was open here last. Pieces are being rebuilt from ${many} that it does not name; nothing is removed.`,
    over: rebuild(rooms, unnamed),
  };
}

/** Errors after which the same picture may well become a piece again. */
const UNDECIDED = new Set<ErrorCode>(['no-space', 'aborted', 'too-slow']);

async function rebuild(rooms: Rooms, keys: readonly string[]): Promise<void> {
  const { database, files } = rooms;
  for (const key of keys) {
    const path = files.pathOf('originals', key);
    const name = `recovered-${key.slice(0, 8)}`;
    try {
      const { sha256 } = await hashFile(path);
      if (sha256 !== key)
        throw new KenosisError('changed-original', 'Its bytes are not those that its name tells.');
      const page = await firstPage(rooms.pool, path, name);
      const { fresh, cut } = await readPicture(rooms, { path, name, sha256, page, damaged: 'accept' });
      const lost = 'Its name and its work were lost with the database; the picture is as it came.';
      const named = {
        ...fresh,
        name: `${name}${isInputFormat(fresh.format) ? INPUT_FORMATS[fresh.format].ending : ''}`,
      };
      await addPiece(database, { ...named, notes: [lost, ...fresh.notes] }, cut, page);
    } catch (error) {
      // A house that is being closed, or a full disk, says nothing about the picture: that is for the next start.
      if (!isKenosisError(error) || UNDECIDED.has(error.code)) throw error;
      console.error(`The original ${path} could not become a piece again: ${error.message}`);
    }
  }
  await endRecovery(database);
}

async function endRecovery(database: Database): Promise<void> {
  await setSetting(database, REBUILT_AT, new Date().toISOString());
  await removeSetting(database, RECOVERING);
}
