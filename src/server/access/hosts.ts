const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])$/;

/** Whether Grento listens beyond this machine; then everybody has said a passphrase. */
export const isOpenToOthers = (): boolean => Boolean(process.env.GRENTO_HOST);

/**
 * Whether a `Host` is one that Grento is reached by: others come from pages that had their own name point here. Beyond
 * loopback any name may be right; there the session's cookie is what such a page does not get.
 */
export const isKnownHost = (host: string): boolean =>
  isOpenToOthers() || LOOPBACK.test(host.replace(/:\d+$/, ''));
