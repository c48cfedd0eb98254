-- Who holds the bytes of which original; what nobody holds is swept away (store/heldBytes).
create index samples_of_listening_copy on samples (listening_id) where listening_id is not null;
create index tasks_of_archive on tasks (((payload ->> 'originalId')::bigint)) where kind = 'unpack';
create view held_originals as
  select original_id, 'sample' as holder, sample_id::text as key from samples
  union all
  select listening_id, 'listening copy', sample_id::text from samples where listening_id is not null
  union all
  select original_id, 'pack', writing_id::text from pack_parts where original_id is not null
  union all
  -- An archive, as long as files of it wait, or failed and can be tried again.
  select (payload ->> 'originalId')::bigint, 'task', task_id::text from tasks t
   where kind = 'unpack'
     and (state <> 'done' or exists (select from task_items i where i.task_id = t.task_id and i.state = 'failed' and i.attempts > 0));

create or replace function rests_on(original bigint) returns boolean language sql stable as $$
  select exists (select from held_originals h where h.original_id = original)
$$;

-- Samples that are deleted leave those that were made of them.
alter table settled drop constraint settled_parent_fkey,
  add constraint settled_parent_fkey foreign key (parent) references samples on delete set null;
alter table samples drop constraint samples_merged_into_fkey,
  add constraint samples_merged_into_fkey foreign key (merged_into) references samples on delete set null;
alter table stem_sets drop constraint stem_sets_grid_from_fkey,
  add constraint stem_sets_grid_from_fkey foreign key (grid_from) references samples on delete set null;
alter table stem_sets drop constraint stem_sets_key_from_fkey,
  add constraint stem_sets_key_from_fkey foreign key (key_from) references samples on delete set null;
create index samples_merged_into on samples (merged_into) where merged_into is not null;
create index stem_sets_grid_from on stem_sets (grid_from);
create index stem_sets_key_from on stem_sets (key_from);
-- From now on the bin is emptied by age: what lies in it gets all of that time from today on.
update settled set binned_at = now() where binned_at is not null;
