import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { OUTPUTS } from '../src/codec/outputs/outputs';
import { boardSteps, renderBoard } from '../src/core/board';
import { untouchedCut } from '../src/core/cut/parse';
import type { Cut } from '../src/core/cut/schema';
import { runToEnd } from '../src/core/numeric/steps';
import { proposeSteps } from '../src/core/proposal/propose';
import { sceneOf } from '../src/core/scene/scene';
import { outputIn } from '../src/core/stages/deliver/new-output';
import { AS_IT_IS, type Output, type OutputSize } from '../src/core/stages/deliver/output-settings';
import { shapeSteps } from '../src/core/stages/deliver/shape-output';
import { inColorway } from '../src/core/stages/ink/colorways';
import { decodeMaster } from '../src/codec/decode';
import { deliver, ready } from '../src/engine/node/tasks';
import { fileContent } from '../tests/make/file-content';
import { largePicture } from './large';

/** Files of a set in two colorways. */
export interface SetReport {
  readonly files: number;
  /** Rendering, shaping, writing and reading back of all of them. */
  readonly setMs: number;
  /** Writing the same pixels, and nothing else. */
  readonly encodeMs: number;
  readonly ratio: number;
}

const COLORWAYS = ['navy', 'white'] as const;
const WIDTHS = [null, 2000, 800] as const;

/** Three sizes, one of them the cutout's own, in two formats in two colorways of a picture of 24 megapixels, beside bare encodings of the same pixels. */
export async function benchSet(): Promise<SetReport> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-bench-'));
  try {
    const file = path.join(folder, 'product.jpg');
    await writeFile(file, await largePicture('product', 24));
    const original = await decodeMaster(file, 'product.jpg');
    const scene = sceneOf(original);
    const proposed = runToEnd(proposeSteps(scene, {})).cut ?? untouchedCut();
    const colorways = [
      { name: COLORWAYS[0], color: '#1d2a6b' },
      { name: COLORWAYS[1], color: '#ffffff' },
    ];
    const outputs = WIDTHS.flatMap((px): Output[] => {
      const size: OutputSize = px === null ? AS_IT_IS : { ...AS_IT_IS, to: { kind: 'width', px } };
      return [outputIn('png', size), outputIn('webp', size)];
    });
    const cut: Cut = {
      ...proposed,
      ink: { ...proposed.ink, colorways },
      deliver: { ...proposed.deliver, outputs },
    };
    const out = path.join(folder, 'out');
    const picture = { originalPath: file, originalName: 'product.jpg', decisionsPath: null };
    const task = { ...picture, dpi: null, outPath: out };
    // While Deliver is open the cut is made ready.
    await ready({ ...task, cut, cutoutPath: path.join(folder, 'cutout') });
    const setBegun = performance.now();
    for (const name of COLORWAYS)
      for (const output of outputs) await deliver({ ...task, cut: inColorway(cut, name), output });
    const setMs = performance.now() - setBegun;
    const board = runToEnd(boardSteps({ original, scene }, cut));
    let encodeMs = 0;
    for (const name of COLORWAYS) {
      const { raster } = runToEnd(renderBoard(board, inColorway(cut, name)));
      for (const output of outputs) {
        if (!('to' in output.size)) continue;
        const facts = { content: null, dpi: null };
        const shaped = runToEnd(shapeSteps(raster, output, output.size.to, facts)).raster;
        const begun = performance.now();
        await OUTPUTS[output.format].write(fileContent(shaped, output), out);
        encodeMs += performance.now() - begun;
      }
    }
    const files = outputs.length * COLORWAYS.length;
    const ratio = setMs / encodeMs;
    console.log(
      `set of ${files} files of 24 megapixels: ${Math.round(setMs)} ms, ${ratio.toFixed(2)} times bare encoding (${Math.round(encodeMs)} ms)`,
    );
    return { files, setMs, encodeMs, ratio };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
