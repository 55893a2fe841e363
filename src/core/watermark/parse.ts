import { checkDocument, readDocument, type DocumentKind } from '../document';
import { WATERMARK_VERSION, watermarkSchema, type Watermark } from './settings';
import { WATERMARK_STEPS } from './upgrade';

const WATERMARK: DocumentKind<Watermark> = {
  noun: 'watermark',
  version: WATERMARK_VERSION,
  steps: WATERMARK_STEPS,
  schema: watermarkSchema,
  bad: 'bad-watermark',
  newer: 'newer-watermark',
};

/** Checks a watermark that came from outside. Throws `bad-watermark` with the field's path, and `newer-watermark`. */
export function parseWatermark(value: unknown): Watermark {
  return checkDocument(WATERMARK, value);
}

/** Reads the text of a watermark. Text that is not JSON throws `bad-watermark`. */
export function parseWatermarkText(text: string): Watermark {
  return readDocument(WATERMARK, text);
}
