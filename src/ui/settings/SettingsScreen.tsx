'use client';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import type { Access } from '@/contract/access';
import { fetchAccess } from '../api/access';
import { fetchSettings, writeSettings } from '../api/settings';
import { Button } from '../kit/Button';
import { Checkbox } from '../kit/Checkbox';
import { Awaited } from '../kit/States';
import { useAction } from '../kit/useAction';
import { ApiTokens } from './ApiTokens';
import { KeySettings } from './KeySettings';
import { Storage } from './Storage';

const SETTINGS = ['settings'];

/** Who may open Grento, where samples may lie, which scripts may read, what it takes up, how it measures, and the keyboard shortcuts. */
export function SettingsScreen() {
  const asked = useQuery({ queryKey: ['access'], queryFn: ({ signal }) => fetchAccess(signal) });
  const { data } = asked;
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto flex max-w-3xl flex-col gap-8 p-8">
        <h1 className="text-lg font-bold">Settings</h1>
        <Awaited of={asked} what="settings" />
        {data && (
          <>
            <Access access={data} />
            <Section title="Folders that Grento may read">
              <p>
                Folders of the library lie below these. Set them when you start Grento:{' '}
                <code className="figures">npm start -- --root FOLDER</code>.
              </p>
              <ul className="figures border border-rule bg-sheet text-small">
                {data.roots.map((root) => (
                  <li key={root} className="border-b border-rule px-3 py-1.5 last:border-b-0">
                    {root}
                  </li>
                ))}
              </ul>
            </Section>
            <Section title="API tokens">
              <ApiTokens tokens={data.tokens} isGuarded={data.isGuarded} />
            </Section>
          </>
        )}
        <Section title="Storage and backup">
          <Storage />
        </Section>
        <Section title="Measuring">
          <Measuring />
        </Section>
        <Section title="Keyboard shortcuts">
          <KeySettings />
        </Section>
      </div>
    </div>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-2">
      <h2 className="border-b border-rule-strong pb-1 font-semibold">{title}</h2>
      {children}
    </section>
  );
}

function Measuring() {
  const asked = useQuery({ queryKey: SETTINGS, queryFn: ({ signal }) => fetchSettings(signal) });
  const keep = useAction({ run: (learnsTempi: boolean) => writeSettings({ learnsTempi }), renews: SETTINGS });
  if (!asked.data) return <Awaited of={asked} what="settings" />;
  return (
    <Checkbox
      label="Learn from proved samples"
      about="Where a tempo could be felt at two levels, the tempi of this library’s proved samples have a say. A sample whose tempo they decided says so."
      value={asked.data.learnsTempi}
      onValue={keep.act}
    />
  );
}

function Access({ access: { isGuarded, isOpenToOthers } }: { access: Access }) {
  return (
    <Section title="Access">
      {isGuarded ? (
        <>
          <p>
            Everybody who knows the passphrase,{' '}
            {isOpenToOthers ? 'also from other machines' : 'on this machine'}. A browser stays signed in for
            30 days.
            {isOpenToOthers &&
              ' Grento does not encrypt its connections; on a shared network, put it behind a server that does.'}
          </p>
          <form method="post" action="/leave">
            <Button type="submit">Sign out</Button>
          </form>
        </>
      ) : (
        <p>
          Everybody with an account on this machine: Grento accepts connections from this machine only,
          without signing in. Other users of the machine can listen to, change and download everything.
          Started with <code className="figures">npm start -- --passphrase</code>, it asks for a passphrase.
        </p>
      )}
    </Section>
  );
}
