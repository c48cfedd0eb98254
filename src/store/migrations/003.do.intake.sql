-- What a curator says of a sample beyond its grid, key and tags: another name, another kind, and that it is right.
alter table revisions
  add column title text check (length(title) between 1 and 300),
  add column kind text check (kind in ('song', 'loop', 'stem', 'oneshot', 'midi')),
  add column accepted boolean not null default false;

-- Arrivals that were interrupted are found again by what was to arrive, and go on where they stopped.
alter table originals
  add column arrival_key text,
  -- Who writes at present, and when it last wrote: two arrivals at once never mix.
  add column writer uuid,
  add column written_at timestamptz;
create index originals_unfinished on originals (arrival_key) where sha256 is null;

alter table samples
  -- When the file was last changed where it came from, ms since 1970.
  add column modified_ms bigint,
  -- How much it needs a curator, and of which sorts the reasons are.
  add column need real not null default 0,
  add column need_sorts text[] not null default '{}',
  -- SHA-256 of the decoded audio, whatever the container.
  add column audio_sha256 text,
  -- A sample that this one was merged into.
  add column merged_into uuid references samples;
-- As the Intake orders by need: what cannot be read, then by need, then what is not measured, then what is saved.
create index samples_by_need on samples (
  (case when standing = 'saved' then -2 when fault is not null then 2 when measured_at is null then -1 else need end) desc nulls last,
  sample_id
) where removed_at is null;
create index samples_by_place on samples (folder, name);
create index samples_by_audio on samples (audio_sha256) where audio_sha256 is not null;
create index samples_by_length on samples (folder, duration_seconds);
create index jobs_done on jobs (ended_at) where state = 'done';

-- A listening copy for browsers, where the original is in a format that they do not decode by themselves.
alter table samples add column listening_id bigint references originals;

-- Stems of one piece: they share start, grid and key.
create table stem_sets (
  set_id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 300),
  state text not null check (state in ('proposed', 'joined', 'refused')),
  -- The stem that gives the grid and the one that gives the key, with all others ranked and why.
  grid_from uuid references samples,
  key_from uuid references samples,
  reasons text[] not null default '{}',
  made_at timestamptz not null default now()
);
create table stem_set_members (
  set_id uuid not null references stem_sets on delete cascade,
  sample_id uuid not null references samples on delete cascade,
  primary key (set_id, sample_id)
);
create index stem_sets_of_sample on stem_set_members (sample_id);

-- Acoustic prints: the whole as bytes, and the chosen words of it by which like ones are looked for.
create table prints (
  sample_id uuid primary key references samples on delete cascade,
  words bytea not null
);
create table print_words (
  word integer not null,
  sample_id uuid not null references samples on delete cascade
);
create index print_words_by_word on print_words (word, sample_id);
create index print_words_of_sample on print_words (sample_id);

-- Two samples that hold the same recording. a is the one that was here first.
create table likenesses (
  a uuid not null references samples on delete cascade,
  b uuid not null references samples on delete cascade,
  relation text not null check (relation in ('same bytes', 'same audio', 'same recording')),
  -- Where b begins in a, seconds, and the share of differing bits for recordings.
  offset_seconds double precision not null default 0,
  difference real not null default 0,
  state text not null default 'open' check (state in ('open', 'kept apart', 'merged')),
  found_at timestamptz not null default now(),
  primary key (a, b),
  check (a <> b)
);
create index likenesses_of_b on likenesses (b);

-- Actions on many samples at once, with what is needed to take them back.
create table bulk_steps (
  step_id bigint generated always as identity primary key,
  words text not null,
  action jsonb not null,
  items jsonb not null,
  made_at timestamptz not null default now(),
  undone_at timestamptz
);

-- Folders of the server that are looked through, or watched.
create table places (
  place_id bigint generated always as identity primary key,
  path text not null unique check (length(path) between 1 and 2000),
  watched boolean not null default false,
  fault text,
  added_at timestamptz not null default now()
);

-- Long ways in that the server goes by itself: unpacking, taking in from a folder, fetching deliveries.
create table errands (
  errand_id bigint generated always as identity primary key,
  kind text not null check (kind in ('zip', 'place', 'delivery')),
  words text not null,
  source jsonb not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'paused', 'done', 'failed', 'cancelled')),
  fault text,
  runner integer,
  made_at timestamptz not null default now(),
  ended_at timestamptz
);
create table errand_items (
  errand_id bigint not null references errands on delete cascade,
  position integer not null,
  name text not null,
  folder text not null,
  -- Where the bytes are: a path in the place, the archive or the catalogue.
  path text not null,
  byte_length bigint,
  modified_ms bigint,
  received bigint not null default 0,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  outcome text,
  fault text,
  sample_id uuid references samples on delete set null,
  primary key (errand_id, position)
);
