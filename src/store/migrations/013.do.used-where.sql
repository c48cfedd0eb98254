-- Which blends hold a sample.
create index blend_states_lanes on blend_states using gin ((state -> 'lanes') jsonb_path_ops);
