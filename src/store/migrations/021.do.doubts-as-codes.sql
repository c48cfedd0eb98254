-- Doubts are codes with their figures (core/library/doubt); words for them are the screens'. Rows are said again by their rules when the
-- tasks process begins.
alter table settled drop column doubts, drop column todos;
alter table settled add column doubts jsonb not null default '[]', add column todos jsonb not null default '[]';
