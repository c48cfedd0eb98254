'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { Check, UserRound } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Curator } from '@/contract/curators';
import { renameCurator, signInAs, useCurators } from '../api/curators';
import { rememberCurator } from '../api/myCurator';
import { Button } from '../pieces/Button';
import { TextField } from '../pieces/Field';
import { keepKeysFree } from '../pieces/pressedByMouse';

/** Who works in this browser: their initials; opened, all curators to choose from, and a field for another one. */
export function CuratorMenu() {
  const { curators, me } = useCurators();
  if (!me) return null;
  return (
    <Popover className="relative">
      <PopoverButton
        onMouseDown={keepKeysFree}
        aria-label={me.named ? `Curator: ${me.name}` : 'Curator: nobody has said a name yet'}
        title={me.named ? `You work as ${me.name}` : 'Say who you are'}
        className="inline-flex h-7 min-w-7 items-center justify-center border border-transparent px-1 text-small font-semibold hover:bg-wash-ink"
      >
        {me.named ? me.initials : <UserRound className="size-4" aria-hidden />}
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom end', gap: 6 }}
        className="z-30 w-72 space-y-2 border border-ink bg-paper p-3 text-small"
      >
        {({ close }) => <Choice curators={curators} me={me} onChosen={close} />}
      </PopoverPanel>
    </Popover>
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
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [renaming, setRenaming] = useState(false);
  const save = async () => {
    try {
      if (renaming) await renameCurator(me.curatorId, name.trim());
      else await signInAs(name.trim());
      await queries.invalidateQueries();
      onChosen();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
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
          void save();
        }}
      >
        <TextField
          className="min-w-0 flex-1"
          aria-label={renaming ? 'Another name for you' : 'Name of a curator'}
          placeholder={named.length === 0 ? 'your name' : renaming ? me.name : 'somebody else'}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit" tone="strong" disabled={name.trim() === ''}>
          {renaming ? 'Rename' : named.length === 0 ? 'That is me' : 'Add'}
        </Button>
      </form>
      {me.named && (
        <button
          type="button"
          className="text-tiny text-ink-soft underline"
          onClick={() => setRenaming(!renaming)}
        >
          {renaming ? 'add somebody else instead' : `rename ${me.name}`}
        </button>
      )}
      <p className="text-tiny text-ink-soft">
        The name stands on what you settle, prove and do to many. It is kept in this browser.
      </p>
    </>
  );
}
