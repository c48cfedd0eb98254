-- Changes that their senders named, with what came of them: sent again, they are answered as they were the first time.
create table sent_changes (
  change_id uuid not null,
  part smallint not null,
  result jsonb,
  done_at timestamptz not null default now(),
  primary key (change_id, part)
);
create index sent_changes_done on sent_changes (done_at);

-- What was done to the samples of a step, one row each, with whether it was taken back: a step of any size grows by its rows alone,
-- and taking it back goes on where it stopped.
create table bulk_step_items (
  step_id bigint not null references bulk_steps on delete cascade,
  position bigint generated always as identity,
  sample_id uuid not null,
  -- The revision that was made; null when none was.
  made integer,
  -- Whether it was put into the bin, or taken out; null when neither.
  binned boolean,
  undone boolean not null default false,
  primary key (step_id, position)
);
insert into bulk_step_items (step_id, sample_id, made, binned, undone)
select step_id, (item ->> 'sampleId')::uuid, (item ->> 'made')::integer, (item ->> 'binned')::boolean, undone_at is not null
  from bulk_steps, jsonb_array_elements(items) with ordinality as each(item, n) order by step_id, n;
alter table bulk_steps drop column items;
-- A step that comes in portions is known by its sender's id for it.
alter table bulk_steps add column sent_as uuid unique;
