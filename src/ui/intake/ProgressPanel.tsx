'use client';
import { useQueryClient } from '@tanstack/react-query';
import { ChevronDown, ChevronUp, Pause, Play, RotateCw, X } from 'lucide-react';
import { useState, useSyncExternalStore, type ReactNode } from 'react';
import { toast } from 'sonner';
import { MAKING_KINDS, type LongTask, type MeasuringState, type TaskMove } from '@/contract/tasks';
import { cancelMeasuring, directTask, pauseMeasuring, useTasks } from '../api/tasks';
import { changeSample } from '../outbox/sampleOutbox';
import { Button } from '../pieces/Button';
import { IconButton } from '../pieces/IconButton';
import { sizeText, spanText } from '../pieces/figures';
import { noUploads, uploads, type Upload } from './uploads';

const complain = (error: Error) => void toast.error(error.message);

/** All that is on its way: files from this page, long tasks of the server, and what is measured. Nothing when all rests. */
export function ProgressPanel() {
  const sending = useSyncExternalStore(uploads.subscribe, uploads.getState, noUploads);
  const { data } = useTasks();
  const { tasks = [], measuring } = data ?? {};
  const isMeasuring = measuring && measuring.waiting + measuring.running > 0;
  if (sending.totals.files === 0 && tasks.length === 0 && !isMeasuring) return null;
  return (
    <section aria-label="On its way" className="border-b border-rule-strong bg-sheet px-4 py-1">
      {sending.totals.files > 0 && <SendingLine />}
      {tasks.map((task) => (
        <TaskLine key={task.taskId} task={task} />
      ))}
      {isMeasuring && <MeasuringLine measuring={measuring} />}
    </section>
  );
}

interface LineProps {
  label: string;
  share: number;
  figures: ReactNode;
  paused?: boolean;
  buttons: ReactNode;
  /** What is told when it is opened. */
  more?: ReactNode;
  /** Opened by itself when something must be read. */
  urgent?: boolean;
}

function Line({ label, share, figures, paused, buttons, more, urgent }: LineProps) {
  const [wanted, setOpen] = useState<boolean | null>(null);
  const open = more ? (wanted ?? urgent ?? false) : false;
  return (
    <div>
      <div className="flex h-8 items-center gap-3 text-small">
        <span className="w-52 shrink-0 truncate font-medium" title={label}>
          {label}
        </span>
        <progress
          className={`h-1.5 min-w-24 flex-1 ${paused ? 'opacity-50' : ''}`}
          max={1}
          value={Number.isFinite(share) ? share : 0}
          aria-label={label}
        />
        <span role="status" className="figures min-w-72 text-ink-soft">
          {figures}
        </span>
        <span className="flex w-[5.5rem] shrink-0 justify-end">
          {more && (
            <IconButton label={open ? 'Hide the files' : 'Show the files'} onClick={() => setOpen(!open)}>
              {open ? <ChevronUp /> : <ChevronDown />}
            </IconButton>
          )}
          {buttons}
        </span>
      </div>
      {open && <ul className="mb-1 max-h-28 overflow-auto border-l border-rule pl-3">{more}</ul>}
    </div>
  );
}

