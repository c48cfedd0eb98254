'use client';
import { useRef, type ReactNode } from 'react';
import { TEMPLATE_FIELDS } from '@/library/samples/nameTemplate';
import { type Pack, PACK_FOLDERS, PACKED_AS, type PackPatch, type PackTarget } from '@/contract/pack';
import { fieldClass, Labelled, TextField } from '../pieces/Field';
import { bpmText, formatText } from '../pieces/figures';
import { KeySelect } from '../pieces/KeySelect';
import { FormatSelect, RateSelect } from '../pieces/WriteSelects';
import { numberIn, useTyped } from '../pieces/useTyped';
import { aimOf, TARGET_TEMPI, targetNow } from '../target/target';
import type { PackHand } from './packHand';

const FOLDER_WORDS: Readonly<Record<(typeof PACK_FOLDERS)[number], string>> = {
  together: 'all together',
  kind: 'by kind',
  part: 'by part',
  folder: 'as they lie in the library',
};
const FILE_WORDS: Readonly<Record<(typeof PACKED_AS)[number], string>> = {
  tagged: 'tagged copies',
  original: 'originals',
  none: 'none, only what is at the target',
};

/** What is written of the samples of a pack, and what it says of itself. */
export function PackForm({ hand }: { hand: PackHand }) {
  const { state } = hand;
  const set = (patch: PackPatch, words: string) => hand.order({ do: 'set', patch }, words);
  const box = (name: 'clicks' | 'tempoMaps' | 'annotations', words: string, more: string) => (
    <label className="flex items-start gap-2">
      <input
        type="checkbox"
        className="mt-0.5 accent-ink"
        checked={state[name]}
        onChange={({ target }) =>
          set({ [name]: target.checked }, `${words}: ${target.checked ? 'yes' : 'no'}`)
        }
      />
      <span>
        {words}
        <span className="block text-tiny text-ink-soft">{more}</span>
      </span>
    </label>
  );
  return (
    <aside
      aria-label="What is written"
      className="w-72 shrink-0 space-y-3 overflow-y-auto border-r border-rule-strong bg-sheet p-3 text-small"
    >
      <Group title="Names">
        <Template state={state} onSet={(template) => set({ template }, `names: ${template}`)} />
        <Labelled label="folders" className="mt-2">
          <select
            className={fieldClass}
            value={state.folders}
            onChange={({ target }) =>
              set(
                { folders: target.value as Pack['folders'] },
                `folders ${FOLDER_WORDS[target.value as Pack['folders']]}`,
              )
            }
          >
            {PACK_FOLDERS.map((one) => (
              <option key={one} value={one}>
                {FOLDER_WORDS[one]}
              </option>
            ))}
          </select>
        </Labelled>
      </Group>
      <Group title="Files">
        <Labelled label="of each sample">
          <select
            className={fieldClass}
            value={state.files}
            onChange={({ target }) =>
              set({ files: target.value as Pack['files'] }, FILE_WORDS[target.value as Pack['files']])
            }
          >
            {PACKED_AS.map((one) => (
              <option key={one} value={one} disabled={one === 'none' && !state.atTarget}>
                {FILE_WORDS[one]}
              </option>
            ))}
          </select>
        </Labelled>
        <AtTarget state={state} set={set} />
        <div className="mt-2 space-y-1.5">
          {box('clicks', 'click', 'a file of each, as long as it is')}
          {box('tempoMaps', 'tempo map', 'tempo, bars and click of each as MIDI')}
          {box(
            'annotations',
            'annotations',
            'beats, bars, tempo, key and hits (JAMS), and what brings it back as it is settled when the pack is taken in again',
          )}
        </div>
        <p className="mt-2 text-tiny text-ink-soft">
          Always with it: a table of the samples with its description, a play list, the licences, and
          checksums of every file (BagIt).
        </p>
      </Group>
      <Group title="What it says of itself">
        <Words
          label="about"
          value={state.about}
          most={2000}
          onSet={(about) => set({ about }, 'what it is')}
          isTall
        />
        <Words
          label="licence of the whole"
          value={state.licence}
          most={300}
          onSet={(licence) => set({ licence }, 'its licence')}
        />
        <p className="text-tiny text-ink-soft">What each sample says of its own licence stands beside it.</p>
      </Group>
    </aside>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="mb-1 border-b border-rule text-small font-semibold">{title}</h2>
      {children}
    </section>
  );
}

