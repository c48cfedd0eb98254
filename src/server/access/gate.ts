import type { IncomingMessage, ServerResponse } from 'node:http';
import { accessStands, beginSession, endSession, sessionStands } from '@/store/sessions';
import { log } from '../log';
import { enterPage } from './signInPage';
import { isKnownHost } from './hosts';
import { isGuarded, isPassphrase, newSecret, passphraseTag, sha256 } from './passphrase';
import { throttle } from './throttle';

const COOKIE = 'grento-session';
const DAYS = 30;
/** A session that was seen to stand is believed for so long, ms: a page asks for dozens of things at once. */
const BELIEVED = 5_000;
const LONGEST_FORM = 4_000;
/** How often it is looked whether those who listen may still, ms. */
const CUT_EVERY = 15_000;

/**
 * Stands before everything that the web server answers. Without a passphrase it lets in whoever is on this machine;
 * with one it asks for it, once for each browser, and lets scripts with a token read. Returns whether the request was
 * answered here.
 */
export function createGate() {
  const tries = throttle();
  const believed = new Map<string, number>();
  /** Event streams that are open, by the session or token that they were opened with. */
  const streams = new Set<{ response: ServerResponse; stands: () => Promise<boolean>; hash: string }>();
  const cut = async () => {
    for (const stream of streams) if (!(await stream.stands().catch(() => true))) stream.response.destroy();
  };
  setInterval(() => void cut(), CUT_EVERY).unref();

  /** Remembers a stream, so that it ends with what let it in. */
  function watch(request: IncomingMessage, response: ServerResponse, path: string) {
    const cookie = cookieOf(request);
    const secret = cookie ?? /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1];
    if (path !== '/api/events' || !secret || isStarter(request)) return;
    const hash = sha256(secret);
    const stands = () => (cookie ? sessionStands(hash, passphraseTag()) : accessStands(hash));
    const stream = { response, stands, hash };
    streams.add(stream);
    response.on('close', () => streams.delete(stream));
  }

  async function hasSession(request: IncomingMessage): Promise<boolean> {
    const secret = cookieOf(request);
    if (!secret) return false;
    const hash = sha256(secret);
    if ((believed.get(hash) ?? 0) > Date.now()) return true;
    if (!(await sessionStands(hash, passphraseTag()))) return false;
    if (believed.size > 1000) believed.clear();
    believed.set(hash, Date.now() + BELIEVED);
    return true;
  }

  /** The starter's own work on the library, such as filling it with the demo. */
  function isStarter(request: IncomingMessage): boolean {
    const [, secret] = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '') ?? [];
    const own = process.env.GRENTO_INSIDE;
    return Boolean(own && secret && sha256(secret) === sha256(own));
  }

  async function hasAccess(request: IncomingMessage, path: string): Promise<boolean> {
    const [, secret] = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '') ?? [];
    if (!secret || !['GET', 'HEAD'].includes(request.method ?? '')) return false;
    // What a script may do does not include seeing who else may.
    return path.startsWith('/api/') && !path.startsWith('/api/access') && accessStands(sha256(secret));
  }

  return async (request: IncomingMessage, response: ServerResponse): Promise<boolean> => {
    if (!isKnownHost(request.headers.host ?? '')) {
      answer(response, 403, 'text/plain', 'Grento answers on this machine only.');
      return true;
    }
    if (!isGuarded()) return false;
    const { pathname: path, searchParams } = new URL(request.url ?? '/', 'http://grento');
    const next = localPath(searchParams.get('next'));
    if (path === '/enter') {
      if (request.method === 'POST') await enter(request, response, next, tries);
      else answer(response, 200, 'text/html', enterPage(next, null));
      return true;
    }
    if (path === '/leave' && request.method === 'POST') {
      const secret = isFromHere(request) ? cookieOf(request) : null;
      if (secret) {
        believed.delete(sha256(secret));
        await endSession(sha256(secret));
        for (const { response: open, hash } of streams) if (hash === sha256(secret)) open.destroy();
      }
      response.setHeader('set-cookie', `${COOKIE}=; HttpOnly; SameSite=Strict; Path=/; Max-Age=0`);
      response.writeHead(303, { location: '/enter' }).end();
      return true;
    }
    if (isStarter(request) || (await hasSession(request)) || (await hasAccess(request, path))) {
      watch(request, response, path);
      return false;
    }
    if (path.startsWith('/api/'))
      answer(response, 401, 'application/json', JSON.stringify({ error: 'Sign in first.', code: 'enter' }));
    else if (request.method === 'GET' && !path.startsWith('/_next/') && !path.startsWith('/built/'))
      response
        .writeHead(303, { location: `/enter?${new URLSearchParams({ next: request.url ?? '/' })}` })
        .end();
    else answer(response, 401, 'text/plain', 'Sign in first.');
    return true;
  };
}

async function enter(
  request: IncomingMessage,
  response: ServerResponse,
  next: string,
  tries: ReturnType<typeof throttle>,
): Promise<void> {
  const who = request.socket.remoteAddress ?? '';
  if (!isFromHere(request))
    return answer(response, 403, 'text/plain', 'This request came from another page.');
  const wait = tries.wait(who);
  if (wait > 0) {
    response.setHeader('retry-after', Math.ceil(wait / 1000));
    const words = `Too many wrong passphrases; try again in ${Math.ceil(wait / 1000)} s.`;
    return answer(response, 429, 'text/html', enterPage(next, words));
  }
  const form = await formOf(request);
  // Counted before it is known: tries that are made at once do not all go free.
  tries.wrong(who);
  if (form === null || !(await isPassphrase(form.get('passphrase') ?? ''))) {
    log.warn({ event: 'wrong passphrase', from: who });
    return answer(response, 403, 'text/html', enterPage(next, 'Wrong passphrase.'));
  }
  tries.right(who);
  const secret = newSecret();
  await beginSession(sha256(secret), passphraseTag(), DAYS);
  response.setHeader(
    'set-cookie',
    `${COOKIE}=${secret}; HttpOnly; SameSite=Strict; Path=/; Max-Age=${DAYS * 86_400}`,
  );
  response.writeHead(303, { location: next }).end();
}

/** Browsers say where what changes something comes from; a form that is told to keep quiet has no origin. */
function isFromHere({ headers }: IncomingMessage): boolean {
  const site = headers['sec-fetch-site'];
  if (site !== undefined) return site === 'same-origin';
  const { origin, host } = headers;
  return origin === undefined || origin === `http://${host}` || origin === `https://${host}`;
}

function cookieOf({ headers }: IncomingMessage): string | null {
  const pairs = (headers.cookie ?? '').split(';').map((pair) => pair.trim());
  return pairs.find((pair) => pair.startsWith(`${COOKIE}=`))?.slice(COOKIE.length + 1) || null;
}

/** A path of this site, so that nobody is led elsewhere by a link, and nothing but a path gets into a header. */
const localPath = (path: string | null): string =>
  path && /^\/(?![/\\])[\x21-\x7e]*$/.test(path) ? path : '/';

async function formOf(request: IncomingMessage): Promise<URLSearchParams | null> {
  let text = '';
  for await (const part of request) {
    text += String(part);
    if (text.length > LONGEST_FORM) return null;
  }
  return new URLSearchParams(text);
}

function answer(response: ServerResponse, status: number, type: string, body: string): void {
  response
    .writeHead(status, {
      'content-type': `${type}; charset=utf-8`,
      'cache-control': 'no-store',
      'content-security-policy':
        "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'",
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'no-referrer',
    })
    .end(body);
}
