import { dayOf } from '../core/day-of';
import { isKenosisError } from '../core/errors';
import { PLACED_PX } from '../core/proof/looks';
import { textsOf, wishesOf, type PhotoFacts } from '../core/watermark/fields';
import type { MarkReport } from '../core/watermark/mark-photo';
import type { TextPart, Watermark } from '../core/watermark/settings';
import type { ShapedLine, ShapeWish } from '../core/watermark/shaped';
import { startMarkingClient, type SampleMaterial } from '../engine/browser/marking-client';
import { proofsApi, type ProofPieceFacts } from './proofs-api';
import { watermarksApi, type ShapedTextFacts } from './watermarks-api';

/** A photo that a watermark is shown on. */
export interface SamplePhoto {
  readonly address: string;
  readonly name: string;
}

/** The photos that ship, of six shapes. */
export const SHIPPED_SAMPLES: readonly SamplePhoto[] = ['sea', 'dune', 'snow', 'night', 'crowd', 'sky'].map(
  (name) => ({ address: `/samples/${name}.jpg`, name: `${name}.jpg` }),
);

/** What is shown of a sample. */
export type SampleState =
  | { readonly kind: 'loading' }
  | { readonly kind: 'shown'; readonly bitmap: ImageBitmap; readonly report: MarkReport }
  | { readonly kind: 'trouble'; readonly message: string };

type Pieces = Readonly<Record<string, ProofPieceFacts>>;

/** Samples are at most so large: enough for a screen, small enough to follow a slider. */
const SAMPLE_PX = 960;

/** Lines of text that are remembered. */
const MOST_SHAPES = 3000;

/** Draws watermarks on photos: text is set by the server, once for each line, all else is done in a worker here. */
export function createMarkDrawer() {
  const client = startMarkingClient();
  const loaded = new Map<string, Promise<unknown>>();
  const shapes = new Map<string, ShapedTextFacts>();
  const today = dayOf(new Date());
  const factsOf = ({ name }: SamplePhoto): PhotoFacts => ({ name, taken: null, today });

  /** Asks for the lines of text that are not known yet. */
  async function learn(watermark: Watermark, samples: readonly SamplePhoto[]): Promise<void> {
    const unknown = new Map<string, ShapeWish>();
    for (const sample of samples)
      for (const part of textsOf(watermark))
        for (const wish of wishesIn(part, factsOf(sample))) {
          const key = JSON.stringify(wish);
          if (!shapes.has(key)) unknown.set(key, wish);
        }
    if (unknown.size === 0) return;
    const answer = await watermarksApi.shapes([...unknown.values()]);
    if (shapes.size > MOST_SHAPES) shapes.clear();
    for (const [k, key] of [...unknown.keys()].entries()) shapes.set(key, answer.shapes[k]!);
  }

  /** What a mark is made of on a sample, or what of it is not there. */
  function materialFor(
    watermark: Watermark,
    pieces: Pieces,
    sample: SamplePhoto,
  ): SampleMaterial | { readonly trouble: string } {
    const lines: [string, ShapedLine[]][] = [];
    for (const part of textsOf(watermark)) {
      const own: ShapedLine[] = [];
      for (const wish of wishesOf(part, factsOf(sample))) {
        const shape = shapes.get(JSON.stringify(wish));
        if (!shape) return { trouble: 'Its text could not be set.' };
        if ('trouble' in shape) return shape;
        own.push(shape);
      }
      lines.push([part.id, own]);
    }
    const cutouts: [string, string][] = [];
    for (const { parts } of watermark.layout.groups)
      for (const part of parts) {
        if (part.kind !== 'cutout' || part.source.kind !== 'piece') continue;
        const { piece, colorway, light } = part.source;
        const known = pieces[piece];
        if (!known)
          return {
            trouble: 'A piece of this watermark was deleted. Take the part away, or choose another piece.',
          };
        const look = { colorway, light };
        cutouts.push([part.id, proofsApi.placedAddress(piece, known.revision, look, PLACED_PX)]);
      }
    return { lines, cutouts };
  }

  return {
    learn,
    /** A sample with the mark on it, or why it has none. `learn` comes before. */
    async draw(watermark: Watermark, pieces: Pieces, sample: SamplePhoto): Promise<SampleState> {
      const { address } = sample;
      try {
        if (!loaded.has(address)) loaded.set(address, client.load(address, SAMPLE_PX));
        await loaded.get(address);
        const material = materialFor(watermark, pieces, sample);
        if ('trouble' in material) return { kind: 'trouble', message: material.trouble };
        const made = await client.mark(address, watermark, material);
        return 'trouble' in made ? { kind: 'trouble', message: made.trouble } : { kind: 'shown', ...made };
      } catch (error) {
        return { kind: 'trouble', message: error instanceof Error ? error.message : String(error) };
      }
    },
    close: () => client.close(),
  };
}

export type MarkDrawer = ReturnType<typeof createMarkDrawer>;

/** What a text is set by; nothing where a field of it is none, which drawing it says. */
function wishesIn(part: TextPart, facts: PhotoFacts): ShapeWish[] {
  try {
    return wishesOf(part, facts);
  } catch (error) {
    if (isKenosisError(error)) return [];
    throw error;
  }
}
