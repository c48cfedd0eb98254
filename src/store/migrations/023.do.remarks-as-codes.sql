-- What measuring remarks stands in the measurement, as codes from now on (core/measurement/remark, which reads the sentences of before);
-- beside it are only warnings of what was read.
update samples s set warnings = array(select w from unnest(s.warnings) w where not (s.measurement -> 'remarks') ? w)
 where cardinality(s.warnings) > 0 and jsonb_typeof(s.measurement -> 'remarks') = 'array';
