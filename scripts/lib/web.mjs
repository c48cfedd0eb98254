// @ts-check
// The web server of the built application on loopback: `node scripts/lib/web.mjs PORT`.
import { createServer } from 'node:http';
import next from 'next';
import { projectFolder } from './project.mjs';

const port = Number(process.argv[2]);
const app = next({ dev: false, dir: projectFolder, hostname: '127.0.0.1', port });
await app.prepare();
const handle = app.getRequestHandler();
const server = createServer(
  { requestTimeout: 0, headersTimeout: 30_000, keepAliveTimeout: 65_000 },
  (request, response) => void handle(request, response),
);
server.listen(port, '127.0.0.1');

let stopping = false;
const stop = () => {
  if (stopping) return;
  stopping = true;
  server.close();
  // Event streams stay open for as long as a page is: they are cut.
  server.closeAllConnections();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
if (process.env.GRENTO_TIED) process.stdin.on('end', stop).resume();
