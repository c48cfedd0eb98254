import { sampleSummary, type SampleSummary } from '@/contract/entry';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import { tagsOfBits } from '@/core/tags/facetBits';
import { z } from 'zod';
import type { Queryable } from './database';
import { fromRow } from './rows';

const keyFields = z.object({
  keyNumber: z.number().nullable(),
  facets: z.string(),
  words: z.array(z.string()),
});

/** Rows of lists for samples, in the order of the numbers; unknown ones are left out. */
export async function readSummaries(on: Queryable, sampleIds: readonly string[]): Promise<SampleSummary[]> {
  if (sampleIds.length === 0) return [];
  const { rows } = await on.query(
    `select s.sample_id as "sampleId", s.sequence, s.name, case when x.name <> s.name then x.name end as "arrivedAs", x.folder, s.kind,
            s.standing, s.doubts, s.todos, x.format, s.duration_seconds as "durationSeconds", x.sample_rate as "sampleRate", x.channels,
            o.byte_length as "byteLength", o.sha256, x.fault, encode(x.thumbnail, 'base64') as thumbnail,
            s.tempo_bpm as "tempoBpm", s.tempo_sureness as "tempoSureness", s.steady, s.one_seconds as "oneSeconds",
            s.beats_per_bar as "beatsPerBar", s.beat_unit as "beatUnit", s.bars, s.key_number as "keyNumber", s.toneless,
            s.key_sureness as "keySureness", s.tuning_cents as "tuningCents", s.rating, s.proof, s.facets::text as facets, s.words, s.arrived_at as "arrivedAt",
            (select json_build_object('setId', t.set_id, 'name', t.name, 'state', t.state)
               from stem_set_members m join stem_sets t using (set_id)
              where m.sample_id = s.sample_id and t.state <> 'refused' limit 1) as "stemSet",
            (select json_build_object('state', t.state, 'stage', t.stage, 'progress', t.progress) from tasks t
              where t.sample_id = s.sample_id and t.kind = 'measure' and t.state in ('waiting', 'running')) as measuring,
            (select coalesce(json_agg(json_build_object('target', c.target, 'level', c.level, 'semitones', c.semitones)), '[]')
               from target_choices c where c.sample_id = s.sample_id) as choices,
            (select json_build_object('sampleId', p.sample_id, 'name', p.name) from settled p where p.sample_id = s.parent) as parent
       from unnest($1::uuid[]) with ordinality as wanted (id, place)
       join settled s on s.sample_id = wanted.id join samples x using (sample_id) join originals o using (original_id)
      order by wanted.place`,
    [sampleIds],
  );
  return rows.map((row) => {
    const { keyNumber, facets, words } = fromRow(keyFields, row, 'row of a list');
    const key = keyNumber === null ? null : ALL_KEYS[keyNumber];
    const tags = [...tagsOfBits(facets), ...words.map((value) => ({ facet: 'word', value }))];
    return fromRow(
      sampleSummary,
      { ...row, tags, keyTonic: key?.tonic ?? null, keyMode: key?.mode ?? null },
      'row of a list',
    );
  });
}

/** The row that lists have of one sample, or null. */
export async function readSummary(on: Queryable, sampleId: string): Promise<SampleSummary | null> {
  return (await readSummaries(on, [sampleId]))[0] ?? null;
}
