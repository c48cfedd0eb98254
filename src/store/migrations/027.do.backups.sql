-- Backups that were written of this library; the files lie where whoever wrote them wanted.
create table backups (
  backup_id bigint generated always as identity primary key,
  file text not null,
  byte_length bigint not null check (byte_length > 0),
  samples integer not null,
  -- When it was begun: it holds the library as it was then.
  began_at timestamptz not null,
  -- When it was read back as a database of its own, compared and dropped; null: it was not, or differed.
  verified_at timestamptz
);
create index backups_by_time on backups (began_at);
