-- What was measured of files that are heard where they lie, by what they hold.
create table heard (
  sha256 text primary key,
  measurement jsonb not null,
  measurement_version smallint not null,
  heard_at timestamptz not null default now()
);
create index heard_heard_at on heard (heard_at);
