'use client';
import { notesOf } from '@/words/remarks';
import { NOTHING_HANGS } from '@/contract/bin';
import { hangingWords } from '@/words/hanging';
import { ChevronLeft, ChevronRight, List, Redo2, Trash2, Undo2, Waypoints } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { allDoubtWords } from '@/words/doubts';
import { fetchFamily } from '../api/renders';
import { changeSample } from '../outbox/sampleOutbox';
import { returnTo } from '../list/returning';
import { neighbours } from '../list/workingList';
import { IconButton } from '../kit/IconButton';
import { KIND_TEXT, lengthText, sizeText } from '@/words/figures';
import { StatusMark } from '../list/StatusMark';
import { Button } from '../kit/Button';
import type { Bench } from './useBench';
import Link from 'next/link';
import { useHint } from '../kit/shortcuts';
import { tell } from '../kit/useAction';
import { STEPS } from '../shortcuts/shortcutTables';
import { useBenchModel } from './useBenchModel';

/** Name, kind and standing, the way along the working list, and the steps back and forth. */
export function BenchHead() {
  const { bench } = useBenchModel();
  const hint = useHint();
  const router = useRouter();
  const { summary, undo, redo } = bench.entry;
  const isSaved = summary.standing === 'saved';
  const { previous, next, at, count } = neighbours(summary.sampleId);
  const bin = async () => {
    const hanging = await fetchFamily(summary.sampleId)
      .then(({ children, blends, packs }) => ({
        made: children.filter(({ binned }) => !binned).length,
        blends: blends.length,
        packs: packs.length,
      }))
      .catch(() => NOTHING_HANGS);
    if (!(await bench.order({ do: 'bin' }, 'moved to the bin'))) return;
    toast(`“${summary.name}” is in the bin.${hangingWords(hanging, 1)}`, {
      action: {
        label: 'Undo',
        onClick: () => void changeSample(summary.sampleId, null, { do: 'restore' }).catch(tell),
      },
    });
    router.push('/intake');
  };
  return (
    <div className="flex h-12 shrink-0 items-center gap-3 border-b border-rule-strong px-3">
      <div className="flex items-center">
        <IconButton
          label={previous ? `Previous: ${previous.name}` : 'No previous sample'}
          disabled={!previous}
          onClick={() => previous && router.push(`/bench/${previous.sampleId}`)}
        >
          <ChevronLeft />
        </IconButton>
        {at >= 0 && (
          <span className="figures px-1 text-tiny text-ink-soft">
            {at + 1}/{count}
          </span>
        )}
        <IconButton
          label={next ? `Next: ${next.name}` : 'No next sample'}
          disabled={!next}
          onClick={() => next && router.push(`/bench/${next.sampleId}`)}
        >
          <ChevronRight />
        </IconButton>
      </div>
      <h1 className="min-w-0 truncate text-lg font-semibold">{summary.name}</h1>
      <span className="text-small text-ink-soft whitespace-nowrap">
        {summary.kind ? KIND_TEXT[summary.kind] : 'not measured'}
        {summary.durationSeconds !== null && (
          <span className="figures"> · {lengthText(summary.durationSeconds)}</span>
        )}
        {summary.sampleRate !== null && <span className="figures"> · {summary.sampleRate / 1000} kHz</span>}
        {summary.channels !== null &&
          ` · ${summary.channels === 1 ? 'mono' : summary.channels === 2 ? 'stereo' : `${summary.channels} channels`}`}
        <span className="figures"> · {sizeText(summary.byteLength)}</span>
      </span>
      {summary.parent && (
        <Link
          href={`/bench/${summary.parent.sampleId}`}
          className="max-w-44 truncate text-small underline-offset-2 hover:underline"
          title={`Rendered from “${summary.parent.name}”; see its recipe under History`}
        >
          of {summary.parent.name}
        </Link>
      )}
      <span className="text-small">
        <StatusMark standing={summary.standing} />
      </span>
      <span
        className="ml-auto truncate text-tiny"
        title={[
          ...allDoubtWords(summary.doubts),
          ...allDoubtWords(summary.todos),
          ...notesOf(bench.entry),
        ].join('\n')}
      >
        <span className="text-look">{allDoubtWords(summary.doubts).join('; ')}</span>
        {summary.todos.length > 0 && (
          <span className="text-ink-soft">
            {summary.doubts.length > 0 && ' · '}to do: {allDoubtWords(summary.todos).join('; ')}
          </span>
        )}
      </span>
      <NotStored outbox={bench.outbox} />
      <div className="flex">
        <IconButton
          label={undo ? hint(STEPS.undo, `Undo: ${undo.words}`) : 'Nothing to undo'}
          disabled={!undo}
          onClick={bench.undo}
        >
          <Undo2 />
        </IconButton>
        <IconButton
          label={redo ? hint(STEPS.redo, `Redo: ${redo.words}`) : 'Nothing to redo'}
          disabled={!redo}
          onClick={bench.redo}
        >
          <Redo2 />
        </IconButton>
        <IconButton
          label={isSaved ? 'Show on the Shelf' : 'Show in the Intake'}
          onClick={() => {
            const list = isSaved ? 'shelf' : 'intake';
            returnTo(list, summary.sampleId);
            router.push(`/${list}?${new URLSearchParams({ text: wordsOf(summary.name) })}`);
          }}
        >
          <List aria-hidden />
        </IconButton>
        <IconButton
          label="Find similar samples on the Shelf"
          onClick={() => router.push(`/shelf?like=${summary.sampleId}`)}
        >
          <Waypoints aria-hidden />
        </IconButton>
        <IconButton label="Move to bin" onClick={() => void bin()}>
          <Trash2 />
        </IconButton>
      </div>
    </div>
  );
}

/** Words of a name that a list is searched by: no figures and no keys, which would be filters. */
const wordsOf = (name: string) =>
  name
    .replace(/\.[^.]+$/, '')
    .split(/[^\p{L}’']+/u)
    .filter((word) => word.length > 3)
    .slice(0, 3)
    .join(' ');

/** Says what is not stored because the server cannot be reached; it is sent as soon as it can be, or given back. */
function NotStored({ outbox: { unstored, trouble, tryAgain, giveBack } }: Pick<Bench, 'outbox'>) {
  if (!trouble) return null;
  const [first, ...more] = unstored;
  return (
    <div
      role="alert"
      className="flex shrink-0 items-center gap-2 border border-one bg-wash-one px-2 text-small"
      title={`${trouble} ${unstored.map(({ words }) => words).join('; ')}`}
    >
      <span className="max-w-72 truncate">
        <b className="text-one">Not saved:</b> {first?.words}
        {more.length > 0 && `, and ${more.length} more`}
      </span>
      <Button small onClick={tryAgain}>
        Retry
      </Button>
      <Button small onClick={giveBack}>
        Discard
      </Button>
    </div>
  );
}
