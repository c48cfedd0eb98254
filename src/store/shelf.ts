import { sampleSummary } from '@/core/library/entry';
import type { ShelfPage, ShelfQuery } from '@/core/library/shelfQuery';
import { database } from './database';
import { ordered, searchWords, SUMMARY_COLUMNS, SUMMARY_TABLES } from './samples';

const SORTS: Record<ShelfQuery['sort'], string> = {
  saved: 's.saved_at',
  name: 'lower(coalesce(r.title, s.name))',
  tempo: 'r.tempo_bpm',
  key: 'r.key_mode, r.key_tonic',
  length: 's.duration_seconds',
  rating: 'r.rating',
};

/**
 * Saved samples that match. Values of one facet widen the choice, different facets narrow it; the counts
 * beside the facets are those of the whole result.
 */
export async function shelfPage(query: ShelfQuery): Promise<ShelfPage> {
  const values: unknown[] = [searchWords(query.text)];
  const bind = (value: unknown) => `$${values.push(value)}`;
  const conditions = ["s.standing = 'saved'", 's.removed_at is null', 's.search_text like all ($1)'];
  const tempi = query.alsoHalfDouble
    ? ['r.tempo_bpm', 'r.tempo_bpm / 2', 'r.tempo_bpm * 2']
    : ['r.tempo_bpm'];
  if (query.tempoFrom !== null || query.tempoTo !== null) {
    const from = bind(query.tempoFrom ?? 0);
    const to = bind(query.tempoTo ?? 10_000);
    conditions.push(`(${tempi.map((tempo) => `${tempo} between ${from} and ${to}`).join(' or ')})`);
  }
  if (query.keyTonic !== null) conditions.push(`r.key_tonic = ${bind(query.keyTonic)}`);
  if (query.keyMode !== null) conditions.push(`r.key_mode = ${bind(query.keyMode)}`);
  if (query.kind !== null) conditions.push(`coalesce(r.kind, s.kind) = ${bind(query.kind)}`);
  const byFacet = new Map<string, string[]>();
  for (const tag of query.tags) {
    const at = tag.indexOf(':');
    byFacet.set(tag.slice(0, at), [...(byFacet.get(tag.slice(0, at)) ?? []), tag.slice(at + 1)]);
  }
  for (const [facet, wanted] of byFacet) {
    conditions.push(
      `exists (select from sample_tags t where t.sample_id = s.sample_id and t.facet = ${bind(facet)} and t.value = any(${bind(wanted)}))`,
    );
  }
  const from = `${SUMMARY_TABLES} where ${conditions.join(' and ')}`;
  const [rows, total, facets, kinds] = await Promise.all([
    database().query(
      `select ${SUMMARY_COLUMNS} from ${from} order by ${ordered(SORTS[query.sort], query.direction)}
        offset $${values.length + 1} limit $${values.length + 2}`,
      [...values, query.offset, query.limit],
    ),
    database().query(`select count(*) as total from ${from}`, values),
    database().query(
      `select t.facet, t.value, count(*) as count from sample_tags t
        where t.sample_id in (select s.sample_id from ${from}) group by t.facet, t.value order by t.facet, count(*) desc, t.value`,
      values,
    ),
    database().query(
      `select coalesce(r.kind, s.kind) as kind, count(*) as count from ${from} group by 1 order by 1`,
      values,
    ),
  ]);
  return {
    total: total.rows[0].total,
    rows: rows.rows.map((row) => sampleSummary.parse(row)),
    facets: facets.rows,
    kinds: kinds.rows,
  };
}
