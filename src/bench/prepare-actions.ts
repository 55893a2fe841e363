import type { Cut } from '../core/cut/schema';
import { PREPARE_FIELDS, type Crop, type Prepare, type Turn } from '../core/stages/prepare/settings';
import { degreesOf } from '../core/numeric/exact';
import { cropAround } from '../core/stages/prepare/content';
import { apply } from '../core/numeric/matrix3';
import { frameOf, type Frame } from '../core/stages/prepare/frame';
import type { PrepareMode, StoreParts } from './bench-state';

/** What changes where the picture lies, so that a crop must follow. */
const GEOMETRY = ['corners', 'flip', 'turn', 'straightenDeg'] as const;

/** The cut with a change of Prepare, its crop following; null, and a note, where that makes no picture. */
export function prepareRule({ get, set, piece }: StoreParts) {
  return (change: Partial<Prepare>): Cut | null => {
    const { cut } = get();
    const prepare = { ...cut.prepare, on: true, ...change };
    try {
      const moves = GEOMETRY.some((field) => field in change) && !('crop' in change) && prepare.crop !== null;
      const whole = { ...prepare, crop: null };
      const frame = frameOf(whole, piece.width, piece.height);
      const crop = moves
        ? carried(frameOf({ ...cut.prepare, crop: null }, piece.width, piece.height), frame, prepare.crop!)
        : prepare.crop;
      frameOf({ ...prepare, crop }, piece.width, piece.height);
      set({ prepareNote: null });
      return { ...cut, prepare: { ...prepare, crop } };
    } catch (error) {
      set({ prepareNote: `That makes no picture: ${(error as Error).message}` });
      return null;
    }
  };
}

/** Everything a person can do in Prepare beside changing its settings. */
export function prepareActions(
  { get, set, commit, draft, reframe, piece, client }: StoreParts,
  changed: ReturnType<typeof prepareRule>,
) {
  function change(what: Partial<Prepare>, note: string | null = null): void {
    const cut = changed(what);
    if (!cut) return;
    set({ prepareNote: note });
    commit(cut);
  }

  return {
    setPrepareMode(prepareMode: PrepareMode): void {
      set({ prepareMode, prepareNote: null });
      reframe();
      draft(get().cut);
    },
    turn(by: 90 | -90): void {
      const { turn } = get().cut.prepare;
      change({ turn: ((turn + by + 360) % 360) as Turn });
    },
    /** A line drawn along a baseline, in screen pixels: it is laid level. */
    straightenAlong(dx: number, dy: number): void {
      if (Math.hypot(dx, dy) < 8) return;
      const lies = degreesOf(dx, dy);
      const off = lies > 90 ? lies - 180 : lies < -90 ? lies + 180 : lies;
      const { min, max } = PREPARE_FIELDS.straightenDeg;
      const wanted = get().cut.prepare.straightenDeg - off;
      if (wanted < min || wanted > max) {
        set({
          prepareNote: `That line is ${Math.abs(off).toFixed(0)}° off level: turn the picture by a quarter first.`,
        });
        return;
      }
      change({ straightenDeg: Math.round(wanted * 100) / 100 });
    },
    async straightenByItself(): Promise<void> {
      set({ prepareNote: 'Looking for lines of writing' });
      const { deg, confidence, by } = await client.straightening(get().cut);
      const sure = `${Math.round(confidence * 100)} % sure`;
      if (confidence < 0.3) {
        set({
          prepareNote: `No lines are seen clearly enough (${sure}). Draw a line along the writing instead.`,
        });
        return;
      }
      const straightenDeg = Math.round(deg * 100) / 100;
      change({ straightenDeg }, `By its ${by}: ${straightenDeg}°, ${sure}.`);
    },
    async findCorners(): Promise<void> {
      set({ prepareNote: 'Looking for the outline of a sheet' });
      const corners = await client.corners();
      if (!corners) {
        set({ prepareNote: 'No outline of a lighter sheet is seen. Set its corners by hand.' });
        return;
      }
      change(
        { corners: corners.map(([x, y]) => [x, y]) as unknown as NonNullable<Prepare['corners']> },
        'Corners of the sheet found. Move them where they are off.',
      );
    },
    /** Corners to start from: those of the picture, a little inside. */
    startCorners(): void {
      const { width, height } = piece;
      const inset = Math.round(Math.min(width, height) * 0.05);
      change({
        corners: [
          [inset, inset],
          [width - inset, inset],
          [width - inset, height - inset],
          [inset, height - inset],
        ],
      });
    },
    async cropToContent(): Promise<void> {
      const { frame, stage } = get();
      if (stage !== 'prepare') return;
      set({ prepareNote: 'Looking for what is left when the background is cleared' });
      const box = await client.contentBox();
      if (!box) {
        set({
          prepareNote: 'Nothing is left when the background is cleared, so there is no content to crop to.',
        });
        return;
      }
      change({ crop: cropAround(box, frame.width, frame.height) });
    },
  };
}

/** A crop as it lies around the same content in another frame. */
function carried(before: Frame, after: Frame, crop: Crop): Crop {
  const middle = apply(before.toOriginal, crop.x + crop.width / 2, crop.y + crop.height / 2);
  const at = apply(after.toFrame, middle.x, middle.y);
  const turned = Math.abs(before.toOriginal[0]) < 0.5 !== Math.abs(after.toOriginal[0]) < 0.5;
  const size = turned ? { width: crop.height, height: crop.width } : crop;
  const width = Math.min(size.width, after.width);
  const height = Math.min(size.height, after.height);
  const start = (center: number, length: number, most: number) =>
    Math.round(Math.min(most - length, Math.max(0, center - length / 2)));
  return { x: start(at.x, width, after.width), y: start(at.y, height, after.height), width, height };
}
