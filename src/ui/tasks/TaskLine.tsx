'use client';
import { ArrowRight, Download, Pause, Play, RotateCw, X } from 'lucide-react';
import { MAKING_KINDS, type LongTask, type TaskMove } from '@/contract/tasks';
import { directTask } from '../api/tasks';
import { IconButton } from '../kit/IconButton';
import { sizeText } from '@/words/figures';
import { ProgressLine } from './ProgressLine';
import { tell, useAction } from '../kit/useAction';
import { takeAway } from '../api/archives';
import { useOpenOnBench } from '../api/useEntry';
import { isOver } from './made';

/** A long task of the server. */
export function TaskLine({ task }: { task: LongTask }) {
  const {
    taskId,
    kind,
    words,
    state,
    fault,
    files,
    done,
    failed,
    bytes,
    received,
    faults,
    current,
    canBeRetried,
  } = task;
  const makes = (MAKING_KINDS as readonly string[]).includes(kind);
  const openOnBench = useOpenOnBench();
  const { act: direct } = useAction({
    run: (move: TaskMove) => directTask(taskId, move),
    renews: ['tasks'],
  });
  const going = state === 'running' || state === 'waiting';
  return (
    <ProgressLine
      label={words.charAt(0).toUpperCase() + words.slice(1)}
      share={bytes > 0 ? received / bytes : (done + failed) / Math.max(1, files)}
      paused={state === 'paused'}
      figures={
        <>
          {state === 'paused' && 'paused, '}
          {state === 'cancelled' && 'cancelled, '}
          {done} of {files} {makes ? 'done' : 'files'}
          {failed > 0 && <b className="text-one">, {failed} not</b>}
          {!makes && `, ${sizeText(received)} of ${sizeText(bytes)}`}
          {going && current && <span title={current}>, {current}</span>}
          {fault && <b className="text-one"> {fault}</b>}
        </>
      }
      urgent={failed > 0 && !going}
      more={
        faults.length > 0 &&
        faults.map(({ name, fault: why }) => (
          <li key={name} className="flex gap-2 text-small">
            <span className="w-72 shrink-0 truncate">{name}</span>
            <span className="text-one">{why}</span>
          </li>
        ))
      }
      buttons={
        <>
          {going && (
            <IconButton label="Pause" onClick={() => direct('pause')}>
              <Pause />
            </IconButton>
          )}
          {state === 'paused' && (
            <IconButton label="Resume" onClick={() => direct('resume')}>
              <Play />
            </IconButton>
          )}
          {isOver(task) && task.made.length > 0 && (
            <>
              <IconButton
                label={`Open ${task.made[0].name}`}
                onClick={() => openOnBench(task.made[0].sampleId)}
              >
                <ArrowRight />
              </IconButton>
              {makes && (
                <IconButton
                  label={`Download ${task.made.length === 1 ? task.made[0].name : 'all'}`}
                  onClick={() =>
                    void takeAway(
                      task.made.map(({ sampleId }) => sampleId),
                      'original',
                    ).catch(tell)
                  }
                >
                  <Download />
                </IconButton>
              )}
            </>
          )}
          {canBeRetried && (
            <IconButton label="Retry failed files" onClick={() => direct('retry')}>
              <RotateCw />
            </IconButton>
          )}
          <IconButton
            label={going || state === 'paused' ? 'Cancel' : 'Clear'}
            onClick={() => direct(going || state === 'paused' ? 'cancel' : 'forget')}
          >
            <X />
          </IconButton>
        </>
      }
    />
  );
}
