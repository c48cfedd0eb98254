'use client';
import { plural } from '@/words/plural';
import { useQueryClient } from '@tanstack/react-query';
import { Download, TriangleAlert, X } from 'lucide-react';
import Link from 'next/link';
import { useEffect } from 'react';
import type { PackLine } from '@/library/packs/contents';
import type { PackContents, PackWriting } from '@/library/packs/writing';
import { archiveUrl, PACKS, writePack } from '../api/packs';
import { directTask, useTasks } from '../api/tasks';
import { Button, buttonClass } from '../kit/Button';
import { sizeText } from '@/words/figures';
import { IconButton } from '../kit/IconButton';
import { keepKeysFree } from '../kit/pressedByMouse';
import { settledChanges } from '../documents/sendChange';
import { DocumentName, Steps } from '../documents/DocumentHead';
import type { PackEditor } from './packEditor';
import { Progress } from '../kit/Progress';
import { tell, useAction } from '../kit/useAction';

const RUNS: readonly PackWriting['state'][] = ['waiting', 'running', 'paused'];

interface Props {
  editor: PackEditor;
  lines: readonly PackLine[];
  contents: PackContents;
  /** Brings the next sample that something is to be said of into sight. */
  onLook: () => void;
}

/** What a pack is called, what will be in it, and writing and fetching it. */
export function PackHead({ editor, lines, contents, onLook }: Props) {
  const { state } = editor;
  return (
    <div
      role="group"
      aria-label="Pack"
      className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule-strong bg-sheet px-4 py-1 text-small whitespace-nowrap"
    >
      <h1 className="sr-only">Pack</h1>
      <Link href="/pack" className="text-ink-soft underline-offset-2 hover:underline" title="All packs">
        Packs /
      </Link>
      <DocumentName
        kind="pack"
        className="w-60"
        name={state.name}
        onSet={(name) => editor.order({ do: 'set', patch: { name } }, `renamed to “${name}”`)}
      />
      <Counts lines={lines} onLook={onLook} />
      <span className="ml-auto flex items-center gap-1">
        <Steps editor={editor} />
        <Writing editor={editor} lines={lines} contents={contents} />
      </span>
    </div>
  );
}

/** How much it is, and what somebody should look at before it is given away. */
function Counts({ lines, onLook }: Pick<Props, 'lines' | 'onLook'>) {
  const files = lines.reduce(
    (sum, { paths }) => sum + Object.values(paths ?? {}).filter((path) => path !== null).length,
    0,
  );
  const faults = lines.filter(({ fault }) => fault !== null).length;
  const noted = lines.filter(({ notes, fault }) => notes.length > 0 && !fault).length;
  return (
    <span role="status" className="flex items-center gap-3">
      <span>
        <b className="figures">{lines.length}</b> {plural(lines.length, 'sample')},{' '}
        <b className="figures">{files}</b> files
      </span>
      {noted > 0 && (
        <button
          type="button"
          onMouseDown={keepKeysFree}
          title="Show the next one"
          className="flex items-center gap-1 text-look underline-offset-2 hover:underline"
          onClick={onLook}
        >
          <TriangleAlert className="size-3.5" aria-hidden />
          {noted} with warnings
        </button>
      )}
      {faults > 0 && <span className="text-one">{faults} cannot be written</span>}
    </span>
  );
}

/** Writes it, says how far that has come, and gives what was written. */
function Writing({ editor, lines, contents }: Omit<Props, 'onLook'>) {
  const queries = useQueryClient();
  const { data } = useTasks();
  const { last, done } = contents;
  const task = data?.tasks.find(({ taskId }) => taskId === last?.taskId);
  const now = task?.state ?? last?.state;
  // The list of tasks is asked more often than what the pack holds.
  useEffect(() => {
    if (last && now !== last.state)
      void queries.invalidateQueries({ queryKey: ['pack contents', editor.id] });
  }, [last, now, queries, editor.id]);
  const write = useAction({
    run: async () => {
      // What was just changed is written as well.
      await settledChanges(PACKS, editor.id);
      await writePack(editor.id);
      void queries.invalidateQueries({ queryKey: ['tasks'] });
    },
    renews: ['pack contents', editor.id],
  });
  const direct = (move: 'cancel' | 'pause' | 'resume') => {
    if (task) directTask(task.taskId, move).catch(tell);
  };
  if (last && task && now && RUNS.includes(now)) {
    const ended = task.done + task.failed;
    return (
      <>
        <Progress className="h-1.5 w-40" label="Written" max={task.bytes} value={task.received} />
        <span role="status" className="figures">
          {now === 'waiting' ? 'waits' : `${ended} of ${task.files}`}
          {now === 'paused' && ', paused'}
        </span>
        <Button onClick={() => direct(now === 'paused' ? 'resume' : 'pause')}>
          {now === 'paused' ? 'Resume' : 'Pause'}
        </Button>
        <IconButton label="Cancel writing" onClick={() => direct('cancel')}>
          <X aria-hidden />
        </IconButton>
      </>
    );
  }
  const isSame = done !== null && JSON.stringify(done.pack) === JSON.stringify(editor.state);
  const isNow = isSame && done.changed === 0;
  const cannot =
    lines.every(({ paths }) => paths === null) || (editor.state.files === 'none' && !editor.state.atTarget);
  return (
    <>
      {last && (now === 'failed' || now === 'cancelled') && (
        <span className="text-one">
          {now === 'failed' ? (task?.fault ?? 'Writing failed.') : 'cancelled'}
        </span>
      )}
      {done && (
        <>
          <span className="text-ink-soft" title={done.faults.join('\n')}>
            {isNow
              ? 'written'
              : isSame
                ? `${done.changed} changed since it was written`
                : 'changed since it was written'}
            {done.faults.length > 0 && `, ${done.faults.length} missing`}
          </span>
          <a href={archiveUrl(editor.id)} download className={buttonClass()}>
            <Download className="size-3.5" aria-hidden /> Download, {sizeText(done.bytes)}
          </a>
        </>
      )}
      <Button
        tone={isNow ? 'plain' : 'strong'}
        disabled={write.isBusy || cannot}
        title={
          lines.length === 0
            ? 'The pack is empty'
            : cannot
              ? 'Nothing can be written: no audio is selected, or no sample can be written'
              : 'Writes every file and one ZIP'
        }
        onClick={() => write.act()}
      >
        Write {done ? 'again' : 'pack'}
      </Button>
    </>
  );
}
