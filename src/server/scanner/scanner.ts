import { z } from 'zod';

/** Resolutions a scan can have, in pixels per inch. */
export const SCAN_DPI = [150, 300, 600] as const;

export const scanSettingsSchema = z.strictObject({
  /** Id of the sheet that lies on the glass. */
  sheet: z.string().min(1).max(60),
  mode: z.enum(['color', 'gray']),
  dpi: z.literal(SCAN_DPI),
  lid: z.enum(['closed', 'open']),
  format: z.enum(['png', 'tiff']),
});

export type ScanSettings = z.infer<typeof scanSettingsSchema>;

/** A sheet that can be laid on the glass. */
export interface ScanSheet {
  readonly id: string;
  readonly name: string;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** A picture as it comes from a scanner: its size is known at once, its rows come in bands from the top. */
export interface ScanPass {
  readonly width: number;
  readonly height: number;
  /** 3 for color (red, green, blue), 1 for gray; 8 bits each, encoded sRGB. */
  readonly channels: 1 | 3;
  /** Bands of whole rows, each row `width * channels` bytes. */
  readonly bands: AsyncIterable<Uint8Array>;
}

/** What a scanner is to Kenosis. The simulated flatbed is one; a driver of a real device would be another. */
export interface Scanner {
  readonly name: string;
  sheets(): Promise<readonly ScanSheet[]>;
  /** Begins a scan. Throws `not-found` for a sheet that is not there. */
  scan(settings: ScanSettings): Promise<ScanPass>;
}
