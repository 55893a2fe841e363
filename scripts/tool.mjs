// Bundles and runs one of the house's own tools: npm run bench, npm run demo:draw.
import { pathToFileURL } from 'node:url';
import { bundle, bundleWorkers } from './bundle.mjs';

const TOOLS = {
  bench: 'yardstick/main.ts',
  quality: 'yardstick/quality/main.ts',
  areas: 'training/areas.ts',
  attack: 'yardstick/attack/main.ts',
  'demo-draw': 'demo/draw-all.ts',
  'demo-draw-up': 'demo/draw-up.ts',
};
const [name, ...rest] = process.argv.slice(2);
const [file] = await Promise.all([bundle(TOOLS[name], name, { packages: 'external' }), bundleWorkers()]);
process.argv = [process.argv[0], file, ...rest];
await import(pathToFileURL(file).href);
