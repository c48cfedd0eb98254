import { stemAndEnding } from '@/core/formats/endings';
import { shortKey, type Key } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import { bareName } from './bareName';
import { isRowUnpitched } from './toneless';
import type { SettledState } from '@/contract/settled';

type Named = Pick<
  SampleSummary,
  | 'name'
  | 'folder'
  | 'kind'
  | 'tempoBpm'
  | 'beatsPerBar'
  | 'beatUnit'
  | 'bars'
  | 'keyTonic'
  | 'keyMode'
  | 'toneless'
> & {
  tags: SettledState['tags'];
  /** Its place among what is made at once, from 1; as text with as many digits as the last of them has. */
  number?: number | string | null;
  /** The bar of its parent that it begins with. */
  bar?: number | null;
  /** Repeats, count-in and gain of a render. */
  how?: string | null;
  /** Tempo and key that its present name may say, where the new one says others. */
  before?: { tempoBpm: number | null; key: Key | null };
};

/** What may stand in a template, each with what it becomes. */
export const TEMPLATE_FIELDS: Record<string, string> = {
  name: 'the current name without extension',
  bpm: 'the tempo, as “96” or “88.4”',
  bpm1: 'the tempo to a tenth',
  bpm0: 'the tempo as a whole number',
  key: 'the key, as “Dm” or “F#”',
  meter: 'the meter, as “3-4”',
  bars: 'how many bars it has',
  kind: 'loop, song, one-shot …',
  part: 'the part among its tags',
  folder: 'the last folder',
  number: 'its number in the batch, as “03”',
  bar: 'the first bar, counted in the parent',
  how: 'repeats, count-in, gain of a render, as “8x, count-in 2”',
};

/**
 * A name made by a template such as "{name} {bpm} bpm {key}". Fields that a sample does not have vanish, with
 * the words and marks that hang on them inside square brackets: "{name}[ {bpm} bpm]". The ending of the file
 * stays. A tempo or key that the name says already is not written a second time. `fault` says what is wrong with the template or the result.
 */
export function nameFromTemplate(template: string, sample: Named): { name: string; fault: string | null } {
  const [stem, ending] = stemAndEnding(sample.name);
  const fields: Record<string, string | null> = {
    name: stem,
    bpm: sample.tempoBpm === null ? null : String(Math.round(sample.tempoBpm * 100) / 100),
    bpm1: sample.tempoBpm === null ? null : sample.tempoBpm.toFixed(1),
    bpm0: sample.tempoBpm === null ? null : sample.tempoBpm.toFixed(0),
    key:
      sample.keyTonic === null || sample.keyMode === null || isRowUnpitched(sample)
        ? null
        : shortKey({ tonic: sample.keyTonic, mode: sample.keyMode }, sample.kind === 'oneshot'),
    meter: sample.beatsPerBar === null ? null : `${sample.beatsPerBar}-${sample.beatUnit}`,
    bars: sample.bars === null ? null : String(sample.bars),
    kind: sample.kind === 'oneshot' ? 'one-shot' : sample.kind,
    part: sample.tags.find(({ facet }) => facet === 'part')?.value ?? null,
    folder: sample.folder.split('/').pop() || null,
    number: sample.number == null ? null : String(sample.number).padStart(2, '0'),
    bar: sample.bar == null ? null : String(sample.bar),
    how: sample.how ?? null,
  };
  const { before } = sample;
  const key = sample.keyTonic !== null &&
    sample.keyMode !== null && { tonic: sample.keyTonic, mode: sample.keyMode };
  fields.name = bareName(stem, {
    tempoBpm: /\{bpm[01]?\}/.test(template)
      ? (fields.bpm && (before?.tempoBpm ?? sample.tempoBpm)) || null
      : null,
    key: template.includes('{key}') && fields.key ? (before?.key ?? (key || null)) : null,
  });
  const unknown = [...template.matchAll(/\{([^}]*)\}/g)].find(([, field]) => !(field in fields));
  if (unknown) return { name: sample.name, fault: `There is no field {${unknown[1]}}.` };
  const fill = (text: string) => text.replace(/\{([^}]*)\}/g, (_, field: string) => fields[field] ?? '');
  const body = template.replace(/\[([^\]]*)\]/g, (_, inner: string) =>
    [...inner.matchAll(/\{([^}]*)\}/g)].every(([, field]) => fields[field] !== null) ? fill(inner) : '',
  );
  const name = fill(body)
    .replace(/[/\\\0]/g, '-')
    .replace(/\s+/g, ' ')
    .trim();
  if (name === '') return { name: sample.name, fault: 'The template gives an empty name.' };
  if (name.length + ending.length > 300)
    return { name: sample.name, fault: 'The name would be longer than 300 letters.' };
  return { name: name + ending, fault: null };
}
