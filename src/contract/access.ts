import { z } from 'zod';

/** A script's right to read; its secret is shown once. */
const accessToken = z.object({
  tokenId: z.uuid(),
  name: z.string(),
  madeAt: z.string(),
  seenAt: z.string().nullable(),
});
export type AccessToken = z.infer<typeof accessToken>;

export const accessRequest = z.object({ name: z.string().trim().min(1).max(80) });

/** Who may enter, and where samples may lie. */
export const access = z.object({
  /** Whether a passphrase is asked for. */
  isGuarded: z.boolean(),
  /** Whether other machines can reach Grento. */
  isOpenToOthers: z.boolean(),
  roots: z.array(z.string()),
  tokens: z.array(accessToken),
});
export type Access = z.infer<typeof access>;

/** A token just made: the only time that its secret is told. */
export const newAccess = z.object({ secret: z.string() });
