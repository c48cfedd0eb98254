-- Words that are nearly those that are typed, and any part of a word, by an index.
create extension if not exists pg_trgm;

-- Who settles, proves and saves.
create table curators (
  curator_id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 80),
  initials text not null check (length(initials) between 1 and 4),
  -- False for the one that exists from the start, until somebody says who they are.
  named boolean not null default true,
  made_at timestamptz not null default now()
);
create unique index curators_by_name on curators (lower(name));
-- Those who have signed proofs; where nobody has, one without a name.
insert into curators (name, initials, made_at)
select name, upper(left(name, 1)) || upper(coalesce(left(substring(name from '\s(\S+)\s*$'), 1), '')), first_at
  from (select distinct on (lower(trim(signed_by))) trim(signed_by) as name, min(signed_at) over (partition by lower(trim(signed_by))) as first_at
          from proofs order by lower(trim(signed_by)), proof_id desc) signers;
insert into curators (name, initials, named) select 'Curator', 'C', false where not exists (select from curators);

-- Readings and proofs have numbers that survive being written out and taken in elsewhere.
alter table readings rename column reading_id to place;
alter table readings drop constraint readings_pkey;
alter table readings add column reading_id uuid not null default gen_random_uuid() primary key;
alter table readings add column version smallint not null default 1;
drop index readings_of_sample;
create index readings_of_sample on readings (sample_id, place);

alter table proofs rename column proof_id to place;
alter table proofs drop constraint proofs_pkey;
alter table proofs
  add column proof_id uuid not null default gen_random_uuid() primary key,
  add column curator_id uuid references curators,
  add column version smallint not null default 1;
update proofs p set curator_id = c.curator_id from curators c where lower(c.name) = lower(trim(p.signed_by));
drop index proofs_of_sample;
create index proofs_of_sample on proofs (sample_id, place desc);

alter table revisions
  -- Null: measuring made it, or nothing was kept of who did.
  add column curator_id uuid references curators,
  -- Shared by the revisions that one change made in several samples.
  add column change_id uuid,
  -- The stem set that was joined by it.
  add column joined_set uuid,
  add column version smallint not null default 1;
update revisions set curator_id = (select curator_id from curators)
  where made_by = 'curator' and (select count(*) from curators) = 1;
update revisions r set chosen = (
  select coalesce(jsonb_object_agg(c.key, d.reading_id), '{}') from jsonb_each(r.chosen) c join readings d on d.place = c.value::bigint
) where r.chosen <> '{}';
-- Meters count note values.
update revisions set beat_unit = 4 where beat_unit not in (1, 2, 4, 8, 16, 32);
-- How stems of one set came to share their grid, as far as the words tell.
update revisions r set joined_set = t.set_id
  from stem_set_members m join stem_sets t on t.set_id = m.set_id and t.state = 'joined'
 where m.sample_id = r.sample_id and r.words in ('a stem of “' || t.name || '”')
    or m.sample_id = r.sample_id and t.state = 'joined' and r.words like '% in the set “' || replace(replace(t.name, '%', '\%'), '_', '\_') || '”';

-- Everything that is kept as JSON or as packed bytes says which version of its shape it has.
alter table samples add column measurement_version smallint not null default 1;
alter table traces add column version smallint not null default 1;
alter table prints add column version smallint not null default 1;

-- What is settled of a sample now, and what follows from it: all that lists, searches and filters ask for. One row
-- for each sample, written in the same transaction as its revision.
create table settled (
  sample_id uuid primary key references samples on delete cascade,
  arrived_at timestamptz not null,
  saved_at timestamptz,
  binned_at timestamptz,
  tempo_bpm double precision,
  one_seconds double precision,
  duration_seconds double precision,
  -- Tags of the closed facets as bits (core/tags/facetBits).
  facets bigint not null default 0,
  tuning_cents real,
  tempo_sureness real,
  key_sureness real,
  -- Place in the order by need.
  urgency real not null default -1,
  sequence integer,
  bars integer,
  -- Which sorts of doubts there are, as bits.
  doubt_sorts integer not null default 0,
  beats_per_bar smallint,
  beat_unit smallint,
  -- 0 … 11 major from C, 12 … 23 minor.
  key_number smallint check (key_number between 0 and 23),
  rating smallint check (rating between 1 and 5),
  -- One of 64 equal parts of the library, by chance: what is too much to be counted is estimated from some of them.
  lot smallint not null check (lot between 0 and 63),
  steady boolean,
  keyless boolean not null default false,
  faulty boolean not null default false,
  kind text check (kind in ('song', 'loop', 'stem', 'oneshot', 'midi')),
  standing text not null default 'arrived' check (standing in ('arrived', 'measured', 'proved', 'saved')),
  proof text check (proof in ('current', 'lost')),
  -- The sample that it was made from.
  parent uuid references samples,
  -- The name that it goes by.
  name text not null check (length(name) between 1 and 300),
  sort_name text collate "C" not null generated always as (lower(name)) stored,
  doubts text[] not null default '{}',
  -- Free words among the tags.
  words text[] not null default '{}',
  -- Lower-case name, folder, tags, note and origin, a space before each word.
  search_text text not null default '',
  foreign key (sample_id, sequence) references revisions (sample_id, sequence) deferrable initially deferred,
  check ((standing = 'saved') = (saved_at is not null)),
  check (num_nulls(tempo_bpm, one_seconds, beats_per_bar, beat_unit) in (0, 4)),
  check (not (keyless and key_number is not null))
);

