'use client';
import { counted } from '@/words/plural';
import clsx from 'clsx';
import { MAKING_KINDS, type LongKind, type LongTask, type MeasuringState } from '@/contract/tasks';
import { directTask, useTasks } from '../api/tasks';
import { Button } from '../kit/Button';
import { TaskLine } from './TaskLine';
import { trayOf, type Tray } from './tray';
import { Popup } from '../kit/Popup';
import { useAction } from '../kit/useAction';

const KIND_WORDS: Readonly<Record<LongKind, string>> = {
  unpack: 'Archives',
  bring: 'Folders',
  fetch: 'Deliveries',
  render: 'Renders',
  mix: 'Mixes',
  pack: 'Packs',
};

/** What the server works on, on every screen: how much, what failed, and what has ended lately. */
export function TaskTray() {
  const { data, dataUpdatedAt } = useTasks();
  const tray = trayOf(data?.tasks ?? [], dataUpdatedAt);
  const words = [
    goingWords(tray.going),
    measuringWords(data?.measuring),
    tray.failed.length > 0 && `${tray.failed.length} failed`,
  ].filter(Boolean);
  const isEmpty = tray.going.length + tray.failed.length + tray.ended.length === 0;
  if (isEmpty && words.length === 0) return null;
  return (
    <Popup
      buttonClassName={clsx('figures', tray.failed.length > 0 ? 'text-one' : 'text-ink-soft')}
      button={
        <>
          <span className="font-sans">Tasks</span>
          {words.length > 0 ? (
            <span role="status">{words.join(' · ')}</span>
          ) : (
            <span>{tray.count} finished</span>
          )}
        </>
      }
      width="w-[52rem] max-w-[calc(100vw-1rem)]"
    >
      <TrayLists tray={tray} />
    </Popup>
  );
}

function TrayLists({ tray }: { tray: Tray }) {
  const clear = useAction({
    run: (tasks: readonly LongTask[]) => Promise.all(tasks.map(({ taskId }) => directTask(taskId, 'forget'))),
    renews: ['tasks'],
  });
  const { going, failed, ended, count } = tray;
  if (going.length + failed.length + ended.length === 0)
    return <p className="py-1 text-ink-soft">Only measuring is running.</p>;
  return (
    <div className="max-h-[70vh] overflow-y-auto">
      {going.map((task) => (
        <TaskLine key={task.taskId} task={task} />
      ))}
      {failed.map((task) => (
        <TaskLine key={task.taskId} task={task} />
      ))}
      {ended.map(({ kind, tasks }) => (
        <details key={kind} className="border-t border-rule py-1">
          <summary className="cursor-pointer">
            {KIND_WORDS[kind]}: {tasks.length} finished, {filesWords(tasks)}
          </summary>
          {tasks.map((task) => (
            <TaskLine key={task.taskId} task={task} />
          ))}
        </details>
      ))}
      {ended.length > 0 && (
        <p className="flex items-center gap-3 border-t border-rule pt-1.5 text-tiny text-ink-soft">
          Finished tasks disappear after an hour; failed ones stay.
          <Button small className="ml-auto" onClick={() => clear.act(ended.flatMap(({ tasks }) => tasks))}>
            Clear {count} finished
          </Button>
        </p>
      )}
    </div>
  );
}

const filesWords = (tasks: readonly LongTask[]) => {
  const files = tasks.reduce((sum, { done }) => sum + done, 0);
  return counted(files, 'file');
};

function goingWords(going: readonly LongTask[]): string | null {
  if (going.length === 0) return null;
  const done = going.reduce((sum, task) => sum + task.done + task.failed, 0);
  const files = going.reduce((sum, task) => sum + task.files, 0);
  const makes = going.some(({ kind }) => (MAKING_KINDS as readonly string[]).includes(kind));
  return `${makes ? 'rendering' : 'importing'} ${Math.min(files, done + 1)} of ${files}`;
}

function measuringWords(measuring: MeasuringState | undefined): string | null {
  const { waiting = 0, running = 0, doneLately = 0, paused = false } = measuring ?? {};
  if (waiting + running === 0) return null;
  const lately = doneLately > 0 ? `, ${doneLately} in the last minute` : '';
  return `${paused ? 'measuring paused' : `measuring ${running}`}, waiting ${waiting}${lately}`;
}
