-- What a pack knows of a file that comes out of it, by the bytes: it is settled when the file has been measured.
create table pack_notes (
  sha256 text primary key,
  own jsonb not null,
  came_at timestamptz not null default now()
);
