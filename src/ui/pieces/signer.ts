const KEY = 'grento-signer';

/** The name that proofs were signed with last on this machine. */
export function storedSigner(): string {
  return typeof localStorage === 'undefined' ? '' : (localStorage.getItem(KEY) ?? '');
}

export function rememberSigner(name: string) {
  localStorage.setItem(KEY, name.trim());
}
