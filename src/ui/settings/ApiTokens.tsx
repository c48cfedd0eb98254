'use client';
import { useState } from 'react';
import type { Access } from '@/contract/access';
import { giveAccess, takeAccess } from '../api/access';
import { Button } from '../kit/Button';
import { Labelled, TextField } from '../kit/Field';
import { useAction } from '../kit/useAction';

const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { dateStyle: 'medium' });
const RENEWS = ['access'];

/** Tokens by which scripts read the library. */
export function ApiTokens({ tokens, isGuarded }: Pick<Access, 'tokens' | 'isGuarded'>) {
  const [name, setName] = useState('');
  const [secret, setSecret] = useState<string | null>(null);
  const create = useAction({
    run: giveAccess,
    renews: RENEWS,
    then: (given) => {
      setSecret(given.secret);
      setName('');
    },
  });
  const revoke = useAction({ run: takeAccess, renews: RENEWS, then: () => setSecret(null) });
  return (
    <>
      <p>
        A script sends its token as <code className="figures">Authorization: Bearer …</code>; it can read
        everything and change nothing.
        {!isGuarded && ' While there is no passphrase, scripts on this machine need no token.'}
      </p>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          create.act(name);
        }}
      >
        <Labelled label="Name of the token" className="w-72">
          <TextField maxLength={80} value={name} onChange={(event) => setName(event.target.value)} />
        </Labelled>
        <Button type="submit" disabled={name.trim() === '' || create.isBusy}>
          Create token
        </Button>
      </form>
      {secret && (
        <p role="status" className="border border-rule-strong bg-wash-look p-2">
          Copy it now; it is shown only once: <code className="figures break-all select-all">{secret}</code>
        </p>
      )}
      <ul className="text-small">
        {tokens.map(({ tokenId, name: called, madeAt, seenAt }) => (
          <li key={tokenId} className="flex items-center gap-3 border-b border-rule py-1.5">
            <span className="min-w-0 flex-1 truncate font-medium">{called}</span>
            <span className="text-ink-soft">
              created {day(madeAt)}, {seenAt ? `last used ${day(seenAt)}` : 'never used'}
            </span>
            <Button onClick={() => revoke.act(tokenId)}>Revoke</Button>
          </li>
        ))}
      </ul>
    </>
  );
}
