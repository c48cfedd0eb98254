-- Packs (core/packs): samples that are gathered to be given away. Every state that one was in is kept, so that it can be taken back.
create table packs (
  pack_id uuid primary key default gen_random_uuid(),
  -- The state that is shown, of those in pack_states.
  sequence integer not null default 0,
  made_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  binned_at timestamptz
);
create table pack_states (
  pack_id uuid not null references packs on delete cascade,
  sequence integer not null,
  -- What led to it.
  words text not null,
  state jsonb not null,
  version smallint not null default 1,
  curator_id uuid references curators on delete set null,
  made_at timestamptz not null default now(),
  primary key (pack_id, sequence)
);
-- Which packs hold a sample.
create index pack_states_samples on pack_states using gin ((state -> 'sampleIds') jsonb_path_ops);

-- A pack as it is written, or was: its task makes what belongs to each of its samples, and the archive is put together of that when it is fetched.
create table pack_writings (
  writing_id bigint generated always as identity primary key,
  pack_id uuid not null references packs on delete cascade,
  -- Null: its line is taken away from the list of tasks.
  task_id bigint references tasks on delete set null,
  state jsonb not null,
  version smallint not null default 1,
  -- What could not be written; null: its task knows.
  faults jsonb,
  begun_at timestamptz not null default now()
);
create index pack_writings_pack on pack_writings (pack_id);
create index pack_writings_task on pack_writings (task_id);
-- What was written of one sample: its line of the table, and the revision of it that was seen.
create table pack_samples (
  writing_id bigint not null references pack_writings on delete cascade,
  place integer not null,
  sample_id uuid references samples on delete set null,
  sequence integer,
  row jsonb not null,
  duration_seconds double precision,
  primary key (writing_id, place)
);
-- The files of a writing: large ones lie where originals lie, small ones here.
create table pack_parts (
  writing_id bigint not null references pack_writings on delete cascade,
  place integer not null,
  path text not null,
  original_id bigint references originals,
  bytes bytea,
  sha256 text not null,
  byte_length bigint not null,
  -- By what it was made: the same is not made again for the next writing.
  made_by text,
  -- How far it is from what was planned, where a recipe made it.
  differences jsonb,
  primary key (writing_id, path),
  check ((original_id is null) <> (bytes is null))
);
create index pack_parts_original on pack_parts (original_id);
create index pack_parts_made_by on pack_parts (made_by);

-- Whether a sample, or a pack that was written, rests on the bytes of an original.
create function rests_on(original bigint) returns boolean language sql stable as $$
  select exists (select from samples s where s.original_id = original or s.listening_id = original)
      or exists (select from pack_parts p where p.original_id = original)
$$;

alter table tasks drop constraint tasks_kind_check;
alter table tasks add constraint tasks_kind_check
  check (kind in ('measure', 'unpack', 'bring', 'fetch', 'render', 'mix', 'pack'));
