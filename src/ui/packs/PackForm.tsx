'use client';
import { TEMPLATE_FIELDS } from '@/library/samples/nameTemplate';
import { type Pack, PACK_FOLDERS, PACKED_AS, type PackPatch, type PackTarget } from '@/contract/pack';
import { Labelled, TextArea, TextField } from '../kit/Field';
import { bpmText, formatText } from '@/words/figures';
import { KeySelect } from '../kit/KeySelect';
import { FormatSelect, MidiSelect, RateSelect } from '../kit/WriteSelects';
import { useTyped } from '../kit/useTyped';
import { aimOf, TARGET_TEMPI, targetNow } from '../target/target';
import type { PackEditor } from './packEditor';
import { Checkbox } from '../kit/Checkbox';
import { Group } from '../kit/Group';
import { NumberField } from '../kit/NumberField';
import { Select } from '../kit/Select';

const FOLDER_WORDS: Readonly<Record<(typeof PACK_FOLDERS)[number], string>> = {
  together: 'one folder',
  kind: 'by kind',
  part: 'by part',
  folder: 'as in the library',
};
const FILE_WORDS: Readonly<Record<(typeof PACKED_AS)[number], string>> = {
  tagged: 'tagged copies',
  original: 'originals',
  none: 'none (target version only)',
};

/** What is written of the samples of a pack, and its description. */
export function PackForm({ editor }: { editor: PackEditor }) {
  const { state } = editor;
  const set = (patch: PackPatch, words: string) => editor.order({ do: 'set', patch }, words);
  const box = (name: 'clicks' | 'tempoMaps' | 'annotations', label: string, about: string) => (
    <Checkbox
      label={label}
      about={about}
      value={state[name]}
      onValue={(isOn) => set({ [name]: isOn }, `${label}: ${isOn ? 'yes' : 'no'}`)}
    />
  );
  return (
    <aside
      aria-label="Contents"
      className="w-72 shrink-0 space-y-3 overflow-y-auto border-r border-rule-strong bg-sheet p-3 text-small"
    >
      <Group title="Names">
        <Template state={state} onSet={(template) => set({ template }, `names: ${template}`)} />
        <Select
          label="Folders"
          place="above"
          value={state.folders}
          options={PACK_FOLDERS}
          text={FOLDER_WORDS}
          onChange={(folders) => set({ folders }, `folders ${FOLDER_WORDS[folders]}`)}
        />
      </Group>
      <Group title="Files">
        <Select
          label="Per sample"
          place="above"
          value={state.files}
          options={PACKED_AS}
          text={FILE_WORDS}
          isOff={(one) => one === 'none' && !state.atTarget}
          onChange={(files) => set({ files }, FILE_WORDS[files])}
        />
        <AtTarget state={state} set={set} />
        <div className="mt-2 space-y-1.5">
          {box('clicks', 'click', 'one file per sample, same length')}
          {box('tempoMaps', 'tempo map', 'tempo, bars and click per sample as MIDI')}
          {box(
            'annotations',
            'annotations',
            'beats, bars, tempo, key and hits (JAMS), plus all settings, so that importing the pack restores them',
          )}
        </div>
        <p className="mt-2 text-tiny text-ink-soft">
          Always included: a table of the samples with its description, a playlist, the licences and a
          checksum of every file (BagIt).
        </p>
      </Group>
      <Group title="Description">
        <TextArea
          label="Description"
          className="h-20!"
          value={state.about}
          maxLength={2000}
          onSet={(about) => set({ about }, 'description')}
        />
        <TextArea
          label="Licence of the pack"
          className="h-12!"
          value={state.licence}
          maxLength={300}
          onSet={(licence) => set({ licence }, 'licence')}
        />
        <p className="text-tiny text-ink-soft">Each sample’s own licence is listed as well.</p>
      </Group>
    </aside>
  );
}

/** The template of names, with its fields. */
function Template({ state, onSet }: { state: Pack; onSet: (template: string) => void }) {
  const { field } = useTyped(state.template, (typed) => {
    const template = typed.trim();
    if (template && template !== state.template) onSet(template);
  });
  return (
    <Labelled label="template; put text that depends on a field in [ ]">
      <TextField className="figures w-full" maxLength={200} {...field} />
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
  const toggle = (isOn: boolean) => {
    if (!isOn)
      return set(
        { atTarget: null, files: state.files === 'none' ? 'tagged' : state.files },
        'no target version',
      );
    const { tempoBpm, key, isTape } = aimOf(targetNow());
    const first = { format: 'wav 24', sampleRate: null, midiAs: 'notes' } as const;
    set(
      { atTarget: { ...first, isTape, key, tempoBpm: tempoBpm ?? (key ? null : 120) } },
      'Also at a target',
    );
  };
  return (
    <div className="mt-2">
      <Checkbox
        label="Also render every sample at one tempo or key"
        about="rendered as the Shelf plays them, and measured again"
        value={atTarget !== null}
        onValue={toggle}
      />
      {atTarget && (
        <div className="mt-1 ml-5 space-y-1.5">
          <div className="flex items-center gap-1.5">
            <NumberField
              label="Tempo of the pack, BPM"
              unit="BPM"
              placeholder="own"
              className="w-16 text-right"
              value={atTarget.tempoBpm}
              {...TARGET_TEMPI}
              onValue={(tempoBpm) => change({ tempoBpm }, `at ${bpmText(tempoBpm)} BPM`)}
              onEmpty={() => change({ tempoBpm: null }, 'tempo unchanged')}
            />
            <KeySelect
              label="Key of the pack"
              className="min-w-0 flex-1"
              value={atTarget.key}
              none="own key"
              onChange={(key) => change({ key }, key ? 'at a key' : 'key unchanged')}
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
              own="original rate"
              onChange={(sampleRate) => change({ sampleRate }, 'another sample rate')}
            />
          </div>
          <MidiSelect
            value={atTarget.midiAs}
            onChange={(midiAs) => change({ midiAs }, `MIDI as ${midiAs}`)}
          />
          <Checkbox
            label="Pitch follows speed"
            value={atTarget.isTape}
            onValue={(isTape) => change({ isTape }, isTape ? 'pitch: follow speed' : 'pitch: keep')}
          />
        </div>
      )}
    </div>
  );
}
