-- What measuring alone says, by how certain it is: summed into the errors that are left (those of the Shelf as well, from the index alone), the
-- least certain listed first.
create index settled_tempo_guesses on settled (tempo_sureness, sample_id) include (saved_at) where binned_at is null and kind <> 'oneshot' and tempo_sureness is not null;
create index settled_key_guesses on settled (key_sureness, sample_id) include (saved_at) where binned_at is null and kind <> 'oneshot' and key_sureness is not null;
