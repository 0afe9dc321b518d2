-- +goose Up
-- The year's plan: what the school's weeks hold, what somebody pinned, and what was accepted.
CREATE TABLE season_setting (
    school_id     uuid NOT NULL REFERENCES school,
    term_minutes  integer NOT NULL CHECK (term_minutes >= 0),  -- at the bench, in a week of school
    break_minutes integer NOT NULL CHECK (break_minutes >= 0), -- and in one of a break
    van_every     integer NOT NULL CHECK (van_every >= 0),     -- weeks between two trips to the shops; 0 for none but those planned
    van_places    integer NOT NULL CHECK (van_places > 0),
    van_cents     bigint NOT NULL CHECK (van_cents >= 0),
    budget_cents  bigint CHECK (budget_cents >= 0),            -- for all repairs of the season; empty for no limit
    PRIMARY KEY (school_id)
);
CREATE TABLE season_piece (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    work          text NOT NULL, -- key of a routine, or shop for the instrument's open job
    monday        date NOT NULL,
    pinned        boolean NOT NULL,
    PRIMARY KEY (school_id, instrument_id, work),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument
);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['season_setting', 'season_piece'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
    CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON season_setting FOR EACH ROW EXECUTE FUNCTION note_touched('school');
    CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON season_piece FOR EACH ROW EXECUTE FUNCTION note_touched('school');
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE season_piece, season_setting;
