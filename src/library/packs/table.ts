import { z } from 'zod';
import { tonicName, type Key } from '@/core/harmony/keyNames';
import { isRowUnpitched } from '../samples/toneless';
import type { SampleEntry } from '@/contract/entry';
import type { SampleKind } from '@/core/measurement/schema';
import type { Planned } from '@/core/recipes/differences';
import type { Pack, PackPaths } from '@/contract/pack';

/** What a file at a target is: what was planned of it, and in words how far it is from that. */
interface MessageOfTarget {
  planned: Planned;
  differences: string;
}

/** What can be written of a sample into the table of a pack. */
export interface Packed {
  entry: SampleEntry;
  paths: PackPaths;
  /** Of the file at the target; null where there is none, or it is its own file. */
  atTarget: MessageOfTarget | null;
}

interface Column {
  name: string;
  type: 'string' | 'number' | 'integer' | 'boolean';
  unit?: string;
  about: string;
  of: (packed: Packed) => string | number | boolean | null;
}

const rounded = (value: number | null | undefined, decimals: number) =>
  value === null || value === undefined ? null : Math.round(value * 10 ** decimals) / 10 ** decimals;

const keyCell = (key: Key, kind: SampleKind | null) =>
  kind === 'oneshot' ? tonicName(key) : `${tonicName(key)} ${key.mode}`;

/** The columns of the table, in their order. */
const COLUMNS: readonly Column[] = [
  {
    name: 'file',
    type: 'string',
    about: 'the sample, from the folder that this table lies in',
    of: ({ paths }) => paths.file,
  },
  {
    name: 'file_at_target',
    type: 'string',
    about: 'the same at the tempo or key of the pack',
    of: ({ paths }) => paths.atTarget,
  },
  { name: 'click', type: 'string', about: 'its click, of its length', of: ({ paths }) => paths.click },
  {
    name: 'tempo_map',
    type: 'string',
    about: 'its tempo, bars and click as a Standard MIDI File',
    of: ({ paths }) => paths.tempoMap,
  },
  {
    name: 'annotations',
    type: 'string',
    about: 'its beats, bars, tempo, key and hits (JAMS)',
    of: ({ paths }) => paths.annotations,
  },
  {
    name: 'name',
    type: 'string',
    about: 'name in the library',
    of: ({ entry }) => entry.summary.name,
  },
  {
    name: 'kind',
    type: 'string',
    about: 'song, loop, stem, oneshot or midi',
    of: ({ entry }) => entry.summary.kind,
  },
  {
    name: 'tempo_bpm',
    type: 'number',
    unit: 'BPM',
    about: 'settled tempo of its beats; of a moving one the average',
    of: ({ entry }) => rounded(entry.settled.grid?.tempoBpm, 4),
  },
  {
    name: 'tempo_moves',
    type: 'boolean',
    about: 'whether its beats do not all take the same time',
    of: ({ entry }) => entry.settled.grid && entry.settled.grid.movingBeats !== null,
  },
  {
    name: 'first_downbeat_s',
    type: 'number',
    unit: 's',
    about: 'where bar 1 begins; what stands before it is pickup',
    of: ({ entry }) => rounded(entry.settled.grid?.one, 6),
  },
  {
    name: 'meter',
    type: 'string',
    about: 'beats per bar and beat unit, as 3/4',
    of: ({ entry }) => {
      const { grid } = entry.settled;
      return grid && `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}`;
    },
  },
  { name: 'bars', type: 'number', about: 'whole bars of it', of: ({ entry }) => entry.summary.bars },
  {
    name: 'key',
    type: 'string',
    about: 'settled key, as Eb minor; of a one-shot its root; none where it has none',
    of: ({ entry }) => {
      const { key } = entry.settled;
      if (!key || 'none' in key) return key && 'none';
      const { kind, toneless, tags } = entry.summary;
      if (isRowUnpitched({ toneless, tags })) return null;
      return keyCell(key, kind);
    },
  },
  {
    name: 'tuning_cents',
    type: 'number',
    unit: 'cents',
    about: 'above or below A = 440 Hz',
    of: ({ entry }) => rounded(entry.settled.tuningCents, 1),
  },
  {
    name: 'duration_s',
    type: 'number',
    unit: 's',
    about: 'length',
    of: ({ entry }) => rounded(entry.summary.durationSeconds, 6),
  },
  {
    name: 'sample_rate_hz',
    type: 'integer',
    unit: 'Hz',
    about: 'sample rate',
    of: ({ entry }) => entry.summary.sampleRate,
  },
  { name: 'channels', type: 'integer', about: 'channels', of: ({ entry }) => entry.summary.channels },
  {
    name: 'tags',
    type: 'string',
    about: 'facet: value, one after the other',
    of: ({ entry }) => entry.settled.tags.map(({ facet, value }) => `${facet}: ${value}`).join('; '),
  },
  {
    name: 'rating',
    type: 'integer',
    about: '1 to 5',
    of: ({ entry }) => entry.settled.rating,
  },
  {
    name: 'proved',
    type: 'boolean',
    about: 'whether its grid was heard and seen against the click and signed for',
    of: ({ entry }) => entry.summary.proof === 'current',
  },
  {
    name: 'doubts',
    type: 'string',
    about: 'what may be wrong',
    of: ({ entry }) => entry.summary.doubts.map(({ code }) => code).join('; '),
  },
  {
    name: 'at_target_tempo_bpm',
    type: 'number',
    unit: 'BPM',
    about: 'tempo of the file at the target; empty where that is the sample itself',
    of: ({ atTarget }) => rounded(atTarget?.planned.grid?.tempoBpm, 4),
  },
  {
    name: 'at_target_first_downbeat_s',
    type: 'number',
    unit: 's',
    about: 'where bar 1 of the file at the target begins',
    of: ({ atTarget }) => rounded(atTarget?.planned.grid?.one, 6),
  },
  {
    name: 'at_target_bars',
    type: 'number',
    about: 'whole bars of the file at the target',
    of: ({ atTarget }) => atTarget?.planned.bars ?? null,
  },
  {
    name: 'at_target_key',
    type: 'string',
    about: 'key of the file at the target; of a one-shot its root',
    of: ({ entry, atTarget }) => {
      const key = atTarget?.planned.key;
      return key ? keyCell(key, entry.summary.kind) : null;
    },
  },
  {
    name: 'at_target_duration_s',
    type: 'number',
    unit: 's',
    about: 'length of the file at the target',
    of: ({ atTarget }) => atTarget && rounded(atTarget.planned.frames / atTarget.planned.sampleRate, 6),
  },
  {
    name: 'at_target_compared',
    type: 'string',
    about: 'the file at the target, measured again, against what was planned',
    of: ({ atTarget }) => atTarget && atTarget.differences,
  },
  { name: 'origin', type: 'string', about: 'where it comes from', of: ({ entry }) => entry.settled.origin },
  {
    name: 'licence',
    type: 'string',
    about: 'what it may be used for',
    of: ({ entry }) => entry.settled.licence,
  },
  {
    name: 'note',
    type: 'string',
    about: 'what else was written of it',
    of: ({ entry }) => entry.settled.note,
  },
  {
    name: 'original_sha256',
    type: 'string',
    about: 'SHA-256 of the bytes that arrived',
    of: ({ entry }) => entry.summary.sha256,
  },
];

