-- By which rules a row was said: what older ones wrote is said anew when the tasks' process begins.
alter table settled add column said_by smallint not null default 0;
create index settled_said_by on settled (said_by);
