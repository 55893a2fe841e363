import sharp from 'sharp';
import { bytesOf } from '../src/codec/picture-library';
import { propose } from '../src/core/proposal/propose';
import { createRaster } from '../src/core/raster/raster';
import { renderCut } from '../src/core/render';
import { simulatedFlatbed } from '../src/server/scanner/simulated-flatbed';

/** What a scanned page costs, beside decoding and encoding it. */
export interface PageRow {
  readonly megapixels: number;
  readonly decodeMs: number;
  readonly encodeMs: number;
  readonly proposalMs: number;
  readonly fullCutMs: number;
}

/** A letter page at 600 dpi from the simulated flatbed: proposal and cut against sharp's decoding and encoding of the same PNG. */
export async function benchPage(): Promise<PageRow> {
  const settings = { sheet: 'letter', mode: 'color', dpi: 600, lid: 'closed', format: 'png' } as const;
  const { width, height, channels, bands } = await simulatedFlatbed(() => 7).scan(settings);
  const parts: Uint8Array[] = [];
  for await (const band of bands) parts.push(band);
  const scanned = sharp(Buffer.concat(parts), { raw: { width, height, channels }, limitInputPixels: false });
  const png = await scanned.png().toBuffer();
  const input = { limitInputPixels: false } as const;
  let raw = Buffer.alloc(0);
  const decodeMs = await timed(async () => {
    raw = await sharp(png, input).ensureAlpha().raw().toBuffer();
  });
  const encodeMs = await timed(() =>
    sharp(raw, { ...input, raw: { width, height, channels: 4 } })
      .png()
      .toBuffer(),
  );
  const raster = createRaster(width, height, bytesOf(raw));
  let proposal = propose(raster, { crop: true, straighten: true });
  const proposalMs = await timed(() => {
    proposal = propose(raster, { crop: true, straighten: true });
  });
  const fullCutMs = await timed(() => void renderCut(raster, proposal.cut!));
  const row = { megapixels: (width * height) / 1e6, decodeMs, encodeMs, proposalMs, fullCutMs };
  const times = (ms: number) => `${ms.toFixed(0)} (${(ms / (decodeMs + encodeMs)).toFixed(2)}x)`;
  console.log('Scanned page, in milliseconds (decoding and encoding by sharp)');
  console.table({
    megapixels: row.megapixels.toFixed(1),
    decode: decodeMs.toFixed(0),
    encode: encodeMs.toFixed(0),
    proposal: times(proposalMs),
    'full cut': times(fullCutMs),
  });
  return row;
}

async function timed(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}
