'use client';
import { Redo2, Undo2 } from 'lucide-react';
import type { DocumentKind } from '@/contract/documents';
import { IconButton } from '../kit/IconButton';
import type { DocumentEditor } from './useDocument';
import { WrittenField } from '../kit/WrittenField';
import { useHint } from '../kit/shortcuts';
import { STEPS } from '../shortcuts/shortcutTables';

/** What a blend or a pack is called; typed into, and taken when it is left. */
export function DocumentName({
  kind,
  name,
  onSet,
  className,
}: {
  kind: DocumentKind;
  name: string;
  onSet: (name: string) => void;
  className: string;
}) {
  return (
    <WrittenField
      label={`Name of the ${kind}`}
      place="hidden"
      isNeeded
      className={`${className} border-transparent! bg-transparent! text-base! font-semibold hover:border-rule-strong! focus:border-rule-strong!`}
      maxLength={120}
      value={name}
      onSet={onSet}
    />
  );
}

/** Takes steps back and does them again. */
export function Steps({
  editor: { undo, redo, step },
}: {
  editor: Pick<DocumentEditor<never, never>, 'undo' | 'redo' | 'step'>;
}) {
  const hint = useHint();
  return (
    <>
      <IconButton
        label={undo ? hint(STEPS.undo, `Undo: ${undo}`) : 'Nothing to undo'}
        disabled={!undo}
        onClick={() => step('undo')}
      >
        <Undo2 aria-hidden />
      </IconButton>
      <IconButton
        label={redo ? hint(STEPS.redo, `Redo: ${redo}`) : 'Nothing to redo'}
        disabled={!redo}
        onClick={() => step('redo')}
      >
        <Redo2 aria-hidden />
      </IconButton>
    </>
  );
}
