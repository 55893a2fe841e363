// npm run attack [-- --seconds N] [--seed N] [--only pictures,formats,placing,kills,runs,disk,doors,clients,package] [--most N] [--pieces N]
import { buildAll } from './build.mjs';

await buildAll();
process.argv.splice(2, 0, 'attack');
await import('./tool.mjs');
