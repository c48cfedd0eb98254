-- Work that is done when its turn comes, of all kinds in one queue.
create sequence leases;
create table tasks (
  task_id bigint generated always as identity primary key,
  kind text not null check (kind in ('measure', 'unpack', 'bring', 'fetch')),
  -- What the kind is told (core/library/tasks has a schema for each), and the version of its shape.
  payload jsonb not null,
  version smallint not null default 1,
  words text not null default '' check (length(words) <= 300),
  -- What is measured.
  sample_id uuid references samples on delete cascade,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'paused', 'done', 'failed', 'cancelled')),
  priority integer not null default 0,
  attempts integer not null default 0 check (attempts >= 0),
  -- The advisory lock that the process which runs the task holds while it lives.
  runner integer,
  -- New with each time that the task is taken; only who holds it may write anything of it.
  lease bigint,
  -- What it was asked for again while it ran: it runs once more, told this.
  again jsonb,
  stage text not null default '',
  progress real not null default 0 check (progress between 0 and 1),
  -- Why it failed, in a sentence.
  fault text,
  made_at timestamptz not null default now(),
  started_at timestamptz,
  ended_at timestamptz,
  check ((state = 'running') = (runner is not null)),
  check ((state = 'running') = (lease is not null)),
  check ((kind = 'measure') = (sample_id is not null))
);
create index tasks_waiting on tasks (kind, priority desc, task_id) where state = 'waiting';
create index tasks_running on tasks (runner) where state = 'running';
create index tasks_done on tasks (ended_at) where state = 'done';
create index tasks_of_sample on tasks (sample_id, task_id desc);
-- One measurement of a sample at a time.
create unique index tasks_measuring on tasks (sample_id) where kind = 'measure' and state in ('waiting', 'running');

-- Files of a task that has many, in their order.
create table task_items (
  task_id bigint not null references tasks on delete cascade,
  position integer not null,
  name text not null,
  folder text not null,
  -- Where the bytes are: a path in the place, the archive or the catalogue.
  path text not null,
  byte_length bigint,
  modified_ms bigint,
  received bigint not null default 0,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed')),
  outcome text,
  fault text,
  sample_id uuid references samples on delete set null,
  primary key (task_id, position)
);

alter table tasks add column old_errand bigint;
insert into tasks (kind, payload, words, state, fault, made_at, ended_at, old_errand)
select case kind when 'zip' then 'unpack' when 'place' then 'bring' else 'fetch' end, source, left(words, 300),
       case state when 'running' then 'waiting' else state end, fault, made_at, ended_at, errand_id
  from errands order by errand_id;
insert into task_items (task_id, position, name, folder, path, byte_length, modified_ms, received, state, outcome, fault, sample_id)
select t.task_id, i.position, i.name, i.folder, i.path, i.byte_length, i.modified_ms, i.received,
       case i.state when 'cancelled' then 'waiting' when 'running' then 'waiting' else i.state end, i.outcome, i.fault, i.sample_id
  from errand_items i join tasks t on t.old_errand = i.errand_id;
alter table tasks drop column old_errand;
insert into tasks (kind, payload, sample_id, state, priority, attempts, stage, progress, fault, made_at, started_at, ended_at)
select 'measure', jsonb_build_object('range', options -> 'range', 'meter', options -> 'meter'), sample_id,
       case state when 'running' then 'waiting' else state end, priority, attempts, stage, progress, error, created_at, started_at, ended_at
  from jobs order by job_id;
drop table errand_items;
drop table errands;
drop table jobs;

update settings set name = 'tasksPaused', value = to_jsonb(array['measure']) where name = 'measuringPaused' and value = 'true';
delete from settings where name = 'measuringPaused';
