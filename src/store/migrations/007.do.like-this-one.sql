-- Where a sample lies among others by what it sounds like (core/resemblance/features): nearest first, by an index.
create extension if not exists cube;
alter table settled
  add column like_rhythm cube,
  add column like_sound cube,
  add column like_harmony cube,
  add column like_all cube;
create index settled_like_rhythm on settled using gist (like_rhythm) where standing = 'saved' and binned_at is null;
create index settled_like_sound on settled using gist (like_sound) where standing = 'saved' and binned_at is null;
create index settled_like_harmony on settled using gist (like_harmony) where standing = 'saved' and binned_at is null;
create index settled_like_all on settled using gist (like_all) where standing = 'saved' and binned_at is null;
