-- How much is to be measured, counted while it changes: nobody who asks has to look through all that waits.
alter table tasks
  -- Of what is measured: the ending of its name, by which formats are told before they are read, and its bytes.
  add column suffix text,
  add column byte_length bigint;
update tasks t set suffix = lower(substring(s.name from '[^.]+$')), byte_length = o.byte_length
  from samples s join originals o using (original_id) where t.sample_id = s.sample_id;

-- Rows are added, never changed: two that count at once do not wait for each other. The sum is what there is; now and then it is put into one row.
create table measuring_counts (
  state text not null,
  suffix text not null,
  tasks bigint not null,
  bytes bigint not null
);
insert into measuring_counts
select state, coalesce(suffix, ''), count(*), coalesce(sum(byte_length), 0) from tasks
 where kind = 'measure' and state in ('waiting', 'running') group by 1, 2;

create function name_measuring() returns trigger language plpgsql as $$
begin
  select lower(substring(s.name from '[^.]+$')), o.byte_length into new.suffix, new.byte_length
    from samples s join originals o using (original_id) where s.sample_id = new.sample_id;
  return new;
end $$;
create trigger tasks_named before insert on tasks for each row when (new.kind = 'measure') execute function name_measuring();

create function count_measuring() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then
    insert into measuring_counts
    select state, coalesce(suffix, ''), count(*), coalesce(sum(byte_length), 0) from after_change
     where kind = 'measure' and state in ('waiting', 'running') group by 1, 2;
  elsif tg_op = 'DELETE' then
    insert into measuring_counts
    select state, coalesce(suffix, ''), -count(*), -coalesce(sum(byte_length), 0) from before_change
     where kind = 'measure' and state in ('waiting', 'running') group by 1, 2;
  else
    insert into measuring_counts
    select state, suffix, sum(way), sum(way * bytes) from (
      select a.state, coalesce(a.suffix, '') as suffix, 1 as way, coalesce(a.byte_length, 0) as bytes
        from after_change a join before_change b using (task_id) where a.kind = 'measure' and a.state <> b.state
      union all
      select b.state, coalesce(b.suffix, ''), -1, coalesce(b.byte_length, 0)
        from after_change a join before_change b using (task_id) where a.kind = 'measure' and a.state <> b.state) moved
     where state in ('waiting', 'running') group by 1, 2;
  end if;
  return null;
end $$;
create trigger tasks_counted_in after insert on tasks referencing new table as after_change
  for each statement execute function count_measuring();
create trigger tasks_counted_out after delete on tasks referencing old table as before_change
  for each statement execute function count_measuring();
create trigger tasks_counted after update on tasks referencing old table as before_change new table as after_change
  for each statement execute function count_measuring();
