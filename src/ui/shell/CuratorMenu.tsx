'use client';
import clsx from 'clsx';
import { Check, UserRound } from 'lucide-react';
import { useState } from 'react';
import type { Curator } from '@/contract/curators';
import { renameCurator, signInAs, useCurators } from '../api/curators';
import { rememberCurator } from '../api/myCurator';
import { Button, TextButton } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Popup } from '../kit/Popup';
import { useAction } from '../kit/useAction';

/** Who works in this browser: their initials; opened, all curators to choose from, and a field for another one. */
export function CuratorMenu() {
  const { curators, me } = useCurators();
  if (!me) return null;
  return (
    <Popup
      tone="quiet"
      label={me.named ? `Curator: ${me.name}` : 'Curator: no name yet'}
      title={me.named ? `You work as ${me.name}` : 'Enter your name'}
      buttonClassName="min-w-7 px-1! font-semibold"
      button={me.named ? me.initials : <UserRound className="size-4" aria-hidden />}
      width="w-72"
    >
      {(close) => <Choice curators={curators} me={me} onChosen={close} />}
    </Popup>
  );
}

function Choice({
  curators,
  me,
  onChosen,
}: {
  curators: readonly Curator[];
  me: Curator;
  onChosen: () => void;
}) {
  const [name, setName] = useState('');
  const [renaming, setRenaming] = useState(false);
  const save = useAction({
    run: () => (renaming ? renameCurator(me.curatorId, name.trim()) : signInAs(name.trim())),
    then: onChosen,
  });
  const named = curators.filter((one) => one.named);
  return (
    <>
      {named.length > 0 && (
        <ul aria-label="Curators">
          {named.map(({ curatorId, name: theirs, initials }) => (
            <li key={curatorId}>
              <button
                type="button"
                aria-pressed={curatorId === me.curatorId}
                className={clsx(
                  'flex w-full items-center gap-2 px-1 py-0.5 text-left hover:bg-wash-ink',
                  curatorId === me.curatorId && 'font-semibold',
                )}
                onClick={() => {
                  rememberCurator(curatorId);
                  onChosen();
                }}
              >
                <span className="figures w-8 text-ink-soft">{initials}</span>
                <span className="flex-1 truncate">{theirs}</span>
                {curatorId === me.curatorId && <Check className="size-3.5" aria-hidden />}
              </button>
            </li>
          ))}
        </ul>
      )}
      <form
        className="flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          save.act();
        }}
      >
        <TextField
          className="min-w-0 flex-1"
          aria-label={renaming ? 'Another name for you' : 'Name of a curator'}
          placeholder={named.length === 0 ? 'your name' : renaming ? me.name : 'another name'}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit" tone="strong" disabled={name.trim() === ''}>
          {renaming ? 'Rename' : named.length === 0 ? 'Use this name' : 'Add'}
        </Button>
      </form>
      {me.named && (
        <TextButton className="text-tiny text-ink-soft" onClick={() => setRenaming(!renaming)}>
          {renaming ? 'add another person' : `rename ${me.name}`}
        </TextButton>
      )}
      <p className="text-tiny text-ink-soft">
        Your name is recorded with every change and proof. It is remembered in this browser.
      </p>
    </>
  );
}
