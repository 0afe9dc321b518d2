-- +goose Up
-- Players: who plays, in which ensembles, how much, and how tall; an assignment may now name one.
CREATE TABLE player (
    school_id                 uuid NOT NULL REFERENCES school,
    id                        uuid NOT NULL,
    external_id               text NOT NULL DEFAULT '', -- what the school's roster calls the player, empty when none did
    given_name                text NOT NULL CHECK (given_name <> ''),
    family_name               text NOT NULL DEFAULT '',
    grade_year                text NOT NULL DEFAULT '',
    kind                      text NOT NULL DEFAULT '', -- of instrument that the player learns, empty when that is not known
    practice_minutes_per_week double precision NOT NULL DEFAULT 60 CHECK (practice_minutes_per_week BETWEEN 0 AND 10080),
    practice_days_per_week    double precision NOT NULL DEFAULT 5 CHECK (practice_days_per_week BETWEEN 0 AND 7),
    vacation_share            double precision NOT NULL DEFAULT 0.25 CHECK (vacation_share BETWEEN 0 AND 1),
    heavy_sweat               boolean NOT NULL DEFAULT false,
    transport                 text NOT NULL DEFAULT '' CHECK (transport IN ('', 'foot', 'bicycle', 'bus', 'car')),
    guardian                  text NOT NULL DEFAULT '',
    notes                     text NOT NULL DEFAULT '',
    left_on                   date,
    version                   integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);
CREATE UNIQUE INDEX player_external_id ON player (school_id, external_id) WHERE external_id <> '';

CREATE TABLE player_ensemble (
    school_id   uuid NOT NULL,
    player_id   uuid NOT NULL,
    ensemble_id uuid NOT NULL,
    PRIMARY KEY (school_id, player_id, ensemble_id),
    FOREIGN KEY (school_id, player_id) REFERENCES player ON DELETE CASCADE,
    FOREIGN KEY (school_id, ensemble_id) REFERENCES ensemble
);

CREATE TABLE player_measurement (
    school_id     uuid NOT NULL,
    player_id     uuid NOT NULL,
    measured_on   date NOT NULL,
    arm_length_cm double precision CHECK (arm_length_cm > 0 AND arm_length_cm < 300),
    height_cm     double precision CHECK (height_cm > 0 AND height_cm < 300),
    PRIMARY KEY (school_id, player_id, measured_on),
    FOREIGN KEY (school_id, player_id) REFERENCES player ON DELETE CASCADE,
    CONSTRAINT player_measurement_given CHECK (num_nonnulls(arm_length_cm, height_cm) > 0)
);

ALTER TABLE assignment
    ADD COLUMN player_id uuid,
    ADD FOREIGN KEY (school_id, player_id) REFERENCES player;
CREATE INDEX assignment_player ON assignment (school_id, player_id) WHERE player_id IS NOT NULL;

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['player', 'player_ensemble', 'player_measurement'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
ALTER TABLE assignment DROP COLUMN player_id;
DROP TABLE player_measurement, player_ensemble, player;
