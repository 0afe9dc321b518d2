-- +goose Up
-- Work that comes around within the season stands in it more than once; and what was done since the plan was accepted is over.
ALTER TABLE season_piece DROP CONSTRAINT season_piece_pkey;
ALTER TABLE season_piece ADD PRIMARY KEY (school_id, instrument_id, work, monday);
ALTER TABLE season_piece ADD COLUMN accepted_on date NOT NULL DEFAULT CURRENT_DATE;
ALTER TABLE season_piece ALTER COLUMN accepted_on DROP DEFAULT;

-- +goose Down
ALTER TABLE season_piece DROP COLUMN accepted_on;
DELETE FROM season_piece p USING season_piece earlier WHERE (p.school_id, p.instrument_id, p.work)
    = (earlier.school_id, earlier.instrument_id, earlier.work) AND p.monday > earlier.monday;
ALTER TABLE season_piece DROP CONSTRAINT season_piece_pkey;
ALTER TABLE season_piece ADD PRIMARY KEY (school_id, instrument_id, work);
