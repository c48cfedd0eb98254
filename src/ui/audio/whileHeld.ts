/** Calls `release` once, when the key of `event` is let go or the window is left. */
export function whileHeld(event: KeyboardEvent, release: () => void) {
  const over = new AbortController();
  const end = () => {
    over.abort();
    release();
  };
  const { signal } = over;
  window.addEventListener('keyup', (up) => up.code === event.code && end(), { signal });
  // A key that is let go elsewhere is not heard of.
  window.addEventListener('blur', end, { signal });
  document.addEventListener('visibilitychange', end, { signal });
}
