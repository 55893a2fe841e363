import type { Stage } from '../stages/stage';
import { STAGES } from '../stages/stages';
import { settingsOf, withSettings, type Cut } from './schema';

/**
 * A cut laid on another piece: the settings of `from`, but those that belong to a picture alone (places, crops, strokes, mends)
 * as they are in `onto`, the cut of that piece. What was said of findings stays with the piece.
 */
export function carriedOver(from: Cut, onto: Cut, stages: readonly Stage[] = STAGES): Cut {
  return withSettings(onto, stages, (stage, before) => {
    const own = Object.entries(before as object).filter(([field]) => stage.own.includes(field));
    return { ...(settingsOf(from, stage) as object), ...Object.fromEntries(own) };
  });
}
