-- What the Shelf is narrowed by beside tags: where a sample comes from and what may be done with it.
alter table settled
  add column origin text not null default '',
  add column licence text not null default '';
update settled s set origin = r.origin, licence = r.licence
  from revisions r where r.sample_id = s.sample_id and r.sequence = s.sequence and (r.origin <> '' or r.licence <> '');

-- Questions to the Shelf that somebody wants to ask again (core/library/shelfQuery has the shape of `asked`).
create table searches (
  search_id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 80),
  asked jsonb not null,
  version smallint not null default 1,
  made_at timestamptz not null default now()
);
create unique index searches_by_name on searches (lower(name));

-- How derived samples were made (core/recipes): what their parent was then, and every step.
create table recipes (
  sample_id uuid primary key references samples on delete cascade,
  recipe jsonb not null,
  -- What it was to become (core/recipes/differences), and how far what was written is from that.
  planned jsonb not null,
  differences jsonb not null,
  version smallint not null default 1,
  made_at timestamptz not null default now()
);
alter table readings drop constraint readings_source_check;
alter table readings add constraint readings_source_check
  check (source in ('detector', 'file name', 'embedded tag', 'stem set', 'derived', 'taps', 'length', 'pins', 'typed'));
alter table tasks drop constraint tasks_kind_check;
alter table tasks add constraint tasks_kind_check check (kind in ('measure', 'unpack', 'bring', 'fetch', 'render'));
