-- +goose Up
-- Repair shops, the jobs that they are given, and the trips on which instruments ride there.
CREATE TABLE shop (
    school_id     uuid NOT NULL REFERENCES school,
    id            uuid NOT NULL,
    name          text NOT NULL CHECK (name <> ''),
    trades        jsonb NOT NULL, -- keys of the catalogue
    way           text NOT NULL CHECK (way IN ('message', 'service')), -- how it takes work; service is the simulated one
    address       text NOT NULL DEFAULT '',
    phone         text NOT NULL DEFAULT '',
    open_days     jsonb NOT NULL, -- ISO weekdays; empty when that is not known
    promise_days  integer CHECK (promise_days > 0),
    warranty_days integer NOT NULL DEFAULT 0 CHECK (warranty_days >= 0),
    notes         text NOT NULL DEFAULT '',
    left_on       date, -- since when the school gives it nothing more
    version       integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);
CREATE UNIQUE INDEX shop_name ON shop (school_id, lower(name)) WHERE left_on IS NULL;

CREATE TABLE shop_trip (
    school_id   uuid NOT NULL REFERENCES school,
    id          uuid NOT NULL,
    on_day      date NOT NULL,
    driver      text NOT NULL DEFAULT '',
    places      integer NOT NULL CHECK (places > 0),
    fixed_cents bigint NOT NULL DEFAULT 0 CHECK (fixed_cents >= 0),
    note        text NOT NULL DEFAULT '',
    driven_at   timestamptz,
    version     integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);
CREATE UNIQUE INDEX shop_trip_day ON shop_trip (school_id, on_day);

-- A job is open until it is closed or called off; an instrument has one open job.
CREATE TABLE shop_job (
    school_id      uuid NOT NULL,
    id             uuid NOT NULL,
    instrument_id  uuid NOT NULL,
    shop_id        uuid,
    state          text NOT NULL CHECK (state IN ('wanted', 'asked', 'quoted', 'agreed', 'booked', 'away', 'back', 'closed', 'called-off')),
    origin         text NOT NULL CHECK (origin IN ('finding', 'care', 'diagnosis', 'rehair', 'hand')),
    asks           text NOT NULL DEFAULT '', -- in the school's words, beside its lines
    not_wanted     text NOT NULL DEFAULT '',
    decides        text NOT NULL DEFAULT '',
    reference      text NOT NULL DEFAULT '', -- the shop's own
    wanted_on      date NOT NULL,
    asked_on       date,
    agreed_cents   bigint CHECK (agreed_cents >= 0),
    trip_id        uuid,
    fetched_on     date, -- the day on which the shop fetches it
    sent_on        date,
    expected_on    date, -- back by
    back_on        date CHECK (back_on >= sent_on),
    closed_on      date,
    ready_on       date, -- since when the shop says that it can be fetched
    told           jsonb, -- what the simulated shop said last
    real_cents     bigint CHECK (real_cents >= 0),
    warranty_until date,
    ended_how      text NOT NULL DEFAULT '',
    player_id      uuid, -- in whose hands it was when it was sent
    habit          jsonb, -- how it was played
    loaner_id      uuid, -- what was lent instead
    version        integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, loaner_id) REFERENCES instrument,
    FOREIGN KEY (school_id, shop_id) REFERENCES shop,
    FOREIGN KEY (school_id, trip_id) REFERENCES shop_trip,
    FOREIGN KEY (school_id, player_id) REFERENCES player ON DELETE SET NULL (player_id),
    CONSTRAINT shop_job_sent CHECK (state NOT IN ('away', 'back') OR (sent_on IS NOT NULL AND expected_on IS NOT NULL AND shop_id IS NOT NULL)),
    CONSTRAINT shop_job_booked CHECK (state <> 'booked' OR trip_id IS NOT NULL OR fetched_on IS NOT NULL)
);
CREATE UNIQUE INDEX shop_job_open ON shop_job (school_id, instrument_id) WHERE state NOT IN ('closed', 'called-off');
CREATE INDEX shop_job_trip ON shop_job (school_id, trip_id);

CREATE TABLE shop_job_line (
    school_id        uuid NOT NULL,
    job_id           uuid NOT NULL,
    instrument_id    uuid NOT NULL,
    place            smallint NOT NULL,
    work             text NOT NULL DEFAULT '', -- key of a repair in the catalogue; empty for one in the school's words
    words            text NOT NULL DEFAULT '',
    finding_id       uuid,
    routine          text NOT NULL DEFAULT '',
    part             text NOT NULL DEFAULT '',
    expected_cents   bigint CHECK (expected_cents >= 0),
    expected_minutes integer CHECK (expected_minutes >= 0),
    real_cents       bigint CHECK (real_cents >= 0),
    outcome          text NOT NULL DEFAULT '' CHECK (outcome IN ('', 'mended', 'not mended')),
    PRIMARY KEY (school_id, job_id, place),
    FOREIGN KEY (school_id, job_id) REFERENCES shop_job ON DELETE CASCADE,
    FOREIGN KEY (school_id, finding_id) REFERENCES finding,
    CHECK (work <> '' OR words <> '')
);

CREATE TABLE shop_quote (
    school_id   uuid NOT NULL,
    id          uuid NOT NULL,
    job_id      uuid NOT NULL,
    given_at    timestamptz NOT NULL,
    valid_until date,
    total_cents bigint NOT NULL CHECK (total_cents >= 0),
    lines       jsonb NOT NULL DEFAULT '[]',
    note        text NOT NULL DEFAULT '',
    by_service  boolean NOT NULL DEFAULT false,
    decision    text NOT NULL DEFAULT '' CHECK (decision IN ('', 'accepted', 'refused', 'overtaken')),
    decided_at  timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, job_id) REFERENCES shop_job ON DELETE CASCADE
);
CREATE INDEX shop_quote_job ON shop_quote (school_id, job_id);
CREATE UNIQUE INDEX shop_quote_open ON shop_quote (school_id, job_id) WHERE decision = '';


-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['shop', 'shop_trip', 'shop_job', 'shop_job_line', 'shop_quote'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
    FOREACH t IN ARRAY ARRAY['shop_job', 'shop_job_line'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''instrument'', ''instrument_id'')', t);
    END LOOP;
    FOREACH t IN ARRAY ARRAY['shop', 'shop_trip'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''school'')', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE shop_quote, shop_job_line, shop_job, shop_trip, shop;
