import path from 'node:path';

/** The demo’s pieces and photos at half their size, drawn with them. */
export const SMALL_DEMO = path.join('tests', 'fixtures', 'small-demo');