-- Proofs are compared as core/rhythm/grid does: every beat at the same place, to a hundredth of a millisecond.
create function pg_temp.proof_state(of_sample uuid) returns text language sql as $$
  with matching as (
    select p.place, p.verdict,
           p.audio_sha256 = o.sha256
           and abs((p.grid ->> 'one')::double precision - r.one_seconds) < 1e-5
           and abs((p.grid ->> 'tempoBpm')::double precision / r.tempo_bpm - 1) < 1e-8
           and (p.grid #>> '{meter,beatsPerBar}')::integer = r.beats_per_bar
           and (p.grid #>> '{meter,beatUnit}')::integer = r.beat_unit
           and coalesce(jsonb_array_length(nullif(p.grid -> 'movingBeats', 'null')), 0) = coalesce(cardinality(r.moving_beats), 0)
           and not exists (
             select from jsonb_array_elements_text(coalesce(nullif(p.grid -> 'movingBeats', 'null'), '[]')) with ordinality b (beat, i)
              where abs(b.beat::double precision - r.moving_beats[b.i]) >= 1e-5) as same
      from proofs p join samples s using (sample_id) join originals o using (original_id)
      left join revisions r on r.sample_id = s.sample_id and r.sequence = s.current_sequence
     where p.sample_id = of_sample)
  select case when (select verdict from matching where same order by place desc limit 1) = 'on' then 'current'
              when exists (select from matching where verdict = 'on') then 'lost' end
$$;

insert into settled (sample_id, arrived_at, saved_at, binned_at, tempo_bpm, one_seconds, duration_seconds, facets, tuning_cents,
                     tempo_sureness, key_sureness, urgency, sequence, bars, doubt_sorts, beats_per_bar, beat_unit, key_number, rating,
                     lot, steady, keyless, faulty, kind, standing, proof, name, doubts, words, search_text)
select s.sample_id, s.arrived_at, s.saved_at, s.removed_at, r.tempo_bpm, r.one_seconds, s.duration_seconds,
       coalesce((select sum(1::bigint << (b.bit - 1)::integer) from jsonb_to_recordset(r.tags) as t (facet text, value text)
                   join unnest(array['part:drums', 'part:percussion', 'part:bass', 'part:chords', 'part:lead', 'part:voice', 'part:pad',
                     'part:effect', 'part:full mix', 'made by:struck', 'made by:plucked', 'made by:bowed', 'made by:blown', 'made by:sung',
                     'made by:electronic', 'motion:still', 'motion:calm', 'motion:moving', 'motion:lively', 'motion:busy', 'colour:dark',
                     'colour:warm', 'colour:even', 'colour:clear', 'colour:bright', 'grain:smooth', 'grain:fine', 'grain:grainy',
                     'grain:coarse', 'grain:rough', 'room:close', 'room:near', 'room:roomy', 'room:wide', 'room:far', 'feel:straight',
                     'feel:leaning', 'feel:loping', 'feel:swung', 'feel:hard swung']) with ordinality b (tag, bit)
                     on b.tag = t.facet || ':' || t.value), 0),
       r.tuning_cents, (s.measurement #>> '{tempo,sureness}')::real, (s.measurement #>> '{key,sureness}')::real,
       case when s.standing = 'saved' then -2 when s.fault is not null then 2 when s.measured_at is null then -1 else s.need end,
       s.current_sequence, (s.measurement ->> 'bars')::integer,
       coalesce((select sum(1 << (b.bit - 1)::integer) from unnest(s.need_sorts) n
                   join unnest(array['sources disagree', 'tempo in doubt', 'key in doubt', 'drifts', 'not trimmed', 'alike', 'damaged'])
                     with ordinality b (sort, bit) on b.sort = n), 0),
       r.beats_per_bar, r.beat_unit, r.key_tonic + case r.key_mode when 'minor' then 12 else 0 end, r.rating,
       abs(hashtext(s.sample_id::text)) % 64, case when r.tempo_bpm is not null then r.moving_beats is null end,
       coalesce(r.key_none, false), s.fault is not null, coalesce(r.kind, s.kind),
       case when s.standing in ('arrived', 'saved') then s.standing
            when pg_temp.proof_state(s.sample_id) = 'current' then 'proved' else 'measured' end,
       pg_temp.proof_state(s.sample_id), coalesce(r.title, s.name), s.needs_look,
       coalesce((select array_agg(t.value) from jsonb_to_recordset(r.tags) as t (facet text, value text) where t.facet = 'word'), '{}'),
       ' ' || trim(regexp_replace(lower(s.search_text || coalesce(' ' || r.title, '')), '\s+', ' ', 'g'))
  from samples s left join revisions r on r.sample_id = s.sample_id and r.sequence = s.current_sequence;

-- Deferred keys are checked now: what follows changes tables that must have nothing pending.
set constraints all immediate;

-- Every order of the lists from one end to the other; what is filtered by most lies beside it, so that rows are
-- counted and passed over without being fetched.
create index settled_by_arrival on settled (arrived_at, sample_id)
  include (standing, kind, key_number, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_name on settled (sort_name, sample_id)
  include (standing, kind, key_number, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_kind on settled (kind, sample_id)
  include (standing, key_number, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_length on settled (duration_seconds, sample_id)
  include (standing, kind, key_number, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_tempo on settled (tempo_bpm, sample_id)
  include (standing, kind, key_number, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_key on settled (key_number, sample_id)
  include (standing, kind, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_standing on settled (standing, sample_id)
  include (kind, key_number, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_urgency on settled (urgency, sample_id)
  include (standing, kind, key_number, tempo_bpm, facets, doubt_sorts, faulty) where binned_at is null;
create index settled_by_saving on settled (saved_at, sample_id)
  include (kind, key_number, tempo_bpm, facets) where binned_at is null and standing = 'saved';
create index settled_by_rating on settled (rating, sample_id)
  include (kind, key_number, tempo_bpm, facets) where binned_at is null and standing = 'saved';
-- What is in doubt, or cannot be read: few of many.
create index settled_in_doubt on settled (urgency, sample_id)
  include (standing, kind, doubt_sorts, faulty) where binned_at is null and (doubt_sorts <> 0 or faulty);
create index settled_by_lot on settled (lot) where binned_at is null;
create index settled_by_words on settled using gin (search_text gin_trgm_ops);
create index settled_by_free_words on settled using gin (words) where binned_at is null;
create index settled_in_bin on settled (binned_at, sample_id) where binned_at is not null;
create index settled_by_parent on settled (parent) where parent is not null;
-- Rows are written anew again and again; index-only scans want them swept soon.
alter table settled set (autovacuum_vacuum_scale_factor = 0.02, autovacuum_vacuum_insert_scale_factor = 0.05, autovacuum_analyze_scale_factor = 0.02);
-- Parts of words are looked up by their letters: the planner is to know more of them.
alter table settled alter column search_text set statistics 1000;

-- Every word that stands in the library, for what is typed nearly right. Words are never taken out: one too many
-- only finds nothing.
create table words (word text primary key check (length(word) between 3 and 60));
create index words_by_letters on words using gin (word gin_trgm_ops);
create function keep_new_words() returns trigger language plpgsql as $$
begin
  insert into words
  select distinct word from fresh, regexp_split_to_table(search_text, '[^[:alnum:]]+') word
   where length(word) between 3 and 60 and word !~ '^[0-9]+$'
  on conflict do nothing;
  return null;
end
$$;
create function keep_changed_words() returns trigger language plpgsql as $$
begin
  insert into words
  select distinct word from fresh join stale using (sample_id), regexp_split_to_table(fresh.search_text, '[^[:alnum:]]+') word
   where fresh.search_text <> stale.search_text and length(word) between 3 and 60 and word !~ '^[0-9]+$'
  on conflict do nothing;
  return null;
end
$$;
create trigger words_of_new after insert on settled
  referencing new table as fresh for each statement execute function keep_new_words();
create trigger words_of_changed after update on settled
  referencing old table as stale new table as fresh for each statement execute function keep_changed_words();
insert into words
select distinct word from settled, regexp_split_to_table(search_text, '[^[:alnum:]]+') word
 where length(word) between 3 and 60 and word !~ '^[0-9]+$';

-- What stands in that row, or is computed from it, stands nowhere else.
drop index samples_by_need, samples_by_arrival;
alter table samples
  drop column standing, drop column needs_look, drop column need, drop column need_sorts, drop column search_text,
  drop column current_sequence, drop column saved_at, drop column removed_at;
drop table sample_tags;

-- A step of bulk work: what was done to each sample, and by whom.
alter table bulk_steps add column curator_id uuid references curators, add column version smallint not null default 1;