/** The template of names; a field of it is put in where the cursor was. */
function Template({ state, onSet }: { state: Pack; onSet: (template: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const { field } = useTyped(state.template, (typed) => {
    const template = typed.trim();
    if (template && template !== state.template) onSet(template);
  });
  return (
    <Labelled label="template; what hangs on a missing field stands in [ ]">
      <TextField ref={input} className="figures w-full" maxLength={200} {...field} />
      <span className="flex flex-wrap gap-x-1.5 text-tiny text-ink-soft">
        {Object.entries(TEMPLATE_FIELDS)
          .filter(([name]) => name !== 'bar')
          .map(([name, what]) => (
            <span key={name} className="figures" title={what}>
              {`{${name}}`}
            </span>
          ))}
      </span>
    </Labelled>
  );
}

type Set = (patch: PackPatch, words: string) => void;

/** Tempo and key that everything is also written at. */
function AtTarget({ state, set }: { state: Pack; set: Set }) {
  const { atTarget } = state;
  const change = (patch: Partial<PackTarget>, words: string) => {
    if (!atTarget) return;
    const next = { ...atTarget, ...patch };
    // Without tempo and key there is no target.
    set(
      next.tempoBpm === null && next.key === null
        ? { atTarget: null, files: state.files === 'none' ? 'tagged' : state.files }
        : { atTarget: next },
      words,
    );
  };
  const { field } = useTyped(atTarget?.tempoBpm == null ? '' : bpmText(atTarget.tempoBpm), (typed) => {
    const tempoBpm = typed.trim() === '' ? null : numberIn(typed);
    if (tempoBpm === null && typed.trim() !== '') return;
    const within = tempoBpm && Math.max(TARGET_TEMPI.least, Math.min(TARGET_TEMPI.most, tempoBpm));
    if (within !== atTarget?.tempoBpm)
      change({ tempoBpm: within }, within ? `at ${bpmText(within)} BPM` : 'at no tempo');
  });
  return (
    <div className="mt-2">
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-0.5 accent-ink"
          checked={atTarget !== null}
          onChange={({ target }) => {
            if (!target.checked)
              return set(
                { atTarget: null, files: state.files === 'none' ? 'tagged' : state.files },
                'nothing at a target',
              );
            const { tempoBpm, key, isTape } = aimOf(targetNow());
            const first = { format: 'wav 24', sampleRate: null } as const;
            set(
              { atTarget: { ...first, isTape, key, tempoBpm: tempoBpm ?? (key ? null : 120) } },
              'all at a target too',
            );
          }}
        />
        <span>
          all at one tempo or key too
          <span className="block text-tiny text-ink-soft">
            made as the Shelf plays them there, and measured anew
          </span>
        </span>
      </label>
      {atTarget && (
        <div className="mt-1 ml-5 space-y-1.5">
          <div className="flex items-center gap-1.5">
            <TextField
              aria-label="Tempo of the pack, BPM"
              placeholder="own"
              className="figures w-16 text-right"
              {...field}
            />
            BPM
            <KeySelect
              label="Key of the pack"
              className="min-w-0 flex-1"
              value={atTarget.key}
              none="own key"
              onChange={(key) => change({ key }, key ? 'at a key' : 'at no key')}
            />
          </div>
          <div className="flex items-center gap-1.5">
            <FormatSelect
              className="min-w-0 flex-1"
              value={atTarget.format}
              onChange={(format) => change({ format }, formatText(format))}
            />
            <RateSelect
              className="min-w-0 flex-1"
              value={atTarget.sampleRate}
              own="rate as each is"
              onChange={(sampleRate) => change({ sampleRate }, 'another sample rate')}
            />
          </div>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-ink"
              checked={atTarget.isTape}
              onChange={({ target }) =>
                change({ isTape: target.checked }, target.checked ? 'as a tape' : 'pitch held')
              }
            />
            pitch follows speed, as a tape’s does
          </label>
        </div>
      )}
    </div>
  );
}

interface WordsProps {
  label: string;
  value: string;
  most: number;
  onSet: (words: string) => void;
  isTall?: boolean;
}

/** Words that are taken when their field is left. */
function Words({ label, value, most, onSet, isTall = false }: WordsProps) {
  return (
    <Labelled label={label} className="mb-1.5">
      <textarea
        // As it was before by undo, or by somebody else.
        key={value}
        className={`${fieldClass} resize-none py-1 ${isTall ? 'h-20!' : 'h-12!'}`}
        maxLength={most}
        defaultValue={value}
        onBlur={({ target }) => {
          const words = target.value.trim();
          if (words !== value) onSet(words);
        }}
      />
    </Labelled>
  );
}
