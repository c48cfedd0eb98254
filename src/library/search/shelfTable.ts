import { ALL_KEYS, tonicName } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import { isRowUnpitched } from '../samples/toneless';

type Cell = string | number | boolean | null;

const rounded = (value: number | null, decimals: number) =>
  value === null ? null : Number(value.toFixed(decimals));

/** As "Eb minor"; of a one-shot its root alone, and nothing of what has no pitch. */
function keyOf(row: SampleSummary): string | null {
  if (row.keyTonic === null || row.keyMode === null || isRowUnpitched(row)) return null;
  const key = ALL_KEYS[row.keyTonic + (row.keyMode === 'minor' ? 12 : 0)];
  return row.kind === 'oneshot' ? tonicName(key) : `${tonicName(key)} ${key.mode}`;
}

/** The columns of a list of samples as a table, in their order; units stand in their names. */
const COLUMNS: Readonly<Record<string, (row: SampleSummary) => Cell>> = {
  sample: ({ sampleId }) => sampleId,
  name: ({ name }) => name,
  folder: ({ folder }) => folder,
  kind: ({ kind }) => kind,
  tempo_bpm: ({ tempoBpm }) => rounded(tempoBpm, 4),
  tempo_moves: ({ steady }) => steady !== null && !steady,
  first_downbeat_s: ({ oneSeconds }) => rounded(oneSeconds, 6),
  meter: ({ beatsPerBar, beatUnit }) => (beatsPerBar === null ? null : `${beatsPerBar}/${beatUnit}`),
  bars: ({ bars }) => bars,
  key: keyOf,
  tuning_cents: ({ tuningCents }) => rounded(tuningCents, 1),
  duration_s: ({ durationSeconds }) => rounded(durationSeconds, 6),
  sample_rate_hz: ({ sampleRate }) => sampleRate,
  channels: ({ channels }) => channels,
  format: ({ format }) => format,
  bytes: ({ byteLength }) => byteLength,
  proved: ({ proof }) => proof === 'current',
  rating: ({ rating }) => rating,
  tags: ({ tags }) => tags.map(({ value }) => value).join(', '),
  sha256: ({ sha256 }) => sha256,
};

/** The heads of the table. */
export const TABLE_HEADS: readonly string[] = Object.keys(COLUMNS);

/** A row of a list as the table has it. */
export const tableRow = (row: SampleSummary): Record<string, Cell> =>
  Object.fromEntries(Object.entries(COLUMNS).map(([name, of]) => [name, of(row)]));
