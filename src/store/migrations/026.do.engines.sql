-- The newest engine that listened to a sample, measuring it or only comparing; what was measured before engines had numbers is of the first.
alter table samples add column engine smallint not null default 1;
create index samples_by_engine on samples (engine) include (sample_id) where measurement is not null;
create index tasks_comparing on tasks (state)
  where kind = 'measure' and state in ('waiting', 'running') and payload @> '{"isComparison": true}';
alter table heard add column engine smallint not null default 1;

-- What a newer engine measures otherwise stands beside what is settled, as a reading of its own.
alter table readings drop constraint readings_source_check;
alter table readings add constraint readings_source_check
  check (source in ('detector', 'newer measurement', 'file name', 'embedded tag', 'stem set', 'derived', 'taps', 'length', 'pins', 'typed'));
create index settled_measured_anew on settled (urgency desc, sample_id) where binned_at is null and doubt_sorts & 16384 <> 0;
