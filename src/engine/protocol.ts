import type { Cut } from '../core/cut/schema';
import type { Ground, View } from '../core/view/compose';
import type { AlphaCounts } from '../core/stages/deliver/finish';
import type { ChannelReading } from '../core/stages/clear/by-ink/points';
import type { Checked } from '../core/findings/check-cut';
import type { Progress } from '../core/numeric/steps';
import type { Look as ProofLook } from '../core/proof/seen';
import type { SafeRange } from '../core/stages/clear/tolerance-curve';
import type { StageKey } from '../core/stages/stages';
import type { Rgb } from '../core/stages/clear/sample-color';

/**
 * What the sheet shows: the result; the picture as it is cleared from (original); the same with nothing made of it yet
 * (prepared); with hatching over what the ink's levels clip (levels); alpha as gray (black where all is clear, white where
 * all is opaque); the same with its low end stretched (faint); of the result only the edge, with hatching over what is
 * certain; or what was taken from the picture, on black (difference).
 */
export type Look = 'result' | 'original' | 'prepared' | 'levels' | 'alpha' | 'faint' | 'edge' | 'difference';

/** The original beside what is shown. */
export interface Compare {
  /** Side by side with the same view in both halves; otherwise one picture, original to the left of a line. */
  readonly beside: boolean;
  /** Where the original ends, in screen pixels from the left. */
  readonly at: number;
}

/** A small picture in the stage strip: the piece after that stage. */
export type StagePicture = StageKey;

/** An answer to the question about areas that are not sure. */
export type Answer = 'keep' | 'clear';

/** What a piece is opened with. */
export interface Opening {
  /** Where a small picture of the result is, to be shown until there is more. */
  readonly small: string;
  /** Width and height of the result. */
  readonly width: number;
  readonly height: number;
  /** Where its original's pixels are. */
  readonly master: string;
  /** Where the full-size cutout of `cut` is, if it is kept. */
  readonly cutout: string;
  /** Where that is what was decided of it, if anything is kept. */
  readonly decisions: string;
  readonly cut: Cut;
}

/** What the bench wants to see. A later request overtakes an earlier one that was not painted yet. */
export interface ShowRequest {
  /** Rises with every request. */
  readonly turn: number;
  readonly cut: Cut;
  readonly view: View;
  readonly ground: Ground;
  readonly look: Look;
  readonly compare: Compare | null;
  /** The addresses of the picture that is the backing, the best first; null where the ground's colors are. */
  readonly backing: readonly string[] | null;
  /** The versions of the piece that proofs beside the sheet show. */
  readonly looks: readonly ProofLook[];
}

/** A sample's curve, thinned out for drawing. */
export interface CurveReport {
  readonly sampleId: string;
  readonly color: Rgb;
  /** Percent cleared at tolerance 0, 1, ... 100. */
  readonly percent: readonly number[];
  readonly safeRange: SafeRange | null;
  /** Whether it was read at full size. */
  readonly exact: boolean;
}

/** What the engine tells unasked. */
export type EngineEvent =
  | { readonly kind: 'painted'; readonly turn: number; readonly exact: boolean }
  | { readonly kind: 'progress'; readonly progress: Progress }
  | { readonly kind: 'prepared' }
  | {
      readonly kind: 'settled';
      readonly turn: number;
      readonly alpha: AlphaCounts;
    }
  | { readonly kind: 'curves'; readonly curves: readonly CurveReport[] }
  | ({
      readonly kind: 'checked';
      /** The `checkKey` of the cut whose full-size result was read. */
      readonly key: string;
      /** The color that differs most from the edge of all of it. */
      readonly contrast: string;
    } & Checked)
  | {
      readonly kind: 'thumbnail';
      readonly pictures: Readonly<Record<StagePicture, ImageBitmap>>;
      readonly silhouette: ImageBitmap;
    }
  | {
      readonly kind: 'tried';
      /** The versions of the piece that were asked for, small, and their sizes in pixels of the full size. */
      readonly pictures: readonly {
        readonly look: ProofLook;
        readonly bitmap: ImageBitmap;
        readonly width: number;
        readonly height: number;
      }[];
    }
  | {
      readonly kind: 'answers';
      /** The `checkKey` of the cut that is asked about. */
      readonly key: string;
      readonly pictures: Readonly<Record<Answer, ImageBitmap>>;
    }
  | { readonly kind: 'failed'; readonly message: string };

/** A pixel as it is in the original and in the result: red, green, blue, alpha. */
export interface Probe {
  readonly original: readonly [number, number, number, number];
  readonly result: readonly [number, number, number, number];
}

/** What a brush would take that takes only what is alike, in pixels of the crop. */
export interface AlikeUnder {
  readonly x: number;
  readonly y: number;
  /** Side of a pixel of the mask in pixels of the crop. */
  readonly unit: number;
  readonly width: number;
  readonly height: number;
  /** 1 for what would be taken. */
  readonly data: Uint8Array;
  /** How many those are. */
  readonly taken: number;
}

/** Where a new sample would start. */
export interface SampleStart {
  readonly tolerance: number;
  readonly safeRange: SafeRange | null;
}

/** A square of the original and of the result around a pixel, each laid on the backing: opaque RGBA bytes. */
export interface Magnified {
  /** Side in screen pixels. */
  readonly side: number;
  readonly original: Uint8ClampedArray<ArrayBuffer>;
  readonly result: Uint8ClampedArray<ArrayBuffer>;
}

/** A channel as it tells ink from paper: its score, the points it proposes, its histogram, and a small gray picture. */
export interface ChannelFacts extends ChannelReading {
  readonly histogram: readonly number[];
  readonly picture: { readonly width: number; readonly height: number; readonly gray: Uint8Array };
}

/** What the picture shows of ink. */
export interface InkFacts {
  /** False where ink and paper could not be told apart; then scores are 0 and points a guess. */
  readonly told: boolean;
  /** The color of dense ink, `#rrggbb`. */
  readonly color: string;
  readonly channels: readonly ChannelFacts[];
}
