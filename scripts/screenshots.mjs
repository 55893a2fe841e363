// Takes the pictures in docs/screenshots from the demo pieces, on a server and a data folder of its own.
import { pathToFileURL } from 'node:url';
import { bundle } from './bundle.mjs';

await import(
  pathToFileURL(await bundle('tests/screenshots.ts', 'screenshots', { packages: 'external' })).href
);
