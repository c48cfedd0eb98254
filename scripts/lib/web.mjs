// @ts-check
// The web server of the built application: `node scripts/lib/web.mjs PORT`; on loopback unless GRENTO_HOST says otherwise.
import { createServer } from 'node:http';
import { BlockList } from 'node:net';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import next from 'next';
import { projectFolder } from './project.mjs';

const host = process.env.GRENTO_HOST || '127.0.0.1';
if (process.env.GRENTO_HOST && !process.env.GRENTO_PASSPHRASE_FILE)
  throw new Error('Listening beyond this machine wants a passphrase.');
const port = Number(process.argv[2]);
/** A line on which nothing moves for so long is cut, ms; event streams say something sooner. */
const IDLE = 120_000;
/** Of more lines at once than these the one is cut that has rested longest. */
const MOST_LINES = 600;
/** No order is longer, bytes; what says that it is, is not read. */
const LARGEST_JSON = 24 * 1024 * 1024;
/** Lines within a machine or a house carry a list faster than it is compressed: that takes a third of the time of a page. */
const near = new BlockList();
for (const [net, bits] of /** @type {const} */ ([
  ['127.0.0.0', 8],
  ['10.0.0.0', 8],
  ['172.16.0.0', 12],
  ['192.168.0.0', 16],
]))
  near.addSubnet(net, bits);
near.addAddress('::1', 'ipv6');
near.addSubnet('fc00::', 7, 'ipv6');
near.addSubnet('fe80::', 10, 'ipv6');
/** So long a sender that was refused may go on sending, to hear why, ms. */
const HEARS_IN = 10_000;

const { createGate } = await import(pathToFileURL(join(projectFolder, 'build', 'gate.mjs')).href);
const door = createGate();
const app = next({ dev: false, dir: projectFolder, hostname: host, port });
await app.prepare();
const handle = app.getRequestHandler();
/** Next sends no length of what a handler streams; this header says it, so that downloads show how far they are. */
const LENGTH = 'x-byte-length';
const sayLength = (/** @type {import('node:http').ServerResponse} */ response) => {
  const writeHead = response.writeHead;
  response.writeHead = (/** @type {any[]} */ ...args) => {
    const length = response.getHeader(LENGTH);
    if (length !== undefined) {
      response.removeHeader(LENGTH);
      // What is compressed on its way has another one.
      if (!response.hasHeader('content-encoding')) response.setHeader('content-length', length);
    }
    return writeHead.apply(response, /** @type {any} */ (args));
  };
};
const server = createServer(
  { requestTimeout: 0, headersTimeout: 30_000, keepAliveTimeout: 65_000 },
  (request, response) => {
    keepBusy(request, response);
    sayLength(response);
    const { remoteAddress = '', remoteFamily } = request.socket;
    if (near.check(remoteAddress, remoteFamily === 'IPv6' ? 'ipv6' : 'ipv4'))
      delete request.headers['accept-encoding'];
    if (isTooLong(request)) return refuse(request, response);
    door(request, response)
      .then((/** @type {boolean} */ answered) => (answered ? undefined : handle(request, response)))
      .catch((/** @type {unknown} */ error) => {
        console.error(error);
        // The database may be away for a moment: nobody is let in meanwhile.
        if (!response.headersSent)
          response.writeHead(503, { 'content-type': 'application/json', 'retry-after': '2' });
        response.end(JSON.stringify({ error: 'Grento is starting again; try it in a moment.' }));
      });
  },
);
server.timeout = IDLE;

/** Lines that wait for a request, those that have rested longest first. @type {Set<import('node:net').Socket>} */
const resting = new Set();
let lines = 0;
server.on('connection', (socket) => {
  lines++;
  resting.add(socket);
  socket.on('close', () => {
    lines--;
    resting.delete(socket);
  });
  if (lines <= MOST_LINES) return;
  const [oldest] = resting;
  oldest.destroy();
});

/** @param {import('node:http').IncomingMessage} request @param {import('node:http').ServerResponse} response */
function keepBusy({ socket }, response) {
  resting.delete(socket);
  response.on('close', () => {
    if (!socket.destroyed) resting.add(socket);
  });
}

/** @param {import('node:http').IncomingMessage} request */
function isTooLong({ headers }) {
  return (
    (headers['content-type'] ?? '').startsWith('application/json') &&
    Number(headers['content-length']) > LARGEST_JSON
  );
}

/** @param {import('node:http').IncomingMessage} request @param {import('node:http').ServerResponse} response */
function refuse(request, response) {
  const error = `The request is larger than ${LARGEST_JSON / 1024 / 1024} MB, which no order is.`;
  response.writeHead(413, { 'content-type': 'application/json' });
  response.end(JSON.stringify({ error }));
  // What is still being sent is passed over, so that its sender comes to read the answer; for so long.
  request.resume();
  const cut = setTimeout(() => request.socket.destroy(), HEARS_IN);
  request.on('close', () => clearTimeout(cut));
}
server.listen(port, host);

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
