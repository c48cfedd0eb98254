-- What the Bench draws before the audio is there: packed by core/traces.
create table traces (
  sample_id uuid primary key references samples on delete cascade,
  bytes bytea not null
);
alter table traces alter column bytes set storage external;

-- Beats fixed by hand, [{beat, time}], and where the sample goes round, {bar, bars, shiftSeconds}.
alter table revisions add column pins jsonb not null default '[]', add column loop jsonb;

-- Samples that were measured before are measured once more, for their traces.
insert into jobs (sample_id) select sample_id from samples where measured_at is not null and fault is null
  on conflict do nothing;

-- Customs of the library, one row per name; core/library/settings has their shapes.
create table settings (
  name text primary key,
  value jsonb not null
);
