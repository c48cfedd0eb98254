'use client';
import { counted } from '@/words/plural';
import { Pause, Play, RotateCw, X } from 'lucide-react';
import { useSyncExternalStore } from 'react';
import { BRINGING_KINDS, type LongTask, type MeasuringState } from '@/contract/tasks';
import { cancelMeasuring, pauseMeasuring, useTasks } from '../api/tasks';
import { changeSample } from '../outbox/sampleOutbox';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { sizeText, spanText } from '@/words/figures';
import { ProgressLine } from '../tasks/ProgressLine';
import { TaskLine } from '../tasks/TaskLine';
import { noUploads, uploads } from './uploads';
import type { Upload } from './uploadSummary';
import { useAction } from '../kit/useAction';

/** What came in stays in sight for so long, ms; then it is found among the tasks. */
const LINGERS = 60_000;

/** Whether a task is still of interest to whoever takes samples in: it goes on, something of it failed, or it has just ended. */
function isInSight({ kind, state, failed, fault, endedAt }: LongTask, now: number): boolean {
  if (['running', 'waiting', 'paused'].includes(state) || failed > 0 || fault !== null) return true;
  const brings = (BRINGING_KINDS as readonly string[]).includes(kind);
  return brings && endedAt !== null && now - Date.parse(endedAt) < LINGERS;
}

/** All that is on its way: files from this page, long tasks of the server, and what is measured. Nothing when all rests. */
export function ProgressPanel() {
  const sending = useSyncExternalStore(uploads.subscribe, uploads.getState, noUploads);
  const { data, dataUpdatedAt } = useTasks();
  const { measuring } = data ?? {};
  const tasks = (data?.tasks ?? []).filter((task) => isInSight(task, dataUpdatedAt));
  const isMeasuring = measuring && measuring.waiting + measuring.running > 0;
  if (sending.totals.files === 0 && tasks.length === 0 && !isMeasuring) return null;
  return (
    <section
      aria-label="Progress"
      className="max-h-36 shrink-0 overflow-y-auto border-b border-rule-strong bg-sheet px-4 py-1"
    >
      {sending.totals.files > 0 && <SendingLine />}
      {tasks.map((task) => (
        <TaskLine key={task.taskId} task={task} />
      ))}
      {isMeasuring && <MeasuringLine measuring={measuring} />}
    </section>
  );
}

function SendingLine() {
  const { totals, telling, open } = useSyncExternalStore(uploads.subscribe, uploads.getState, noUploads);
  const { files, ended, failed, spared, binned, bytes, sent, bytesPerSecond } = totals;
  return (
    <ProgressLine
      label={open > 0 ? 'Uploading from this page' : 'Uploaded from this page'}
      share={bytes > 0 ? sent / bytes : ended / Math.max(1, files)}
      figures={
        <>
          {ended} of {files} files
          {spared > 0 && `, ${counted(spared, 'was', 'were')} already imported`}
          {binned > 0 && `, ${binned} in the bin`}
          {failed > 0 && <b className="text-one">, {failed} refused</b>}, {sizeText(sent)} of{' '}
          {sizeText(bytes)}
          {bytesPerSecond !== null && bytesPerSecond > 0 && (
            <>
              , {sizeText(bytesPerSecond)}/s, {spanText((bytes - sent) / bytesPerSecond)} left
            </>
          )}
        </>
      }
      urgent={failed + binned > 0}
      more={telling.length > 0 && telling.map((upload) => <UploadRow key={upload.id} upload={upload} />)}
      buttons={
        open > 0 ? (
          <IconButton label="Cancel remaining uploads" onClick={() => uploads.cancelAll()}>
            <X />
          </IconButton>
        ) : (
          <IconButton label="Clear" onClick={() => uploads.clear()}>
            <X />
          </IconButton>
        )
      }
    />
  );
}

function UploadRow({ upload }: { upload: Upload }) {
  const { id, name, state } = upload;
  return (
    <li className="flex h-6 items-center gap-2 text-small">
      <span className="w-72 shrink-0 truncate">{name}</span>
      <span className={state === 'failed' ? 'text-one' : 'text-ink-soft'}>{wordsFor(upload)}</span>
      <span className="ml-auto" />
      {upload.result?.inBin && <FromBin upload={upload} />}
      {state === 'failed' && (
        <IconButton label={`Retry ${name}`} onClick={() => void uploads.retry(id)}>
          <RotateCw />
        </IconButton>
      )}
      {state === 'sending' && (
        <IconButton label={`Cancel ${name}`} onClick={() => uploads.cancel(id)}>
          <X />
        </IconButton>
      )}
    </li>
  );
}

function wordsFor({ state, sent, byteLength, message, result }: Upload): string {
  if (state === 'failed') return message ?? 'refused';
  if (state === 'sending')
    return `${Math.round((100 * sent) / Math.max(1, byteLength))} % of ${sizeText(byteLength)}`;
  if (result?.outcome === 'in the bin') return 'is in the bin with all its edits; not imported again';
  if (result?.outcome === 'unpacking') return 'is being unpacked';
  if (result?.outcome === 'duplicate') return `has the same bytes as “${result.sameAs}”; stored once`;
  if (result?.inBin) return `imported; “${result.inBin.name}” has the same bytes and is in the bin`;
  return 'imported';
}

/** What lies in the bin with the work of somebody: to be had back, or left there. */
function FromBin({ upload: { id, name, result } }: { upload: Upload }) {
  const inBin = result!.inBin!;
  const restore = useAction({
    run: () => changeSample(inBin.sampleId, null, { do: 'restore' }),
    says: () => `“${inBin.name}” restored from the bin.`,
    then: () => uploads.restored(id),
  });
  return (
    <>
      <Button small aria-label={`Restore ${inBin.name}`} onClick={() => restore.act()}>
        Restore
      </Button>
      {result!.outcome === 'in the bin' && uploads.canSend(id) && (
        <Button small aria-label={`Import ${name} again`} onClick={() => void uploads.sendAnew(id)}>
          Import again
        </Button>
      )}
    </>
  );
}

function MeasuringLine({ measuring }: { measuring: MeasuringState }) {
  const { waiting, running, paused, doneLately, secondsLately, secondsLeft } = measuring;
  const pause = useAction({ run: pauseMeasuring, renews: ['tasks'] });
  const cancel = useAction({ run: cancelMeasuring });
  const rate = secondsLately > 2 ? doneLately / secondsLately : 0;
  // The whole is not known after a reload: the line shows what of the last minute's work and the rest is done.
  const share =
    secondsLeft === null
      ? doneLately / Math.max(1, doneLately + waiting + running)
      : secondsLately / Math.max(1, secondsLately + secondsLeft);
  return (
    <ProgressLine
      label={paused ? 'Measuring paused' : 'Measuring'}
      share={share}
      paused={paused}
      figures={
        <>
          {running} running, {waiting} waiting
          {rate > 0 &&
            !paused &&
            `, ${rate >= 1 ? `${rate.toFixed(1)} a second` : `${(60 * rate).toFixed(0)} a minute`}`}
          {secondsLeft !== null && !paused && `, ${spanText(secondsLeft)} left`}
        </>
      }
      buttons={
        <>
          <IconButton
            label={paused ? 'Resume measuring' : 'Pause measuring'}
            onClick={() => pause.act(!paused)}
          >
            {paused ? <Play /> : <Pause />}
          </IconButton>
          <IconButton label="Cancel all" onClick={() => cancel.act()}>
            <X />
          </IconButton>
        </>
      }
    />
  );
}
