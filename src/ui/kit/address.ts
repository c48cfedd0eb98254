/**
 * Says something in the address: the parameters of `names` become those of `params`, all others stay. It is no step to
 * go back by.
 */
export function sayInAddress(names: readonly string[], params: URLSearchParams): void {
  const url = new URL(location.href);
  for (const name of names) url.searchParams.delete(name);
  for (const [name, value] of params) url.searchParams.append(name, value);
  if (url.href !== location.href) history.replaceState(history.state, '', url);
}
