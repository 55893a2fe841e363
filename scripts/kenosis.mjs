// The command line. Compiles it when its sources changed, which takes a few seconds, then runs it.
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundleWhatChanged } from './bundle.mjs';
import { root } from './steps.mjs';

await bundleWhatChanged();
await import(pathToFileURL(path.join(root, 'dist', 'kenosis.mjs')).href);
