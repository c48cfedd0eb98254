'use client';
import { Redo2, Undo2 } from 'lucide-react';
import type { SteppedKind } from '@/contract/stepped';
import { TextField } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';
import { useTyped } from '../pieces/useTyped';
import type { SteppedHand } from './useStepped';

/** What a blend or a pack is called; typed into, and taken when it is left. */
export function SteppedName({
  kind,
  name,
  onSet,
  className,
}: {
  kind: SteppedKind;
  name: string;
  onSet: (name: string) => void;
  className: string;
}) {
  const { field } = useTyped(name, (typed) => {
    const text = typed.trim();
    if (text && text !== name) onSet(text);
  });
  return (
    <TextField
      aria-label={`Name of the ${kind}`}
      className={`${className} border-transparent! bg-transparent! text-base! font-semibold hover:border-rule-strong! focus:border-rule-strong!`}
      maxLength={120}
      {...field}
    />
  );
}

/** Takes steps back and does them again. */
export function Steps({
  hand: { undo, redo, step },
}: {
  hand: Pick<SteppedHand<never, never>, 'undo' | 'redo' | 'step'>;
}) {
  return (
    <>
      <IconButton
        label={undo ? `Take back: ${undo} (Ctrl + Z)` : 'Nothing to take back'}
        disabled={!undo}
        onClick={() => step('undo')}
      >
        <Undo2 aria-hidden />
      </IconButton>
      <IconButton
        label={redo ? `Do again: ${redo} (Ctrl + Shift + Z)` : 'Nothing to do again'}
        disabled={!redo}
        onClick={() => step('redo')}
      >
        <Redo2 aria-hidden />
      </IconButton>
    </>
  );
}
