-- Samples that every target strains alike (core/fit/strainGroup); said by the rules of rows, which are said again when the tasks process begins.
alter table settled add column strain_group integer not null default 0;
create index settled_by_strain_group on settled (strain_group, sample_id) where standing = 'saved' and binned_at is null;
