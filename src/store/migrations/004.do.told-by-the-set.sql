-- What one stem of a set tells the others is a reading of theirs.
alter table readings
  drop constraint readings_source_check,
  add constraint readings_source_check
    check (source in ('detector', 'file name', 'embedded tag', 'stem set', 'taps', 'length', 'pins', 'typed'));