function SendingLine() {
  const { totals, telling, open } = useSyncExternalStore(uploads.subscribe, uploads.getState, noUploads);
  const { files, ended, failed, spared, binned, bytes, sent, bytesPerSecond } = totals;
  return (
    <Line
      label={open > 0 ? 'Taking in from this page' : 'Taken in from this page'}
      share={bytes > 0 ? sent / bytes : ended / Math.max(1, files)}
      figures={
        <>
          {ended} of {files} files{spared > 0 && `, ${spared} ${spared === 1 ? 'was' : 'were'} here already`}
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
          <IconButton label="Cancel what is not sent yet" onClick={() => uploads.cancelAll()}>
            <X />
          </IconButton>
        ) : (
          <IconButton label="Clear this line" onClick={() => uploads.clear()}>
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
        <IconButton label={`Send ${name} again`} onClick={() => void uploads.retry(id)}>
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
  if (result?.outcome === 'in the bin') return 'lies in the bin with its work; it was not taken in again';
  if (result?.outcome === 'unpacking') return 'is unpacked on the server';
  if (result?.outcome === 'duplicate')
    return `has the same bytes as “${result.sameAs}”; they are stored once`;
  if (result?.inBin) return `taken in; “${result.inBin.name}” has the same bytes and lies in the bin`;
  return 'taken in';
}

/** What lies in the bin with the work of somebody: to be had back, or left there. */
function FromBin({ upload: { id, name, result } }: { upload: Upload }) {
  const inBin = result!.inBin!;
  const restore = async () => {
    try {
      await changeSample(inBin.sampleId, null, { do: 'restore' });
      uploads.restored(id);
      toast.success(`“${inBin.name}” is restored from the bin.`);
    } catch (error) {
      complain(error as Error);
    }
  };
  return (
    <>
      <Button className="h-5 px-1.5" aria-label={`Restore ${inBin.name}`} onClick={() => void restore()}>
        Restore it
      </Button>
      {result!.outcome === 'in the bin' && uploads.canSend(id) && (
        <Button
          className="h-5 px-1.5"
          aria-label={`Take ${name} in anew`}
          onClick={() => void uploads.sendAnew(id)}
        >
          Take it in anew
        </Button>
      )}
    </>
  );
}

function TaskLine({ task }: { task: LongTask }) {
  const queries = useQueryClient();
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
  const direct = (move: TaskMove) =>
    void directTask(taskId, move)
      .then(() => queries.invalidateQueries({ queryKey: ['tasks'] }))
      .catch(complain);
  const going = state === 'running' || state === 'waiting';
  return (
    <Line
      label={words.charAt(0).toUpperCase() + words.slice(1)}
      share={bytes > 0 ? received / bytes : (done + failed) / Math.max(1, files)}
      paused={state === 'paused'}
      figures={
        <>
          {state === 'paused' && 'paused, '}
          {state === 'cancelled' && 'cancelled, '}
          {done} of {files} {makes ? 'made' : 'files'}
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
            <IconButton label="Go on" onClick={() => direct('resume')}>
              <Play />
            </IconButton>
          )}
          {canBeRetried && (
            <IconButton label="Try what is missing again" onClick={() => direct('retry')}>
              <RotateCw />
            </IconButton>
          )}
          <IconButton
            label={going || state === 'paused' ? 'Cancel' : 'Clear this line'}
            onClick={() => direct(going || state === 'paused' ? 'cancel' : 'forget')}
          >
            <X />
          </IconButton>
        </>
      }
    />
  );
}

function MeasuringLine({ measuring }: { measuring: MeasuringState }) {
  const queries = useQueryClient();
  const { waiting, running, paused, doneLately, secondsLately, secondsLeft } = measuring;
  const renew = () => queries.invalidateQueries({ queryKey: ['tasks'] });
  const rate = secondsLately > 2 ? doneLately / secondsLately : 0;
  // The whole is not known after a reload: the line shows what of the last minute's work and the rest is done.
  const share =
    secondsLeft === null
      ? doneLately / Math.max(1, doneLately + waiting + running)
      : secondsLately / Math.max(1, secondsLately + secondsLeft);
  return (
    <Line
      label={paused ? 'Measuring rests' : 'Measuring'}
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
            label={paused ? 'Go on measuring' : 'Let measuring rest'}
            onClick={() => void pauseMeasuring(!paused).then(renew).catch(complain)}
          >
            {paused ? <Play /> : <Pause />}
          </IconButton>
          <IconButton
            label="Measure none of them"
            onClick={() =>
              void cancelMeasuring()
                .then(() => queries.invalidateQueries())
                .catch(complain)
            }
          >
            <X />
          </IconButton>
        </>
      }
    />
  );
}
