import { createHash } from 'node:crypto';

/** An MD5 sum, for comparing with what a file says of its own sound. */
export function md5() {
  const hash = createHash('md5');
  return { update: (bytes: Uint8Array) => void hash.update(bytes), digest: () => hash.digest('hex') };
}
