import { INPUT_FORMATS } from '../core/formats';
import { createReadStream } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import sharp from 'sharp';
import { isOutOfSpace, KenosisError } from '../core/errors';
import { importPiece, type Imported } from './import-piece';
import type { House } from './rooms';
import type { Scanner, ScanSettings } from './scanner/scanner';

/** How far a scan is. */
export interface ScanProgress {
  readonly step: 'scanning' | 'importing';
  readonly percent: number;
}

/** Throws `no-space` where nothing can be written any more. */
export async function assertRoom({ files }: House): Promise<void> {
  const probe = await files.incomingPath();
  try {
    await writeFile(probe, new Uint8Array(65_536), { flush: true });
  } catch (cause) {
    if (!isOutOfSpace(cause)) throw cause;
    throw new KenosisError(
      'no-space',
      'The disk with the data folder is full, so that a scan has no room. Free some space and scan again.',
      { cause },
    );
  } finally {
    await files.drop(probe);
  }
}

/**
 * Scans a sheet, writes what comes as a file with its resolution, and imports that file as if it had been dropped on the
 * Shelf. Throws `aborted` where `signal` ends it while it scans, and what importing throws; then nothing is left behind.
 */
export async function scanPiece(
  house: House,
  scanner: Scanner,
  settings: ScanSettings,
  signal: AbortSignal,
  tell: (progress: ScanProgress) => void,
): Promise<Imported> {
  const pass = await scanner.scan(settings);
  const { width, height, channels } = pass;
  const rows = new Uint8Array(width * height * channels);
  let filled = 0;
  const assertWanted = () => {
    if (signal.aborted) throw new KenosisError('aborted', 'The scan was cancelled. Nothing was imported.');
  };
  for await (const band of pass.bands) {
    assertWanted();
    rows.set(band, filled);
    filled += band.length;
    tell({ step: 'scanning', percent: Math.round((100 * filled) / rows.length) });
  }
  assertWanted();
  tell({ step: 'importing', percent: 0 });
  const file = await house.files.incomingPath();
  try {
    const picture = sharp(rows, { raw: { width, height, channels }, limitInputPixels: false }).withMetadata({
      density: settings.dpi,
    });
    if (settings.format === 'tiff')
      await picture
        .tiff({ compression: 'lzw', xres: settings.dpi / 25.4, yres: settings.dpi / 25.4 })
        .toFile(file);
    else await picture.png({ compressionLevel: 3 }).toFile(file);
    const name = `scan-${settings.sheet}-${settings.dpi}dpi${INPUT_FORMATS[settings.format].ending}`;
    const body = Readable.toWeb(createReadStream(file)) as ReadableStream<Uint8Array>;
    return await importPiece(house, name, body, { signal });
  } finally {
    await house.files.drop(file);
  }
}
