// Serves the built application on 127.0.0.1: node scripts/serve.mjs PORT
import next from 'next';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import Module from 'node:module';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { isInstalled, root, stop } from './steps.mjs';

const HOST = '127.0.0.1';
const port = Number(process.argv[2]);
process.env.NEXT_TELEMETRY_DISABLED = '1';
process.env.KENOSIS_ADDRESS = `http://${HOST}:${port}`;

if (isInstalled) await knowExternals();
const { admit } = await import(pathToFileURL(path.join(root, 'dist', 'front-door.mjs')).href);
const app = next({ dev: false, dir: root, hostname: HOST, port });
// Opens the data folder as well, and ends the process where it cannot.
await app.prepare();
const handle = app.getRequestHandler();
const server = createServer((request, response) => {
  if (admit(request, response)) void handle(request, response);
});
// An upload may take as long as it does; a line on which nothing comes is ended.
server.requestTimeout = 0;
server.on('error', (error) =>
  stop(`the address ${process.env.KENOSIS_ADDRESS} cannot be used (${error.code}).`),
);
server.listen(port, HOST);

/** Ends the work that is under way and closes the data folder; whatever comes of that, the process ends. */
async function end() {
  setTimeout(() => process.exit(0), 3000).unref();
  server.close();
  server.closeAllConnections();
  await (await globalThis.kenosisHouse)?.close();
  process.exit(0);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.once(signal, () => void end().catch(() => process.exit(0)));

/** In a package the names that the build gave to packages outside of it are led to them. */
async function knowExternals() {
  const names = JSON.parse(readFileSync(path.join(root, 'scripts', 'externals.json'), 'utf8'));
  Module.register('./externals-hook.mjs', import.meta.url, { data: names });
  const { realName } = await import('./externals-hook.mjs');
  const resolveFilename = Module._resolveFilename;
  Module._resolveFilename = (request, ...rest) => resolveFilename(realName(request, names), ...rest);
}
