-- Who has said the passphrase, and what scripts may read. Only hashes of the secrets are kept.
create table sessions (
  token_hash text primary key,
  -- Of the passphrase that was said: another one ends all sessions.
  passphrase_tag text not null,
  made_at timestamptz not null default now(),
  seen_at timestamptz not null default now(),
  ends_at timestamptz not null
);
create table access_tokens (
  token_id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 80),
  token_hash text not null unique,
  made_at timestamptz not null default now(),
  seen_at timestamptz
);