const tableCell = z.union([z.string(), z.number(), z.boolean(), z.null()]);
/** One line of the table, by its columns. */
export const tableRow = z.record(z.string(), tableCell);
export type TableRow = z.infer<typeof tableRow>;

export const tableRowOf = (packed: Packed): TableRow =>
  Object.fromEntries(COLUMNS.map(({ name, of }) => [name, of(packed)]));

/** The lines of the table as cells, its head first. */
export function tableCells(rows: readonly TableRow[]): string[][] {
  const cell = (value: TableRow[string] | undefined) => (value == null ? '' : String(value));
  return [COLUMNS.map(({ name }) => name), ...rows.map((row) => COLUMNS.map(({ name }) => cell(row[name])))];
}

/** Describes the table by the standard (Data Package 1.0 with a Table Schema). `created`: a time in ISO text. */
export function dataPackage({ name, about, licence }: Pack, table: string, created: string): object {
  const slug = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
  return {
    profile: 'tabular-data-package',
    name: slug || 'pack',
    title: name,
    ...(about && { description: about }),
    created,
    ...(licence && { licenses: [{ title: licence }] }),
    resources: [
      {
        ...{ profile: 'tabular-data-resource', name: 'samples', path: table, format: 'csv' },
        ...{ mediatype: 'text/csv', encoding: 'utf-8', dialect: { delimiter: ',', lineTerminator: '\r\n' } },
        schema: {
          fields: COLUMNS.map(({ name: column, type, unit, about: description }) => ({
            ...{ name: column, type, description },
            ...(unit && { unit }),
          })),
          missingValues: [''],
        },
      },
    ],
  };
}
