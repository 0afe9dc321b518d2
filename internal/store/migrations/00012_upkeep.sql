-- +goose Up
-- Parts that are put in place of others, reeds, and the work that is planned for them.
--
-- Each string, each bow's hair and each rosin cake has a life: put on, used up for a reason. Lives of a part follow one another without
-- a gap, the last one is open. What came of care that was ticked off before there were lives is told by the completions.
CREATE TABLE part_life (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    part          text NOT NULL,
    put_on        date NOT NULL,
    product       text NOT NULL DEFAULT '',
    tension       text NOT NULL DEFAULT '',
    end_kind      text NOT NULL DEFAULT '' CHECK (end_kind IN ('', 'ball', 'loop')),
    ended_on      date CHECK (ended_on >= put_on),
    cause         text NOT NULL DEFAULT '', -- why it ended; empty while it lasts, or when nobody said
    begun_by      uuid NOT NULL,
    ended_by      uuid,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, begun_by) REFERENCES event,
    FOREIGN KEY (school_id, ended_by) REFERENCES event,
    CONSTRAINT part_life_ended CHECK ((ended_on IS NULL) = (ended_by IS NULL))
);
CREATE UNIQUE INDEX part_life_open ON part_life (school_id, instrument_id, part) WHERE ended_on IS NULL;
CREATE INDEX part_life_begun ON part_life (school_id, begun_by);

INSERT INTO part_life (school_id, id, instrument_id, part, put_on, ended_on, begun_by, ended_by)
SELECT school_id, gen_random_uuid(), instrument_id, part, done_on,
    lead(done_on) OVER one, event_id, lead(event_id) OVER one
FROM completion
WHERE NOT undone AND routine IN ('violin-strings', 'viola-strings', 'cello-strings', 'bass-strings', 'bow-rehair', 'rosin-cake')
WINDOW one AS (PARTITION BY school_id, instrument_id, part ORDER BY done_on, event_id);

-- What a bow is worth, so that new hair can be weighed against a new bow; empty while nobody said.
ALTER TABLE instrument ADD bow_value_cents bigint CHECK (bow_value_cents >= 0);
ALTER TABLE school ADD rehair_cents bigint CHECK (rehair_cents >= 0);

-- What was accepted of a plan: a part is renewed on a day.
CREATE TABLE planned_change (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    part          text NOT NULL,
    on_day        date NOT NULL,
    PRIMARY KEY (school_id, instrument_id, part),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument
);

-- How often parts of a kind of instrument are renewed, learned from their lives here and accepted by somebody.
CREATE TABLE learned_interval (
    school_id    uuid NOT NULL REFERENCES school,
    kind         text NOT NULL,
    routine      text NOT NULL,
    days         double precision NOT NULL CHECK (days > 0),
    observations integer NOT NULL CHECK (observations > 0),
    PRIMARY KEY (school_id, kind, routine)
);

-- The reeds of a player's box.
CREATE TABLE reed (
    school_id uuid NOT NULL,
    id        uuid NOT NULL,
    player_id uuid NOT NULL,
    supply    text NOT NULL,
    strength  text NOT NULL DEFAULT '',
    synthetic boolean NOT NULL DEFAULT false,
    place     smallint NOT NULL CHECK (place BETWEEN 1 AND 12), -- in the holder
    opened_on date NOT NULL,
    ended_on  date CHECK (ended_on >= opened_on),
    cause     text NOT NULL DEFAULT '',
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player ON DELETE CASCADE,
    CONSTRAINT reed_ended CHECK ((ended_on IS NULL) = (cause = ''))
);
CREATE UNIQUE INDEX reed_place ON reed (school_id, player_id, place) WHERE ended_on IS NULL;

-- The school's own break-in of a reed, in place of the catalogue's.
CREATE TABLE break_in (
    school_id uuid NOT NULL REFERENCES school,
    supply    text NOT NULL,
    minutes   double precision[] NOT NULL CHECK (cardinality(minutes) BETWEEN 1 AND 30),
    PRIMARY KEY (school_id, supply)
);

-- The secret address under which a calendar program reads what is planned. Only a digest is kept. It is asked for before the school is
-- known, through a function that tells nothing but the school.
CREATE TABLE calendar_feed (
    school_id  uuid NOT NULL REFERENCES school,
    digest     bytea NOT NULL,
    created_at timestamptz NOT NULL,
    PRIMARY KEY (school_id)
);
CREATE UNIQUE INDEX calendar_feed_digest ON calendar_feed (digest);

-- +goose StatementBegin
CREATE FUNCTION school_of_feed(wanted bytea) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public
AS $$
    SELECT school_id FROM calendar_feed WHERE digest = wanted
$$;
REVOKE EXECUTE ON FUNCTION school_of_feed FROM PUBLIC;
GRANT EXECUTE ON FUNCTION school_of_feed TO solfeggio_app;

DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['part_life', 'planned_change', 'learned_interval', 'reed', 'break_in', 'calendar_feed'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
    FOREACH t IN ARRAY ARRAY['part_life', 'planned_change'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''instrument'', ''instrument_id'')', t);
    END LOOP;
    CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON reed FOR EACH ROW EXECUTE FUNCTION note_touched('player', 'player_id');
    FOREACH t IN ARRAY ARRAY['learned_interval', 'break_in'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''school'')', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP FUNCTION school_of_feed;
DROP TABLE calendar_feed, break_in, reed, learned_interval, planned_change, part_life;
ALTER TABLE school DROP rehair_cents;
ALTER TABLE instrument DROP bow_value_cents;
