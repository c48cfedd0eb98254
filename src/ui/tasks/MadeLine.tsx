'use client';
import { useEffect } from 'react';
import { ArrowRight, Download, Play, Square, X } from 'lucide-react';
import { BRINGING_KINDS, type LongTask } from '@/contract/tasks';
import { counted } from '@/words/plural';
import { takeAway } from '../api/archives';
import { useOpenOnBench } from '../api/useEntry';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { Progress } from '../kit/Progress';
import { tell } from '../kit/useAction';
import { stopFile, toggleFile, useIsFilePlaying } from './fileSound';
import { dismissMade, isOver, useMadeAt } from './made';

/** What came of the render that was asked for here, with what is done with it next; it stays until it is dismissed. */
export function MadeLine({ place }: { place: string }) {
  const task = useMadeAt(place);
  if (!task) return null;
  return (
    <section
      aria-label="Finished"
      className="flex min-h-8 shrink-0 items-center gap-2 border-b border-rule bg-wash-good px-2 text-small"
    >
      {isOver(task) ? <Made task={task} /> : <Making task={task} />}
      <IconButton label="Dismiss" className="ml-auto" onClick={() => dismissMade(task.taskId)}>
        <X />
      </IconButton>
    </section>
  );
}

function Making({ task: { words, files, done, failed, state } }: { task: LongTask }) {
  return (
    <>
      <span role="status" className="truncate">
        {words.charAt(0).toUpperCase() + words.slice(1)}: {state}
      </span>
      <Progress label="Done" className="h-1.5 w-40" value={(done + failed) / Math.max(1, files)} />
    </>
  );
}

/** The samples of a task that is over: played, opened, downloaded. */
function Made({ task: { kind, made, done, failed, fault, faults } }: { task: LongTask }) {
  const openOnBench = useOpenOnBench();
  useEffect(() => stopFile, []);
  const first = made.at(0);
  const isPlaying = useIsFilePlaying(first?.sampleId);
  const isBrought = (BRINGING_KINDS as readonly string[]).includes(kind);
  const why = fault ?? faults.at(0)?.fault;
  return (
    <>
      <span role="status" className="min-w-0 truncate">
        {first && (
          <>
            <b>{done === 1 ? first.name : counted(done, 'sample')}</b> {done === 1 ? 'is' : 'are'}{' '}
            {isBrought ? 'imported' : 'rendered'}.{' '}
          </>
        )}
        {(failed > 0 || !first) && (
          <span className="text-one">{why ?? `Nothing was ${isBrought ? 'imported' : 'rendered'}.`}</span>
        )}
      </span>
      {first && (
        <>
          <Button small onClick={() => toggleFile(first)}>
            {isPlaying ? <Square className="size-3" aria-hidden /> : <Play className="size-3" aria-hidden />}
            {isPlaying ? 'Stop' : 'Play'}
          </Button>
          <Button small onClick={() => openOnBench(first.sampleId)}>
            Open <ArrowRight className="size-3" aria-hidden />
          </Button>
          {!isBrought && (
            <Button
              small
              onClick={() =>
                void takeAway(
                  made.map(({ sampleId }) => sampleId),
                  'original',
                ).catch(tell)
              }
            >
              <Download className="size-3" aria-hidden /> Download
            </Button>
          )}
        </>
      )}
    </>
  );
}
