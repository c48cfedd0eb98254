import { accessRequest, type Access } from '@/contract/access';
import { addAccess, listAccess, revokeAccess } from '@/store/sessions';
import { allowedRoots } from '../roots';
import { UserError } from '../userError';
import { isOpenToOthers } from './hosts';
import { isGuarded, newSecret, sha256 } from './passphrase';

/** Who may enter, and where samples may lie. */
export async function accessNow(): Promise<Access> {
  return {
    isGuarded: isGuarded(),
    isOpenToOthers: isOpenToOthers(),
    roots: allowedRoots(),
    tokens: await listAccess(),
  };
}

/** Gives a script the right to read; the secret is told here and nowhere else. */
export async function giveAccess(input: unknown): Promise<{ secret: string }> {
  const { name } = accessRequest.parse(input);
  const secret = `grento-${newSecret()}`;
  await addAccess(name, sha256(secret));
  return { secret };
}

export async function takeAccess(tokenId: string): Promise<void> {
  if (!(await revokeAccess(tokenId))) throw new UserError('There is no such token.', 404);
}
