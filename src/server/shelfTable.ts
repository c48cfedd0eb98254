import { stringify } from 'csv-stringify/sync';
import { tableQuery } from '@/contract/addresses';
import { meantBy } from '@/library/search/meantBy';
import { TABLE_HEADS, tableRow } from '@/library/search/shelfTable';
import { database } from '@/store/database';
import { shelfTargets } from '@/store/shelfList';
import { readSummaries } from '@/store/summaries';
import { shelfQueryOf } from './browse';

const PORTION = 500;

export interface ShelfTable {
  mediaType: string;
  name: string;
  bytes: AsyncGenerator<Uint8Array>;
}

/**
 * All that a question to the Shelf finds as a table, one sample a line: CSV (RFC 4180), or JSON lines. `search` is understood as what is
 * typed into the Shelf's search. Throws ZodError for parameters that are not understood.
 */
export function shelfTable(params: URLSearchParams): ShelfTable {
  const { as, search } = tableQuery.pick({ as: true, search: true }).parse(Object.fromEntries(params));
  const query = shelfQueryOf(params);
  const asked = search === undefined ? query : { ...query, ...meantBy({ ...query, text: search }) };
  return {
    mediaType: as === 'csv' ? 'text/csv; charset=utf-8; header=present' : 'application/jsonl; charset=utf-8',
    name: `Shelf.${as}`,
    bytes: linesOf(asked, as),
  };
}

async function* linesOf(
  asked: Parameters<typeof shelfTargets>[0],
  as: 'csv' | 'jsonl',
): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  const csv = (rows: unknown[]) =>
    stringify(rows as never[], { record_delimiter: 'windows', cast: { boolean: String } });
  const targets = await shelfTargets(asked, Number.MAX_SAFE_INTEGER);
  if (as === 'csv') yield encoder.encode(csv([TABLE_HEADS]));
  for (let i = 0; i < targets.length; i += PORTION) {
    const ids = targets.slice(i, i + PORTION).map(({ sampleId }) => sampleId);
    const rows = (await readSummaries(database(), ids)).map(tableRow);
    const text =
      as === 'csv' ? csv(rows.map(Object.values)) : rows.map((row) => `${JSON.stringify(row)}\n`).join('');
    yield encoder.encode(text);
  }
}
