import { isKnownHost } from './access/hosts';
import { UserError } from './userError';

/**
 * Refuses requests that did not come from Grento's own pages on this machine: an unknown host name in
 * `Host` (DNS rebinding), and, for anything that changes something, another origin. Throws UserError.
 */
export function guardRequest(method: string, headers: Headers): void {
  const host = headers.get('host') ?? '';
  if (!isKnownHost(host)) throw new UserError('Grento answers on this machine only.', 403);
  if (method === 'GET' || method === 'HEAD') return;
  const origin = headers.get('origin');
  const site = headers.get('sec-fetch-site');
  // Browsers name the origin of every request that changes something; programs on this machine need not.
  const own =
    origin === null
      ? site === null || site === 'same-origin'
      : origin === `http://${host}` || origin === `https://${host}`;
  if (!own) throw new UserError('This request came from another page and was refused.', 403);
}
