-- Originals: the bytes as they arrived, in chunks, known by their SHA-256 once they are complete.
create table originals (
  original_id bigint generated always as identity primary key,
  sha256 text unique check (sha256 ~ '^[0-9a-f]{64}$'),
  byte_length bigint not null default 0 check (byte_length >= 0),
  began_at timestamptz not null default now(),
  complete_at timestamptz,
  check ((sha256 is null) = (complete_at is null))
);

create table original_chunks (
  original_id bigint not null references originals on delete cascade,
  chunk_index integer not null check (chunk_index >= 0),
  bytes bytea not null check (octet_length(bytes) between 1 and 524288),
  primary key (original_id, chunk_index)
);
-- Audio does not compress; uncompressed values can be read in part.
alter table original_chunks alter column bytes set storage external;

create table samples (
  sample_id uuid primary key default gen_random_uuid(),
  original_id bigint not null references originals,
  -- The name as it arrived; never changed by the program.
  name text not null check (length(name) between 1 and 300),
  folder text not null default '' check (length(folder) <= 1000),
  kind text check (kind in ('song', 'loop', 'stem', 'oneshot', 'midi')),
  standing text not null default 'arrived' check (standing in ('arrived', 'measured', 'proved', 'saved')),
  needs_look text[] not null default '{}',
  format text,
  duration_seconds double precision check (duration_seconds >= 0),
  sample_rate integer check (sample_rate > 0),
  channels integer check (channels > 0),
  -- Why it cannot be decoded or measured.
  fault text,
  warnings text[] not null default '{}',
  -- Waveform extremes as signed bytes, [min, max] for each of some hundred columns.
  thumbnail bytea,
  measurement jsonb,
  current_sequence integer,
  -- Lower-case name, tags and note, for searching.
  search_text text not null default '',
  arrived_at timestamptz not null default now(),
  measured_at timestamptz,
  saved_at timestamptz,
  removed_at timestamptz,
  check (standing = 'arrived' or fault is not null or measured_at is not null),
  check ((standing = 'saved') = (saved_at is not null))
);
create index samples_by_arrival on samples (arrived_at desc, sample_id) where removed_at is null;
create index samples_of_original on samples (original_id);

create table readings (
  reading_id bigint generated always as identity primary key,
  sample_id uuid not null references samples on delete cascade,
  property text not null check (property in ('tempo', 'one', 'meter', 'key', 'tuning')),
  source text not null check (source in ('detector', 'file name', 'embedded tag', 'taps', 'length', 'pins', 'typed')),
  value jsonb not null,
  sureness real not null check (sureness between 0 and 1),
  detail text not null default '',
  -- Place among the same source's readings of the property: 0 is its first choice.
  rank integer not null default 0 check (rank >= 0),
  read_at timestamptz not null default now(),
  -- A later measurement took its place; kept for the record.
  superseded_at timestamptz
);
create index readings_of_sample on readings (sample_id, property, read_at);

-- The settled state of a sample after each change. Undo and redo move samples.current_sequence.
create table revisions (
  sample_id uuid not null references samples on delete cascade,
  sequence integer not null check (sequence >= 1),
  words text not null check (length(words) between 1 and 300),
  made_by text not null check (made_by in ('measurement', 'curator')),
  tempo_bpm double precision check (tempo_bpm between 10 and 1000),
  one_seconds double precision,
  beats_per_bar integer check (beats_per_bar between 1 and 32),
  beat_unit integer check (beat_unit between 1 and 32),
  moving_beats double precision[],
  key_tonic integer check (key_tonic between 0 and 11),
  key_mode text check (key_mode in ('major', 'minor')),
  key_none boolean not null default false,
  tuning_cents double precision check (tuning_cents between -50 and 50),
  tags jsonb not null default '[]',
  note text not null default '' check (length(note) <= 4000),
  rating integer check (rating between 1 and 5),
  origin text not null default '' check (length(origin) <= 300),
  licence text not null default '' check (length(licence) <= 300),
  -- Which reading each property was settled from: {"tempo": 12, …}.
  chosen jsonb not null default '{}',
  made_at timestamptz not null default now(),
  -- Undone and then replaced by another change: kept, but redo does not reach it.
  abandoned boolean not null default false,
  primary key (sample_id, sequence),
  -- A grid is whole or absent.
  check (num_nulls(tempo_bpm, one_seconds, beats_per_bar, beat_unit) in (0, 4)),
  check (moving_beats is null or tempo_bpm is not null),
  check ((key_tonic is null) = (key_mode is null)),
  check (not (key_none and key_tonic is not null))
);
alter table samples add foreign key (sample_id, current_sequence) references revisions (sample_id, sequence) deferrable initially deferred;

-- The current revision's tags, for filters and counts.
create table sample_tags (
  sample_id uuid not null references samples on delete cascade,
  facet text not null,
  value text not null check (length(value) between 1 and 40),
  primary key (sample_id, facet, value)
);
create index sample_tags_by_value on sample_tags (facet, value);

-- Checks against the click, each for exactly one grid over exactly these bytes.
create table proofs (
  proof_id bigint generated always as identity primary key,
  sample_id uuid not null references samples on delete cascade,
  sequence integer not null,
  grid jsonb not null,
  audio_sha256 text not null check (audio_sha256 ~ '^[0-9a-f]{64}$'),
  places jsonb not null,
  verdict text not null check (verdict in ('early', 'on', 'late')),
  by_ear boolean not null,
  signed_by text not null check (length(signed_by) between 1 and 80),
  signed_at timestamptz not null default now(),
  foreign key (sample_id, sequence) references revisions (sample_id, sequence)
);
create index proofs_of_sample on proofs (sample_id, signed_at desc);

create table jobs (
  job_id bigint generated always as identity primary key,
  sample_id uuid not null references samples on delete cascade,
  options jsonb not null default '{}',
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  priority integer not null default 0,
  attempts integer not null default 0 check (attempts >= 0),
  -- The advisory lock that the process which runs the job holds while it lives.
  runner integer,
  stage text not null default '',
  progress real not null default 0 check (progress between 0 and 1),
  error text,
  created_at timestamptz not null default now(),
  started_at timestamptz,
  ended_at timestamptz,
  check ((state = 'running') = (runner is not null))
);
create index jobs_waiting on jobs (priority desc, job_id) where state = 'waiting';
create index jobs_of_sample on jobs (sample_id, job_id desc);
-- One measurement of a sample at a time.
create unique index jobs_open on jobs (sample_id) where state in ('waiting', 'running');
