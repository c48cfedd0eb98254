-- How often a file of a task was begun: one that ends its process each time fails by itself, and the rest goes on.
alter table task_items add column attempts integer not null default 0;
