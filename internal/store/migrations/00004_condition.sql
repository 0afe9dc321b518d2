-- +goose Up
-- Schools of practice, an instrument's own limits, inspections with their findings and photographs, shelves, stocktakes.

-- What a school chose where the trade disagrees; what is not here follows the catalogue's default.
CREATE TABLE practice_choice (
    school_id uuid NOT NULL REFERENCES school,
    practice  text NOT NULL,
    option    text NOT NULL,
    PRIMARY KEY (school_id, practice)
);
INSERT INTO practice_choice (school_id, practice, option) SELECT school_id, 'profile', profile FROM school;
ALTER TABLE school DROP COLUMN profile;

-- Where the heating season turns, as month and day.
ALTER TABLE school
    ADD COLUMN heating_begins text NOT NULL DEFAULT '10-15' CHECK (heating_begins ~ '^[01][0-9]-[0-3][0-9]$'),
    ADD COLUMN heating_ends   text NOT NULL DEFAULT '04-15' CHECK (heating_ends ~ '^[01][0-9]-[0-3][0-9]$');

CREATE TABLE instrument_practice (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    practice      text NOT NULL,
    option        text NOT NULL,
    PRIMARY KEY (school_id, instrument_id, practice),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument
);

CREATE TABLE own_limit (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    routine       text NOT NULL,
    part          text NOT NULL,
    days          double precision CHECK (days > 0),
    playing_hours double precision CHECK (playing_hours > 0),
    sessions      double precision CHECK (sessions > 0),
    PRIMARY KEY (school_id, instrument_id, routine, part),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    CONSTRAINT own_limit_given CHECK (num_nonnulls(days, playing_hours, sessions) > 0)
);

-- A finished walk along an instrument. answers holds what was said at each point, as it was sent.
CREATE TABLE inspection (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    person_id     uuid,
    template      text NOT NULL,
    edition       text NOT NULL,
    began_at      timestamptz NOT NULL,
    ended_at      timestamptz NOT NULL,
    grade         text NOT NULL CHECK (grade IN ('concert', 'class', 'limping', 'silent')),
    answers       jsonb NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
CREATE INDEX inspection_instrument ON inspection (school_id, instrument_id, ended_at DESC);

-- What was found and is open until it is cleared. What it weighs is kept as it was judged on the day.
CREATE TABLE finding (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    inspection_id uuid,
    code          text NOT NULL,
    point         text NOT NULL DEFAULT '',
    severity      smallint NOT NULL CHECK (severity BETWEEN 0 AND 4),
    action        text NOT NULL CHECK (action IN ('none', 'habit', 'director', 'shop', 'shop-now', 'stop')),
    avoidable     boolean NOT NULL,
    touches_tone  boolean NOT NULL,
    measured      double precision,
    note          text NOT NULL DEFAULT '',
    found_at      timestamptz NOT NULL,
    found_by      uuid,
    cleared_at    timestamptz,
    cleared_by    uuid,
    cleared_how   text NOT NULL DEFAULT '',
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, inspection_id) REFERENCES inspection,
    FOREIGN KEY (school_id, found_by) REFERENCES person,
    FOREIGN KEY (school_id, cleared_by) REFERENCES person
);
-- The same thing at the same place is open once, however many people see it.
CREATE UNIQUE INDEX finding_open ON finding (school_id, instrument_id, code, point) WHERE cleared_at IS NULL;
CREATE INDEX finding_instrument ON finding (school_id, instrument_id, found_at DESC);

CREATE TABLE photo (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    finding_id    uuid,
    taken_at      timestamptz NOT NULL,
    person_id     uuid,
    width         integer NOT NULL CHECK (width > 0),
    height        integer NOT NULL CHECK (height > 0),
    full_size     bytea NOT NULL,
    thumbnail     bytea NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, finding_id) REFERENCES finding,
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
CREATE INDEX photo_finding ON photo (school_id, finding_id);

-- A shelf of a rack in a room. Its slots are named by its name and their number: A-01, A-02.
CREATE TABLE shelf (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    room      text NOT NULL CHECK (room <> ''),
    rack      text NOT NULL DEFAULT '',
    name      text NOT NULL CHECK (name ~ '^[A-Za-z0-9]{1,6}$'),
    position  integer NOT NULL DEFAULT 0,
    slots     integer NOT NULL CHECK (slots BETWEEN 1 AND 99),
    version   integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id),
    CONSTRAINT shelf_name UNIQUE (school_id, room, name)
);
-- Shelves that the slots of present instruments speak of.
INSERT INTO shelf (school_id, id, room, name, position, slots)
SELECT school_id, gen_random_uuid(), room, shelf, row_number() OVER (PARTITION BY school_id, room ORDER BY shelf), least(99, max(slot))
FROM (SELECT school_id, room, substring(slot FROM '^([A-Za-z0-9]{1,6})-\d{1,2}$') AS shelf, substring(slot FROM '-(\d{1,2})$')::integer AS slot FROM instrument) AS s
WHERE shelf IS NOT NULL AND room <> '' AND slot > 0
GROUP BY school_id, room, shelf;

CREATE TABLE stocktake (
    school_id  uuid NOT NULL REFERENCES school,
    id         uuid NOT NULL,
    room       text NOT NULL,
    began_at   timestamptz NOT NULL,
    ended_at   timestamptz,
    person_id  uuid,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
CREATE INDEX stocktake_room ON stocktake (school_id, room, began_at DESC);

CREATE TABLE stocktake_scan (
    school_id    uuid NOT NULL,
    stocktake_id uuid NOT NULL,
    tag          text NOT NULL,
    slot         text NOT NULL DEFAULT '',
    at           timestamptz NOT NULL,
    PRIMARY KEY (school_id, stocktake_id, tag),
    FOREIGN KEY (school_id, stocktake_id) REFERENCES stocktake
);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['practice_choice', 'instrument_practice', 'own_limit', 'inspection', 'finding', 'photo', 'shelf', 'stocktake', 'stocktake_scan'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
    REVOKE UPDATE, DELETE ON inspection FROM solfeggio_app;
    REVOKE DELETE ON finding FROM solfeggio_app;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE stocktake_scan, stocktake, shelf, photo, finding, inspection, own_limit, instrument_practice;
ALTER TABLE school DROP COLUMN heating_begins, DROP COLUMN heating_ends, ADD COLUMN profile text NOT NULL DEFAULT 'standard';
UPDATE school SET profile = p.option FROM practice_choice p WHERE p.school_id = school.school_id AND p.practice = 'profile';
DROP TABLE practice_choice;
