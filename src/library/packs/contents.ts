import { formatAtTarget } from '../recipes/aims';
import { proposalOfRow, staysAsItIs } from '../samples/aims';
import { stemAndEnding, withEnding } from '@/core/formats/endings';
import { keyLabel, movedKey } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import type { Target } from '@/core/timeStretch/proposal';
import { nameFromTemplate } from '../samples/nameTemplate';
import type { Pack, PackPaths, PackTarget } from '@/contract/pack';
import { ENDINGS } from '@/core/recipes/recipe';
import type { SettledState } from '@/contract/settled';
import { whyNotTagged } from '../samples/taggable';
import { eachOnce, safeStem } from './fileNames';
import { ownPathOf } from './own';

/** A row of a list with what its sample may be used for. */
export interface PackedRow extends SampleSummary {
  licence: string;
}

/** What becomes of one sample in a pack. */
export interface PackLine {
  sampleId: string;
  /** null: it is not there any more. */
  row: PackedRow | null;
  /** null where nothing of it can be written; `fault` says why. */
  paths: PackPaths | null;
  fault: string | null;
  /** What whoever gives the pack away should know, in words. */
  notes: string[];
}

/** What a target is called where files are named after it: "112 BPM, E minor". */
export function targetName({ tempoBpm, key, isTape }: Target): string {
  return [
    tempoBpm !== null && `${Math.round(tempoBpm * 1000) / 1000} BPM`,
    key && keyLabel(key),
    isTape && 'pitch follows speed',
  ]
    .filter(Boolean)
    .join(', ');
}

/**
 * What is written of each sample of a pack, and under which names; the same when it is shown and when it is written. `rows`: those that
 * are there, by their numbers.
 */
export function contentsOf(pack: Pack, rows: ReadonlyMap<string, PackedRow>): PackLine[] {
  const stems = eachOnce();
  const targetStems = eachOnce();
  const { atTarget } = pack;
  const atFolder = atTarget && `at ${safeStem(targetName(atTarget))}`;
  const digits = String(pack.sampleIds.length).length;
  return pack.sampleIds.map((sampleId, i): PackLine => {
    const row = rows.get(sampleId) ?? null;
    const not = (fault: string): PackLine => ({ sampleId, row, paths: null, fault, notes: [] });
    if (!row) return not('It is no longer in the library, or in the bin.');
    if (row.standing === 'arrived') return not(row.fault ?? 'It is not measured yet.');
    const { tempoBpm, keyTonic: tonic, keyMode: mode } = row;
    const before = { tempoBpm, key: tonic !== null && mode !== null ? { tonic, mode } : null };
    const named = (of: SampleSummary) =>
      nameFromTemplate(pack.template, {
        ...{ ...of, before },
        tags: of.tags as SettledState['tags'],
        number: String(i + 1).padStart(digits, '0'),
      });
    const { name, fault } = named(row);
    if (fault) return not(fault);
    const folder = folderOf(pack, row);
    const [stem] = stemAndEnding(name);
    const path = stems(`${folder}${safeStem(stem)}`);
    const whyNot = pack.files === 'tagged' ? whyNotTagged(row, row.tempoBpm !== null) : null;
    const hasGrid = row.tempoBpm !== null && row.kind !== 'oneshot';
    const at = (top: string, rest: string) => `${top}/${path}${rest}`;
    return {
      ...{ sampleId, row, fault: null },
      paths: {
        file: pack.files === 'none' ? null : at('samples', endingOf(row)),
        atTarget: atTarget && `${atFolder}/${targetStems(pathAt(row, atTarget))}${endingAt(row, atTarget)}`,
        click: pack.clicks && hasGrid ? at('clicks', ' click.wav') : null,
        tempoMap: pack.tempoMaps && hasGrid ? at('tempo maps', '.mid') : null,
        annotations: pack.annotations ? at('annotations', '.jams') : null,
        own: pack.annotations ? ownPathOf(at('samples', endingOf(row))) : null,
      },
      notes: notesOf(pack, row, whyNot),
    };

    function pathAt(of: SampleSummary, target: PackTarget): string {
      return `${folder}${safeStem(stemAndEnding(named(rowAt(of, target)).name)[0])}`;
    }
  });
}

/** What a target does to a row: the tempo, key and bars that its name says then. */
function rowAt(row: SampleSummary, target: PackTarget): SampleSummary {
  const { tempoBpm, ratio, semitones, bars } = proposalOfRow(row, target);
  const { keyTonic: tonic, keyMode: mode } = row;
  return {
    ...row,
    tempoBpm: tempoBpm ?? (row.tempoBpm === null ? null : row.tempoBpm / ratio),
    keyTonic: tonic === null || mode === null ? tonic : movedKey({ tonic, mode }, semitones).tonic,
    bars: bars ?? row.bars,
  };
}

const endingOf = ({ name, format }: SampleSummary): string =>
  stemAndEnding(withEnding(name, format))[1].toLowerCase();

const endingAt = (row: SampleSummary, target: PackTarget): string =>
  staysAsItIs(proposalOfRow(row, target)) ? endingOf(row) : `.${ENDINGS[formatAtTarget(row, target)]}`;

/** From here on a strain is told: it is more than some. */
const STRAINED = 0.85;
const NOT_BENT = { strain: 0, word: 'none' };

function folderOf({ folders }: Pack, row: SampleSummary): string {
  const named = (words: string | null | undefined) => (words ? `${safeStem(words)}/` : '');
  switch (folders) {
    case 'together':
      return '';
    case 'kind':
      return named(row.kind === 'oneshot' ? 'one-shots' : row.kind && `${row.kind}s`);
    case 'part':
      return named(row.tags.find(({ facet }) => facet === 'part')?.value ?? 'other');
    case 'folder':
      return row.folder.split('/').filter(Boolean).map(named).join('');
  }
}

function notesOf({ licence, atTarget }: Pack, row: PackedRow, whyNot: string | null): string[] {
  const { strain, word } = atTarget ? proposalOfRow(row, atTarget) : NOT_BENT;
  return [
    row.standing !== 'saved' && 'not saved to the Shelf',
    row.tempoBpm !== null && row.proof !== 'current' && 'grid not proved',
    row.doubts.length > 0 && `uncertain: ${row.doubts.map(({ code }) => code).join('; ')}`,
    row.licence === '' && licence === '' && 'no licence',
    strain > STRAINED && `${word} strain at the target`,
    whyNot !== null && 'tags cannot be written: the file is unchanged',
  ].filter((note) => note !== false);
}
