import { strainGroupOf } from '@/core/timeStretch/strainGroup';
import { isUnpitched, type Fittable } from '@/core/timeStretch/proposal';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import { tagsOfBits } from '@/core/tags/facetBits';
import type pg from 'pg';

/**
 * Fills a database with samples that were never files: `saved` of them on the Shelf, `open` in the Intake. Names, tags,
 * tempi, keys and doubts are spread as in a library that was collected from many hands; the same numbers give the
 * same library. Rows only: nothing of them can be heard.
 */
export async function fillLibrary(client: pg.ClientBase, saved: number, open: number): Promise<void> {
  await client.query('select setseed(0.25)');
  await client.query(
    `insert into originals (sha256, byte_length, complete_at)
     select encode(sha256('simulated'), 'hex'), 1000000, now() on conflict do nothing`,
  );
  await client.query(
    `create temp table portion (like settled including defaults); alter table portion alter sort_name drop not null`,
  );
  // Rows come in portions, as they would: one great statement would hold all of its triggers' rows in memory.
  for (let at = 0; at < saved + open; at += PORTION) {
    await client.query(DRAW, [at, Math.min(PORTION, saved + open - at), saved]);
    await groupByStrain(client);
    await client.query(
      `insert into settled (${COLUMNS}, strain_group) select ${COLUMNS}, strain_group from portion`,
    );
    await client.query('truncate portion');
  }
  await client.query('drop table portion');
  await client.query('vacuum analyze');
}

const PORTION = 10_000;

interface Drawn extends Pick<Fittable, 'kind' | 'tempoBpm' | 'bars' | 'beatsPerBar'> {
  id: string;
  keyNumber: number | null;
  facets: string;
}

/** What of a row is reckoned, not drawn. */
async function groupByStrain(client: pg.ClientBase) {
  const { rows } = await client.query<Drawn>(
    `select sample_id as id, kind, tempo_bpm as "tempoBpm", bars, beats_per_bar as "beatsPerBar", key_number as "keyNumber", facets from portion`,
  );
  const groups = rows.map(({ keyNumber, facets, ...row }) =>
    strainGroupOf({
      ...row,
      key: keyNumber === null ? null : ALL_KEYS[keyNumber],
      tuningCents: null,
      isUnpitched: isUnpitched(tagsOfBits(facets)),
    }),
  );
  await client.query(
    `update portion p set strain_group = w.strain_group
       from unnest($1::uuid[], $2::integer[]) as w (sample_id, strain_group) where p.sample_id = w.sample_id`,
    [rows.map(({ id }) => id), groups],
  );
}

const COLUMNS = `sample_id, arrived_at, saved_at, tempo_bpm, one_seconds, beats_per_bar, beat_unit, steady, duration_seconds, facets, tuning_cents, tempo_sureness, key_sureness, urgency, bars, doubt_sorts, key_number, rating, lot, keyless, kind, standing, proof, name, doubts, words, search_text, like_rhythm, like_sound, like_harmony, like_all`;

const DRAW = `
with words as (
  select array['Velvet', 'Juniper', 'Lantern', 'Rope', 'Trapdoor', 'Curtain', 'Marionette', 'Sawdust', 'Parade', 'Ladder', 'Attic',
               'Thimble', 'Bobbin', 'Gaslight', 'Pulley', 'Footlight', 'Wicker', 'Barley', 'Copper', 'Drizzle'] as first,
         array['Trot', 'March', 'Swing', 'Walk', 'Jig', 'Waltz', 'Reel', 'Polka', 'Stomp', 'Lullaby', 'Air', 'Hornpipe'] as second,
         array['dust', 'rain', 'loft', 'cellar', 'night', 'wet', 'dry', 'tape', 'creaky', 'bright', 'old', 'small', 'hall', 'street',
               'paper', 'wood', 'tin', 'wool', 'slow', 'odd'] as free),
made as (
  insert into samples (original_id, name, folder, kind, format, duration_seconds, sample_rate, channels, thumbnail, measured_at, arrived_at)
  select (select original_id from originals where sha256 = encode(sha256('simulated'), 'hex')),
         first[1 + floor(random() * 20)] || ' ' || second[1 + floor(random() * 12)] || ' ' || i || '.wav',
         'Pellworth/' || (array['Loops', 'Songs', 'Single hits', 'Sent in'])[1 + floor(random() * 4)] || '/' || i % 97,
         (array['loop', 'loop', 'loop', 'loop', 'oneshot', 'oneshot', 'song', 'stem'])[1 + floor(random() * 8)], 'wav',
         1 + 120 * random() ^ 3, 44100, 2, decode(repeat('e720', 160), 'hex'), now(), now() - make_interval(secs => i * 7)
    from generate_series($1::int, $1::int + $2::int - 1) i, words
  returning sample_id, name, folder, kind, duration_seconds, arrived_at),
drawn as (
  select m.*, replace(split_part(m.name, ' ', 3), '.wav', '')::int as i,
         case when kind <> 'oneshot' then round((50 + 110 * random() + 30 * random())::numeric, 3)::float8 end as bpm,
         floor(random() * 24)::int as key_drawn, random() as r1, random() as r2, random() as r3,
         (1::bigint << floor(random() * 9)::int) | (1::bigint << (9 + floor(random() * 6)::int)) | (1::bigint << (15 + floor(random() * 5)::int))
           | (1::bigint << (20 + floor(random() * 5)::int)) | (1::bigint << (25 + floor(random() * 5)::int))
           | (1::bigint << (30 + floor(random() * 5)::int)) | (1::bigint << (35 + floor(random() * 5)::int)) as bits,
         -- Samples come in families that sound alike: places about one of 60 middles.
         array(select (abs(hashtext(family || ' ' || k)) % 1000) / 1250.0 + 0.25 * random() from generate_series(1, 19) k) as place
    from (select *, floor(random() * 60)::int as family from made) m)
insert into portion (${COLUMNS})
select sample_id, arrived_at, case when i < $3 then arrived_at + interval '1 day' end, bpm, case when bpm is not null then r1 end,
       case when bpm is not null then case when r1 < 0.2 then 3 else 4 end end, case when bpm is not null then 4 end,
       case when bpm is not null then r2 < 0.9 end,
       duration_seconds, bits, 20 * r1 - 10, r2, r3, case when i < $3 then -2 else r1 end,
       case when bpm is not null then 1 + floor(8 * r2) end,
       case when i >= $3 and r2 < 0.4 then 1 << floor(r3 * 7)::int else 0 end,
       case when r3 < 0.7 then key_drawn end, case when r1 < 0.4 then 1 + floor(r2 * 5) end, abs(hashtext(sample_id::text)) % 64,
       r3 >= 0.85, kind, case when i < $3 then 'saved' when r1 < 0.2 then 'proved' else 'measured' end,
       case when r2 < 0.5 then 'current' when r2 < 0.6 then 'lost' end, name,
       case when i >= $3 and r2 < 0.4 then '[{"code": "not trimmed", "weight": 0.15}]'::jsonb else '[]' end,
       array[free[1 + floor(r1 * 20)], free[1 + floor(r2 * 20)]],
       ' ' || lower(name || ' ' || folder) || ' ' || free[1 + floor(r1 * 20)] || ' ' || free[1 + floor(r2 * 20)]
         || case when r3 < 0.1 then ' from wilmot' else '' end,
       cube(place[1:9]), cube(place[10:13]), cube(place[14:19]), cube(place)
  from drawn, words`;
