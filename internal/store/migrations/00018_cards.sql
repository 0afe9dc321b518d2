-- +goose Up
-- The players' own part: care cards with their addresses, what players report, how drills went, packing up together. Nothing here names
-- a player.
CREATE TABLE card (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    secret        text NOT NULL CHECK (length(secret) >= 22), -- kept as it is, so that a card can be printed again
    made_on       date NOT NULL,
    PRIMARY KEY (school_id, instrument_id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument ON DELETE CASCADE
);
CREATE UNIQUE INDEX card_secret ON card (secret); -- asked before the school is known

CREATE TABLE report (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    symptom       text NOT NULL,
    plays         text NOT NULL CHECK (plays IN ('yes', 'badly', 'no')),
    reported_at   timestamptz NOT NULL,
    said          integer NOT NULL DEFAULT 1 CHECK (said > 0), -- how often, while it is open
    photo_id      uuid,
    state         text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'found', 'answered')),
    finding_id    uuid,
    answer        text NOT NULL DEFAULT '',
    settled_at    timestamptz,
    settled_by    uuid,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, photo_id) REFERENCES photo,
    FOREIGN KEY (school_id, finding_id) REFERENCES finding,
    FOREIGN KEY (school_id, settled_by) REFERENCES person,
    CHECK ((state = 'open') = (settled_at IS NULL))
);
-- The same said twice is one report, so that a flood of one card is one line.
CREATE UNIQUE INDEX report_open ON report (school_id, instrument_id, symptom) WHERE state = 'open';
CREATE INDEX report_instrument ON report (school_id, instrument_id, reported_at);

-- Tries to report, to slow them down. It is read before the school is known and stands outside the walls, like sign_in_attempt.
CREATE TABLE report_try (
    secret text NOT NULL,
    origin text NOT NULL,
    at     timestamptz NOT NULL
);
CREATE INDEX report_try_secret ON report_try (secret, at);
CREATE INDEX report_try_origin ON report_try (origin, at);

CREATE TABLE drill_count (
    school_id   uuid NOT NULL REFERENCES school,
    on_day      date NOT NULL,
    kind        text NOT NULL,
    ensemble_id uuid NOT NULL, -- of a class; all zeros for players by themselves
    habit       text NOT NULL,
    right_count integer NOT NULL DEFAULT 0,
    wrong_count integer NOT NULL DEFAULT 0,
    PRIMARY KEY (school_id, on_day, kind, ensemble_id, habit)
);

CREATE TABLE drill_box (
    school_id   uuid NOT NULL,
    ensemble_id uuid NOT NULL,
    kind        text NOT NULL,
    question    text NOT NULL,
    number      integer NOT NULL CHECK (number BETWEEN 1 AND 5),
    due_on      date NOT NULL,
    PRIMARY KEY (school_id, ensemble_id, kind, question),
    FOREIGN KEY (school_id, ensemble_id) REFERENCES ensemble ON DELETE CASCADE
);

CREATE TABLE pack_up (
    school_id   uuid NOT NULL,
    ensemble_id uuid NOT NULL,
    id          uuid NOT NULL,
    phase       text NOT NULL CHECK (phase IN ('set-up', 'pack-up')),
    ends_at     timestamptz NOT NULL, -- the bell
    ready       jsonb NOT NULL DEFAULT '[]', -- sections
    PRIMARY KEY (school_id, ensemble_id),
    FOREIGN KEY (school_id, ensemble_id) REFERENCES ensemble ON DELETE CASCADE
);

-- +goose StatementBegin
CREATE FUNCTION card_instrument(wanted text)
    RETURNS TABLE (school_id uuid, instrument_id uuid, revision bigint)
    LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public
AS $$
    SELECT c.school_id, c.instrument_id, s.revision FROM card c JOIN school s USING (school_id) WHERE c.secret = wanted
$$;
-- +goose StatementEnd

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['card', 'report', 'drill_count', 'drill_box', 'pack_up'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
END
$$;
-- +goose StatementEnd
GRANT SELECT, INSERT, DELETE ON report_try TO solfeggio_app;
CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON report FOR EACH ROW EXECUTE FUNCTION note_touched('instrument', 'instrument_id');

-- +goose Down
DROP FUNCTION card_instrument;
DROP TABLE pack_up, drill_box, drill_count, report_try, report, card;
