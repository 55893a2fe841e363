import type { Cut } from '../core/cut/schema';
import type { Checked } from '../core/findings/check-cut';
import type { Finding, Place } from '../core/findings/finding';
import type { Point } from '../core/numeric/matrix3';
import type { Progress } from '../core/numeric/steps';
import type { Mark, Reach } from '../core/stages/clear/settings';
import type { AlphaCounts } from '../core/stages/deliver/finish';
import type { Frame } from '../core/stages/prepare/frame';
import type { Stroke } from '../core/stages/shapes';
import type { HandStroke } from '../core/stages/touch-up/settings';
import type { StageKey } from '../core/stages/stages';
import type { Backing } from '../core/view/backing';
import type { View } from '../core/view/compose';
import type { BenchClient } from '../engine/browser/bench-client';
import type { Look as ProofLook } from '../core/proof/seen';
import type {
  Answer,
  CurveReport,
  EngineEvent,
  InkFacts,
  Look,
  Probe,
  StagePicture,
} from '../engine/protocol';
import type { DeliveryFacts, PieceFacts } from './api';
import type { FindingAt } from './finding-at';
import type { HandState } from './hand-state';
import type { SaveReport } from './save-queue';

/** What a click on the sheet does while Clear is open. */
export type ClickMode = 'set' | 'add' | 'turn' | 'move';
export type EdgeMode = 'move' | 'paint';
export type Shown = Extract<Look, 'result' | 'alpha' | 'faint' | 'edge' | 'difference'>;
/** How the original is shown together with the result. */
export type Comparing = 'none' | 'wipe' | 'beside';
/** What a drag on the sheet does while Prepare is open. */
export type PrepareMode = 'move' | 'crop' | 'line' | 'corners';
/** Which way of clearing the settings of Clear show. */
export type ClearBy = 'color' | 'ink' | 'marks';

/** How a delivery in work stands. */
export type Delivering =
  | { readonly kind: 'idle' }
  | { readonly kind: 'busy'; readonly step: string }
  | { readonly kind: 'done'; readonly made: readonly DeliveryFacts[]; readonly sameAsShown: boolean | null }
  | {
      readonly kind: 'failed';
      readonly message: string;
      /** What was written before, or beside what failed. */
      readonly made: readonly DeliveryFacts[];
    };

/** A version of the piece as proofs beside the sheet show it. */
export type TriedVersion = Extract<EngineEvent, { kind: 'tried' }>['pictures'][number];

export interface BenchState {
  readonly piece: PieceFacts;
  /** The cut as it is shown; while a setting moves it runs ahead of what is saved. */
  readonly cut: Cut;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly saving: SaveReport;
  readonly stage: StageKey;
  /** How the picture lies that the sheet shows, and how large the result is. */
  readonly frame: Frame;
  readonly output: { readonly width: number; readonly height: number };
  readonly prepareMode: PrepareMode;
  /** What was said of the last thing Prepare did or refused. */
  readonly prepareNote: string | null;
  readonly clearBy: ClearBy;
  /** Which side the brush of By marks marks. */
  readonly markGoes: boolean;
  /** The stroke that is being led. */
  readonly led: Stroke | Mark | null;
  /** What is in hand while Touch up is open, and the strokes before the one that is being led there. */
  readonly hand: HandState;
  readonly ledHand: { readonly before: readonly HandStroke[] } | null;
  /** What the picture shows of ink; null until it was asked for. */
  readonly inkFacts: InkFacts | null;
  /** Colors that were chosen as ink lately, newest first. */
  readonly recentInks: readonly string[];
  /** Whether a point of the levels is being moved, so that what is clipped is hatched. */
  readonly clipping: boolean;
  readonly clickMode: ClickMode;
  readonly areaPx: number;
  readonly reach: Reach;
  readonly selected: string | null;
  /** What was said when the last sample was placed. */
  readonly startNote: string | null;
  readonly view: View;
  readonly fitted: boolean;
  readonly backing: Backing;
  readonly look: 'result' | 'original';
  /** How the result is shown: as it is, by its alpha alone, only its edge, or what was taken. */
  readonly shown: Shown;
  readonly comparing: Comparing;
  /** Where the line of the wipe stands, as a share of the sheet's width. */
  readonly wipe: number;
  /** Width of the whole sheet's area in device pixels; `view.width` is half of it side by side. */
  readonly sheetWidth: number;
  readonly loupe: boolean;
  /** What the pointer does on the sheet while Edge is open. */
  readonly edgeMode: EdgeMode;
  /** Width of the brush in pixels of the original. */
  readonly brushPx: number;
  /** What the checks found in the full-size result of `checked.key`; null before they first ran. */
  readonly checked: (Checked & { readonly key: string; readonly contrast: string }) | null;
  /** Places that were put right since the checks ran. */
  readonly mended: readonly Place[];
  /** The findings that were not dismissed. */
  readonly open: readonly Finding[];
  /** Whether the cut has changed since the checks ran. */
  readonly stale: boolean;
  /** The place that is looked at. */
  readonly at: FindingAt | null;
  readonly around: number;
  /** Whether the sheet shows anything yet. */
  readonly opened: boolean;
  readonly failure: string | null;
  /** Whether the sheet shows the full-size cutout or one made at the size of the view. */
  readonly exact: boolean;
  readonly progress: Progress | null;
  readonly resting: boolean;
  readonly alpha: AlphaCounts | null;
  readonly curves: readonly CurveReport[];
  readonly pointer: {
    readonly x: number;
    readonly y: number;
    /** What is there; that of the place before until it was read, so that the line does not flicker. */
    readonly probe: Probe | null;
    readonly isRead: boolean;
  } | null;
  /** Where the pointer is over the sheet, in screen pixels, also beside the picture. */
  readonly over: Point | null;
  /** The stretch that is being dragged: in pixels of the original in Clear, of the frame in Prepare. */
  readonly stretch: { readonly from: Point; readonly to: Point } | null;
  /** What the piece looks like after each stage, small. */
  readonly pictures: Readonly<Record<StagePicture, ImageBitmap>> | null;
  /** The result's alpha, small: black that is as opaque as the result. */
  readonly silhouette: ImageBitmap | null;
  /** What a piece would look like by each answer to the question about `key`; null where nothing is asked. */
  readonly answers: {
    readonly key: string;
    readonly pictures: Readonly<Record<Answer, ImageBitmap>>;
  } | null;
  /** Whether the grounds of the piece's proof are shown beside the sheet. */
  readonly trying: boolean;
  /** In which versions the piece lies on them; none while they are not shown. */
  readonly looks: readonly ProofLook[];
  /** What the piece looks like in them. */
  readonly tried: readonly TriedVersion[];
  readonly deliveries: readonly DeliveryFacts[];
  readonly delivering: Delivering;
}

/** What the parts of the store share. */
export interface StoreParts {
  readonly get: () => BenchState;
  readonly set: (change: Partial<BenchState>) => void;
  /** Shows a cut and saves it as a step, called by what changed where nothing else is said. */
  readonly commit: (cut: Cut, label?: string) => void;
  /** Shows a cut without saving it: while something moves. */
  readonly draft: (cut: Cut) => void;
  readonly reframe: () => void;
  readonly piece: PieceFacts;
  readonly client: BenchClient;
}
