-- What waits to be done with a sample stands apart from what may be wrong with it.
alter table settled add column todos text[] not null default '{}';
update settled set
  todos = array(select w from unnest(doubts) w where w = 'not trimmed to bars' or w ~ ' as “'),
  doubts = array(select w from unnest(doubts) w where not (w = 'not trimmed to bars' or w ~ ' as “'))
 where doubt_sorts <> 0;
