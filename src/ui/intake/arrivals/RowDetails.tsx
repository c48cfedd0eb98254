'use client';
import { notesOf } from '@/words/remarks';
import clsx from 'clsx';
import { ArrowRight, Check } from 'lucide-react';
import type { ReactNode } from 'react';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleEntry, SampleSummary, StoredReading } from '@/contract/entry';
import type { Measurement } from '@/core/measurement/schema';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { allDoubtWords } from '@/words/doubts';
import { Button } from '../../kit/Button';
import { KeyHint } from '../../kit/KeyHint';
import { bpmText, keyText, KIND_TEXT, percentText, signedText } from '@/words/figures';
import { Thumbnail } from '../../trace/Thumbnail';
import { INTAKE, ROW } from '../../shortcuts/shortcutTables';
import { useKeyText, type Shortcut } from '../../kit/shortcuts';
import type { RowActions } from './useRowActions';

interface Props {
  row: SampleSummary;
  entry: SampleEntry | null;
  actions: RowActions;
}

/** The row under the cursor in full: the readings of every source, why it needs review, and what can be done at once. */
export function RowDetails({ row, entry, actions }: Props) {
  // What each source says first comes before what it says else.
  const readings = (entry?.readings ?? [])
    .filter(({ superseded }) => !superseded)
    .sort((a, b) => Number(a.rank > 0) - Number(b.rank > 0));
  const tempi = readings.filter(({ property }) => property === 'tempo').slice(0, 5);
  const keys = readings.filter(({ property }) => property === 'key').slice(0, 4);
  const settled = row.tempoBpm;
  return (
    <section
      aria-label={`Details of ${row.name}`}
      className="grid h-36 shrink-0 grid-cols-[minmax(13rem,0.9fr)_minmax(25rem,1.8fr)_minmax(12rem,0.8fr)_15rem] gap-4 border-t border-rule-strong bg-sheet px-4 py-2"
    >
      <div className="flex min-w-0 flex-col gap-1">
        <div className="truncate font-semibold" title={row.name}>
          {row.name}
        </div>
        <div className="[&>button]:h-[4.4rem]">
          <Thumbnail
            sampleId={row.sampleId}
            thumbnail={row.thumbnail}
            durationSeconds={row.durationSeconds}
            name={row.name}
          />
        </div>
        <div className="truncate text-tiny text-ink-soft">
          {[
            row.kind && KIND_TEXT[row.kind],
            row.format?.replace('ogg-', '').toUpperCase(),
            row.sampleRate && `${row.sampleRate / 1000} kHz`,
            row.channels &&
              (row.channels === 1 ? 'mono' : row.channels === 2 ? 'stereo' : `${row.channels} channels`),
            row.folder,
          ]
            .filter(Boolean)
            .join(' · ')}
        </div>
      </div>
      <div className="grid min-h-0 grid-cols-2 gap-3 overflow-hidden">
        <Sources
          title="Tempo"
          readings={tempi}
          chosen={entry?.settled.chosen.tempo}
          valueOf={(one) => (one.property === 'tempo' ? bpmText(Math.round(one.value * 100) / 100) : '')}
          relationOf={(one) =>
            one.property === 'tempo' && settled ? tempoRelation(one.value, settled).words : ''
          }
          onChoose={actions.use}
        />
        <Sources
          title="Key"
          readings={keys}
          chosen={entry?.settled.chosen.key}
          valueOf={(one) => (one.property === 'key' ? keyText(one.value) : '')}
          relationOf={(one) =>
            one.property === 'key' && row.keyTonic !== null && row.keyMode !== null && 'tonic' in one.value
              ? keyLabel(one.value) === keyLabel({ tonic: row.keyTonic, mode: row.keyMode })
                ? 'agrees'
                : 'differs'
              : ''
          }
          onChoose={actions.use}
        />
      </div>
      <div className="min-h-0 overflow-auto text-small">
        {row.kind === 'oneshot' && entry?.measurement && <OneShot measurement={entry.measurement} />}
        <h2 className="text-tiny text-ink-soft">Uncertain</h2>
        {row.fault ? (
          <p className="text-one">{row.fault}</p>
        ) : row.doubts.length > 0 ? (
          <ul className="text-look">
            {allDoubtWords(row.doubts).map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        ) : (
          <p className="text-ink-soft">
            {row.standing === 'arrived' ? 'Not measured yet.' : 'All sources agree.'}
          </p>
        )}
        {row.todos.length > 0 && (
          <>
            <h2 className="mt-1 text-tiny text-ink-soft">To do</h2>
            <ul>
              {allDoubtWords(row.todos).map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          </>
        )}
        {(entry ? notesOf(entry) : []).map((words) => (
          <p key={words} className="text-ink-soft">
            {words}
          </p>
        ))}
      </div>
      <div className="grid grid-cols-2 content-start gap-1">
        <Do shortcut={INTAKE.accept} strong disabled={row.standing === 'arrived'} onClick={actions.accept}>
          <Check className="size-4" aria-hidden /> Accept
        </Do>
        <Do shortcut={ROW.open} onClick={actions.open}>
          Bench <ArrowRight className="size-4" aria-hidden />
        </Do>
        <Do shortcut={ROW.play} onClick={actions.play}>
          Play
        </Do>
        <Do shortcut={INTAKE.withClick} disabled={row.tempoBpm === null} onClick={actions.playWithClick}>
          With click
        </Do>
        <Do shortcut={INTAKE.half} disabled={row.tempoBpm === null} onClick={() => actions.scale(0.5)}>
          Half
        </Do>
        <Do shortcut={INTAKE.double} disabled={row.tempoBpm === null} onClick={() => actions.scale(2)}>
          Double
        </Do>
      </div>
    </section>
  );
}

/** What a one-shot has instead of a grid: its pitch and how long it rings. */
function OneShot({ measurement: { rootNote, character } }: { measurement: Measurement }) {
  const decay = character?.decaySeconds ?? null;
  return (
    <p className="mb-1">
      {rootNote ? (
        <>
          sounds at <b>{rootNote.note.replace('#', '♯').replace('b', '♭')}</b>
          {rootNote.chord && `, a ${rootNote.chord} chord,`}{' '}
          <span className="figures">{signedText(rootNote.cents, 0, 'cents')}</span>
        </>
      ) : (
        'no pitch'
      )}
      {decay !== null && (
        <>
          , falls by 20 dB in <span className="figures">{decay.toFixed(2)} s</span>
        </>
      )}
    </p>
  );
}

function Do({
  shortcut,
  strong,
  children,
  ...rest
}: {
  shortcut: Shortcut;
  strong?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  const keys = useKeyText()(shortcut);
  return (
    <Button tone={strong ? 'strong' : 'plain'} className="justify-between" {...rest}>
      <span className="inline-flex items-center gap-1">{children}</span>
      {strong ? <span className="figures text-tiny opacity-80">{keys}</span> : <KeyHint>{keys}</KeyHint>}
    </Button>
  );
}

interface SourcesProps {
  title: string;
  readings: readonly StoredReading[];
  chosen: string | undefined;
  valueOf: (reading: StoredReading) => string;
  relationOf: (reading: StoredReading) => string;
  onChoose: (reading: StoredReading) => void;
}

/** What each source says, the settled one marked; pressing another settles it. */
function Sources({ title, readings, chosen, valueOf, relationOf, onChoose }: SourcesProps) {
  return (
    <div className="min-h-0 overflow-auto">
      <h2 className="text-tiny text-ink-soft">{title}</h2>
      {readings.length === 0 && <p className="text-small text-ink-soft">no reading</p>}
      <ul>
        {readings.map((reading) => {
          const settled = reading.readingId === chosen;
          return (
            <li key={reading.readingId}>
              <button
                type="button"
                title={settled ? 'settled' : `Use this: ${reading.detail || reading.source}`}
                className={clsx(
                  'grid w-full grid-cols-[4.2rem_1fr_2.4rem] items-baseline gap-x-2 text-left text-small leading-5 hover:bg-wash-ink',
                  settled && 'font-semibold',
                )}
                onClick={() => !settled && onChoose(reading)}
              >
                <span className={clsx('figures truncate', settled && 'border-l-2 border-one pl-1')}>
                  {valueOf(reading)}
                </span>
                <span className="truncate text-tiny text-ink-soft">
                  {reading.source}
                  {!settled && relationOf(reading) && `, ${relationOf(reading)}`}
                </span>
                <span className="figures text-right text-tiny text-ink-soft">
                  {percentText(reading.sureness)}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
