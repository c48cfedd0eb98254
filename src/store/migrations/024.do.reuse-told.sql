-- Samples without a lasting pitch, which no target transposes; said by the rules of rows, which are said again when the tasks process begins.
alter table settled add column toneless boolean not null default false;

-- What was planned of a file at a pack's target: its tempo, bars and length stand in the table.
alter table pack_parts add column planned jsonb;

-- How a sample is brought to a target, where somebody chose another way than what is proposed: a level of its tempo, a move of its pitch.
create table target_choices (
  sample_id uuid not null references samples on delete cascade,
  target text not null,
  level double precision,
  semitones integer,
  primary key (sample_id, target)
);

-- What a pack said of a sample that came out of it: the bytes that it arrived as first, its parent's, and its stem set. Others of the
-- pack may come later.
create table unpacked (
  sample_id uuid primary key references samples on delete cascade,
  known_as text not null,
  parent_as text,
  own jsonb not null
);
create index unpacked_by_known_as on unpacked (known_as);
create index unpacked_by_parent_as on unpacked (parent_as) where parent_as is not null;

-- About how much sound a task makes, seconds: short ones are not kept waiting by long ones.
alter table tasks add column cost real not null default 0;

-- The screen that a step was made on: it is taken back, and done again, there.
alter table bulk_steps add column screen text;
