'use client';
import { useQueryClient } from '@tanstack/react-query';
import { Download, TriangleAlert, X } from 'lucide-react';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { PackLine } from '@/library/packs/contents';
import type { PackContents, PackWriting } from '@/library/packs/writing';
import { archiveUrl, PACKS, writePack } from '../api/packs';
import { directTask, useTasks } from '../api/tasks';
import { Button } from '../pieces/Button';
import { sizeText } from '../pieces/figures';
import { IconButton } from '../pieces/IconButton';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { settledChanges } from '../stepped/sendChange';
import { SteppedName, Steps } from '../stepped/SteppedHead';
import type { PackHand } from './packHand';

const RUNS: readonly PackWriting['state'][] = ['waiting', 'running', 'paused'];

interface Props {
  hand: PackHand;
  lines: readonly PackLine[];
  contents: PackContents;
  /** Brings the next sample that something is to be said of into sight. */
  onLook: () => void;
}

/** What a pack is called, what will be in it, and writing and fetching it. */
export function PackHead({ hand, lines, contents, onLook }: Props) {
  const { state } = hand;
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
      <SteppedName
        kind="pack"
        className="w-60"
        name={state.name}
        onSet={(name) => hand.order({ do: 'set', patch: { name } }, `called “${name}”`)}
      />
      <Counts lines={lines} onLook={onLook} />
      <span className="ml-auto flex items-center gap-1">
        <Steps hand={hand} />
        <Writing hand={hand} lines={lines} contents={contents} />
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
        <b className="figures">{lines.length}</b> {lines.length === 1 ? 'sample' : 'samples'},{' '}
        <b className="figures">{files}</b> files
      </span>
      {noted > 0 && (
        <button
          type="button"
          onMouseDown={keepKeysFree}
          title="Shows the next one"
          className="flex items-center gap-1 text-look underline-offset-2 hover:underline"
          onClick={onLook}
        >
          <TriangleAlert className="size-3.5" aria-hidden />
          {noted} to look at
        </button>
      )}
      {faults > 0 && <span className="text-one">{faults} cannot be written</span>}
    </span>
  );
}

/** Writes it, says how far that has come, and gives what was written. */
function Writing({ hand, lines, contents }: Omit<Props, 'onLook'>) {
  const queries = useQueryClient();
  const { data } = useTasks();
  const [isAsking, setAsking] = useState(false);
  const { last, done } = contents;
  const task = data?.tasks.find(({ taskId }) => taskId === last?.taskId);
  const now = task?.state ?? last?.state;
  // The list of tasks is asked more often than what the pack holds.
  useEffect(() => {
    if (last && now !== last.state) void queries.invalidateQueries({ queryKey: ['pack contents', hand.id] });
  }, [last, now, queries, hand.id]);
  const write = async () => {
    setAsking(true);
    try {
      // What was just changed is written as well.
      await settledChanges(PACKS, hand.id);
      await writePack(hand.id);
      await queries.invalidateQueries({ queryKey: ['pack contents', hand.id] });
      void queries.invalidateQueries({ queryKey: ['tasks'] });
    } catch (error) {
      toast.error((error as Error).message);
    } finally {
      setAsking(false);
    }
  };
  const direct = (move: 'cancel' | 'pause' | 'resume') => {
    if (task) directTask(task.taskId, move).catch((error: Error) => toast.error(error.message));
  };
  if (last && task && now && RUNS.includes(now)) {
    const ended = task.done + task.failed;
    return (
      <>
        <progress className="h-1.5 w-40" max={task.bytes} value={task.received} aria-label="Written" />
        <span role="status" className="figures">
          {now === 'waiting' ? 'waits' : `${ended} of ${task.files}`}
          {now === 'paused' && ', rests'}
        </span>
        <Button onClick={() => direct(now === 'paused' ? 'resume' : 'pause')}>
          {now === 'paused' ? 'Go on' : 'Pause'}
        </Button>
        <IconButton label="Cancel writing" onClick={() => direct('cancel')}>
          <X aria-hidden />
        </IconButton>
      </>
    );
  }
  const isSame = done !== null && JSON.stringify(done.pack) === JSON.stringify(hand.state);
  const isNow = isSame && done.changed === 0;
  const cannot =
    lines.every(({ paths }) => paths === null) || (hand.state.files === 'none' && !hand.state.atTarget);
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
                ? `${done.changed} settled otherwise since it was written`
                : 'changed since it was written'}
            {done.faults.length > 0 && `, ${done.faults.length} missing`}
          </span>
          <a
            href={archiveUrl(hand.id)}
            download
            className="inline-flex h-7 items-center gap-1.5 border border-rule-strong bg-sheet px-2.5 hover:bg-wash-ink"
          >
            <Download className="size-3.5" aria-hidden /> Fetch, {sizeText(done.bytes)}
          </a>
        </>
      )}
      <Button
        tone={isNow ? 'plain' : 'strong'}
        disabled={isAsking || cannot}
        title={
          lines.length === 0
            ? 'Nothing is in it yet'
            : cannot
              ? 'Nothing of it can be written: no sound is chosen, or no sample can be written'
              : 'Makes every file, and one ZIP of them'
        }
        onClick={() => void write()}
      >
        Write {done ? 'it anew' : 'it'}
      </Button>
    </>
  );
}
