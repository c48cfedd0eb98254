'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import type { Doors } from '@/contract/doors';
import { fetchDoors, giveAccess, takeAccess } from '../api/doors';
import { Button } from '../pieces/Button';
import { Labelled, TextField } from '../pieces/Field';

const complain = (error: Error) => void toast.error(error.message);

/** Who may enter, where samples may lie, and which scripts may read. */
export function SettingsScreen() {
  const { data, error, refetch } = useQuery({
    queryKey: ['doors'],
    queryFn: ({ signal }) => fetchDoors(signal),
  });
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto flex max-w-3xl flex-col gap-8 p-8">
        <h1 className="text-lg font-bold">Settings</h1>
        {error && (
          <p className="text-one">
            {error.message} <Button onClick={() => void refetch()}>Ask again</Button>
          </p>
        )}
        {data && (
          <>
            <WhoMayEnter doors={data} />
            <Part title="Folders that may be looked through">
              <p>
                Kept places lie below these folders. They are chosen when Grento is started:{' '}
                <code className="figures">npm start -- --root FOLDER</code>.
              </p>
              <ul className="figures border border-rule bg-sheet text-small">
                {data.roots.map((root) => (
                  <li key={root} className="border-b border-rule px-3 py-1.5 last:border-b-0">
                    {root}
                  </li>
                ))}
              </ul>
            </Part>
            <Tokens doors={data} />
          </>
        )}
      </div>
    </div>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-2">
      <h2 className="border-b border-rule-strong pb-1 font-semibold">{title}</h2>
      {children}
    </section>
  );
}

function WhoMayEnter({ doors: { isGuarded, isOpenToOthers } }: { doors: Doors }) {
  return (
    <Part title="Who may enter">
      {isGuarded ? (
        <>
          <p>
            Whoever knows the passphrase, {isOpenToOthers ? 'from other machines, too' : 'on this machine'}. A
            browser that has said it stays in for 30 days.
            {isOpenToOthers &&
              ' Between the machines nothing is encrypted by Grento itself; put it behind a server that does where others can listen.'}
          </p>
          <form method="post" action="/leave">
            <Button type="submit">Sign out of this browser</Button>
          </form>
        </>
      ) : (
        <p>
          Everybody with an account on this machine: Grento answers on this machine only, and asks nobody who
          they are. Where others share the machine they can hear, change and take away everything in here.
          Started with <code className="figures">npm start -- --passphrase</code> it asks for a passphrase
          from then on.
        </p>
      )}
    </Part>
  );
}

const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { dateStyle: 'medium' });

function Tokens({ doors: { isGuarded, tokens } }: { doors: Doors }) {
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [secret, setSecret] = useState<string | null>(null);
  const renew = () => queries.invalidateQueries({ queryKey: ['doors'] });
  return (
    <Part title="Scripts that may read">
      <p>
        A script sends its token as <code className="figures">Authorization: Bearer …</code>; it may read
        everything and change nothing.
        {!isGuarded && ' As long as no passphrase is asked for, a script on this machine needs none.'}
      </p>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void giveAccess(name)
            .then((given) => {
              setSecret(given.secret);
              setName('');
              return renew();
            })
            .catch(complain);
        }}
      >
        <Labelled label="What the script is" className="w-72">
          <TextField maxLength={80} value={name} onChange={(event) => setName(event.target.value)} />
        </Labelled>
        <Button type="submit" disabled={name.trim() === ''}>
          Make a token
        </Button>
      </form>
      {secret && (
        <p role="status" className="border border-rule-strong bg-wash-look p-2">
          Copy it now, it is not shown again: <code className="figures break-all select-all">{secret}</code>
        </p>
      )}
      <ul className="text-small">
        {tokens.map(({ tokenId, name: called, madeAt, seenAt }) => (
          <li key={tokenId} className="flex items-center gap-3 border-b border-rule py-1.5">
            <span className="min-w-0 flex-1 truncate font-medium">{called}</span>
            <span className="text-ink-soft">
              made {day(madeAt)}, {seenAt ? `last used ${day(seenAt)}` : 'never used'}
            </span>
            <Button
              onClick={() => {
                setSecret(null);
                void takeAccess(tokenId).then(renew).catch(complain);
              }}
            >
              Revoke
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  );
}
