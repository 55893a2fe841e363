// Serves the built application on 127.0.0.1: node scripts/serve.mjs PORT
import next from 'next';
import { createServer } from 'node:http';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, stop } from './steps.mjs';

const HOST = '127.0.0.1';
const port = Number(process.argv[2]);
process.env.NEXT_TELEMETRY_DISABLED = '1';
process.env.KENOSIS_ADDRESS = `http://${HOST}:${port}`;

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
