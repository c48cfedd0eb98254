-- Blends (core/blend): several samples on one ruler. Every state that one was in is kept, so that it can be taken back.
create table blends (
  blend_id uuid primary key default gen_random_uuid(),
  -- The state that is shown, of those in blend_states.
  sequence integer not null default 0,
  made_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  binned_at timestamptz
);
create table blend_states (
  blend_id uuid not null references blends on delete cascade,
  sequence integer not null,
  -- What led to it.
  words text not null,
  state jsonb not null,
  version smallint not null default 1,
  curator_id uuid references curators on delete set null,
  made_at timestamptz not null default now(),
  primary key (blend_id, sequence)
);

-- Samples that came of a blend: which of its outcomes, and the blend as it was then.
create table mixes (
  sample_id uuid primary key references samples on delete cascade,
  blend_id uuid references blends on delete set null,
  outcome jsonb not null,
  state jsonb not null,
  planned jsonb not null,
  differences jsonb not null,
  version smallint not null default 1,
  made_at timestamptz not null default now()
);
alter table tasks drop constraint tasks_kind_check;
alter table tasks add constraint tasks_kind_check check (kind in ('measure', 'unpack', 'bring', 'fetch', 'render', 'mix'));
