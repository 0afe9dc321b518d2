-- +goose Up
-- The plan of the year as it was worked out last, and for what, so that it is there at once wherever it is asked for.
CREATE TABLE season_plan (
    school_id   uuid PRIMARY KEY REFERENCES school,
    asked       bytea NOT NULL,       -- digest of all that it was made from
    starts      jsonb NOT NULL,       -- when each piece begins, by its id
    bound_cents bigint NOT NULL,      -- no plan costs less
    made_at     timestamptz NOT NULL
);
ALTER TABLE season_plan ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON season_plan USING (school_id = (SELECT current_school()));
GRANT SELECT, INSERT, UPDATE, DELETE ON season_plan TO solfeggio_app;

-- +goose Down
DROP TABLE season_plan;
