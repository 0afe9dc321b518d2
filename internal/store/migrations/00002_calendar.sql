-- +goose Up
-- When the school plays: terms, breaks, ensembles with their rehearsals, concerts.
CREATE TABLE term (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    name      text NOT NULL CHECK (name <> ''),
    starts_on date NOT NULL,
    ends_on   date NOT NULL CHECK (ends_on >= starts_on),
    version   integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id),
    CONSTRAINT term_overlap EXCLUDE USING gist (school_id WITH =, daterange(starts_on, ends_on, '[]') WITH &&)
);

CREATE TABLE school_break (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    name      text NOT NULL CHECK (name <> ''),
    starts_on date NOT NULL,
    ends_on   date NOT NULL CHECK (ends_on >= starts_on),
    version   integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);

CREATE TABLE ensemble (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    name      citext NOT NULL CHECK (name <> ''),
    version   integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id),
    CONSTRAINT ensemble_name UNIQUE (school_id, name)
);

CREATE TABLE rehearsal (
    school_id   uuid NOT NULL,
    id          uuid NOT NULL,
    ensemble_id uuid NOT NULL,
    weekday     smallint NOT NULL CHECK (weekday BETWEEN 1 AND 7),
    starts_at   time NOT NULL,
    minutes     integer NOT NULL CHECK (minutes BETWEEN 1 AND 1440),
    play_factor double precision NOT NULL DEFAULT 0.6 CHECK (play_factor BETWEEN 0 AND 1),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, ensemble_id) REFERENCES ensemble ON DELETE CASCADE
);
CREATE INDEX rehearsal_ensemble ON rehearsal (school_id, ensemble_id);

CREATE TABLE concert (
    school_id   uuid NOT NULL REFERENCES school,
    id          uuid NOT NULL,
    name        text NOT NULL CHECK (name <> ''),
    held_on     date NOT NULL,
    minutes     integer NOT NULL DEFAULT 90 CHECK (minutes BETWEEN 1 AND 1440),
    play_factor double precision NOT NULL DEFAULT 0.6 CHECK (play_factor BETWEEN 0 AND 1),
    version     integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);

CREATE TABLE concert_ensemble (
    school_id   uuid NOT NULL,
    concert_id  uuid NOT NULL,
    ensemble_id uuid NOT NULL,
    PRIMARY KEY (school_id, concert_id, ensemble_id),
    FOREIGN KEY (school_id, concert_id) REFERENCES concert ON DELETE CASCADE,
    FOREIGN KEY (school_id, ensemble_id) REFERENCES ensemble ON DELETE CASCADE
);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['term', 'school_break', 'ensemble', 'rehearsal', 'concert', 'concert_ensemble'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE concert_ensemble, concert, rehearsal, ensemble, school_break, term;
