-- +goose Up
-- Instruments, who plays them and how much, what was done to them, and the log of everything that happened.
CREATE TABLE instrument (
    school_id   uuid NOT NULL REFERENCES school,
    id          uuid NOT NULL,
    tag         text NOT NULL CHECK (tag ~ '^[A-Z0-9][A-Z0-9-]{0,15}$'),
    kind        text NOT NULL,
    size        text NOT NULL DEFAULT '',
    body        text NOT NULL,
    maker       text NOT NULL DEFAULT '',
    model       text NOT NULL DEFAULT '',
    serial      text NOT NULL DEFAULT '',
    room        text NOT NULL DEFAULT '',
    slot        text NOT NULL DEFAULT '',
    acquired_on date,
    price_cents bigint CHECK (price_cents >= 0),
    care_from   date NOT NULL, -- where clocks begin that were never restarted
    notes       text NOT NULL DEFAULT '',
    version     integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id),
    CONSTRAINT instrument_tag UNIQUE (school_id, tag)
);

-- Who has an instrument and how it is played meanwhile. Until players are kept, an assignment is a habit without a name.
CREATE TABLE assignment (
    school_id                 uuid NOT NULL,
    id                        uuid NOT NULL,
    instrument_id             uuid NOT NULL,
    starts_on                 date NOT NULL,
    ends_on                   date CHECK (ends_on >= starts_on),
    practice_minutes_per_week double precision NOT NULL CHECK (practice_minutes_per_week BETWEEN 0 AND 10080),
    practice_days_per_week    double precision NOT NULL DEFAULT 5 CHECK (practice_days_per_week BETWEEN 0 AND 7),
    vacation_share            double precision NOT NULL DEFAULT 0.25 CHECK (vacation_share BETWEEN 0 AND 1),
    heavy_sweat               boolean NOT NULL DEFAULT false,
    players                   smallint NOT NULL DEFAULT 1 CHECK (players BETWEEN 1 AND 99),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    CONSTRAINT assignment_overlap EXCLUDE USING gist
        (school_id WITH =, instrument_id WITH =, daterange(starts_on, ends_on, '[]') WITH &&)
);

CREATE TABLE assignment_ensemble (
    school_id     uuid NOT NULL,
    assignment_id uuid NOT NULL,
    ensemble_id   uuid NOT NULL,
    PRIMARY KEY (school_id, assignment_id, ensemble_id),
    FOREIGN KEY (school_id, assignment_id) REFERENCES assignment ON DELETE CASCADE,
    FOREIGN KEY (school_id, ensemble_id) REFERENCES ensemble
);

-- The log. It is only ever added to: the application has no right to change or delete what stands here.
CREATE TABLE event (
    school_id     uuid NOT NULL REFERENCES school,
    id            uuid NOT NULL,
    at            timestamptz NOT NULL,
    person_id     uuid,
    instrument_id uuid,
    what          text NOT NULL,
    detail        jsonb NOT NULL DEFAULT '{}',
    undoes        uuid,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, person_id) REFERENCES person,
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, undoes) REFERENCES event,
    CONSTRAINT event_undone_once UNIQUE (school_id, undoes)
);
CREATE INDEX event_instrument ON event (school_id, instrument_id, at DESC);

-- Care that was done, one row for each clock that it restarted.
CREATE TABLE completion (
    school_id     uuid NOT NULL,
    event_id      uuid NOT NULL,
    instrument_id uuid NOT NULL,
    routine       text NOT NULL,
    part          text NOT NULL,
    done_on       date NOT NULL,
    implied       boolean NOT NULL,
    undone        boolean NOT NULL DEFAULT false,
    PRIMARY KEY (school_id, event_id, routine, part),
    FOREIGN KEY (school_id, event_id) REFERENCES event,
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument
);
CREATE INDEX completion_clock ON completion (school_id, instrument_id, routine, part, done_on DESC) WHERE NOT undone;

-- The latest completion of each clock, kept beside them so that Today need not read years of history.
CREATE TABLE clock (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    routine       text NOT NULL,
    part          text NOT NULL,
    started_on    date NOT NULL,
    PRIMARY KEY (school_id, instrument_id, routine, part),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument
);

-- What was answered to a write, so that the same write sent again after a lost reply gets the same answer.
CREATE TABLE request (
    school_id   uuid NOT NULL,
    id          uuid NOT NULL,
    person_id   uuid NOT NULL,
    operation   text NOT NULL,
    fingerprint bytea NOT NULL,
    response    jsonb NOT NULL,
    at          timestamptz NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
CREATE INDEX request_at ON request (school_id, at);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['instrument', 'assignment', 'assignment_ensemble', 'event', 'completion', 'clock', 'request'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
    REVOKE UPDATE, DELETE ON event FROM solfeggio_app;
    REVOKE DELETE ON completion FROM solfeggio_app;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE request, clock, completion, event, assignment_ensemble, assignment, instrument;
