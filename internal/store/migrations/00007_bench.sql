-- +goose Up
-- What the school disinfects with, and the work at the bench.

-- A product as its label has it. What is in stock of it lies in the lots of its supply.
CREATE TABLE product (
    school_id       uuid NOT NULL REFERENCES school,
    id              uuid NOT NULL,
    name            text NOT NULL CHECK (name <> ''),
    product_group   text NOT NULL,
    strength_pct    double precision CHECK (strength_pct > 0 AND strength_pct <= 100),
    contact_minutes integer NOT NULL CHECK (contact_minutes BETWEEN 1 AND 1440),
    registered_use  text NOT NULL DEFAULT '',
    surfaces        text[] NOT NULL CHECK (cardinality(surfaces) > 0),
    hazards         text NOT NULL DEFAULT '',
    safety_sheet    text NOT NULL DEFAULT '',
    supply          text NOT NULL,
    retired         boolean NOT NULL DEFAULT false,
    version         integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);
CREATE UNIQUE INDEX product_name ON product (school_id, lower(name)) WHERE NOT retired;

-- The safety sheet of a product, a PDF.
CREATE TABLE product_sheet (
    school_id  uuid NOT NULL,
    product_id uuid NOT NULL,
    pdf        bytea NOT NULL,
    kept_at    timestamptz NOT NULL,
    kept_by    uuid,
    PRIMARY KEY (school_id, product_id),
    FOREIGN KEY (school_id, product_id) REFERENCES product,
    FOREIGN KEY (school_id, kept_by) REFERENCES person
);

-- A hold that ends later than it is ended: until then the instrument dries or rests.
CREATE INDEX hold_resting ON hold (school_id, ended_at) WHERE ended_at IS NOT NULL;

-- The vessel in which mouthpieces soak; NULL while nobody has measured it.
ALTER TABLE school ADD COLUMN soak_vessel jsonb;

CREATE TABLE bench_run (
    school_id uuid NOT NULL,
    id        uuid NOT NULL,
    began_at  timestamptz NOT NULL,
    began_by  uuid,
    ended_at  timestamptz,
    people    integer NOT NULL CHECK (people BETWEEN 1 AND 50),
    stations  jsonb NOT NULL,
    finish_by timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, began_by) REFERENCES person
);
CREATE INDEX bench_run_open ON bench_run (school_id) WHERE ended_at IS NULL;

CREATE TABLE bench_item (
    school_id     uuid NOT NULL,
    run_id        uuid NOT NULL,
    instrument_id uuid NOT NULL,
    position      integer NOT NULL,
    reason        text NOT NULL,
    routine       text NOT NULL,
    rest_hours    integer NOT NULL CHECK (rest_hours >= 0),
    finished_at   timestamptz,
    free_at       timestamptz, -- when its drying or rest is over; NULL where it stays held
    taken_off     text NOT NULL DEFAULT '', -- why it left the bench unfinished
    PRIMARY KEY (school_id, run_id, instrument_id),
    FOREIGN KEY (school_id, run_id) REFERENCES bench_run,
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    CONSTRAINT bench_item_ends_once CHECK (finished_at IS NULL OR taken_off = '')
);
CREATE UNIQUE INDEX bench_item_open ON bench_item (school_id, instrument_id) WHERE finished_at IS NULL AND taken_off = '';
CREATE INDEX bench_item_finished ON bench_item (school_id, finished_at) WHERE finished_at IS NOT NULL;

-- A step as it was when the work began. begun_at is when its active part was over and its surface wet; done_at ends its waiting.
CREATE TABLE bench_step (
    school_id         uuid NOT NULL,
    run_id            uuid NOT NULL,
    instrument_id     uuid NOT NULL,
    n                 integer NOT NULL,
    name              text NOT NULL,
    instruction       text NOT NULL,
    reason            text NOT NULL,
    caution           text NOT NULL,
    gloves            text NOT NULL,
    gate              text NOT NULL,
    station           text NOT NULL,
    active_minutes    integer NOT NULL CHECK (active_minutes >= 0),
    wait_minutes      integer NOT NULL CHECK (wait_minutes >= 0),
    most_wait_minutes integer CHECK (most_wait_minutes >= wait_minutes),
    held              boolean NOT NULL,
    surface           text NOT NULL,
    product_id        uuid,
    contact_minutes   integer NOT NULL,
    lot               text NOT NULL,
    planned_at        timestamptz,
    planned_person    integer,
    planned_station   integer,
    begun_at          timestamptz,
    begun_by          uuid,
    done_at           timestamptz,
    done_by           uuid,
    override          text NOT NULL DEFAULT '', -- why somebody did not wait
    PRIMARY KEY (school_id, run_id, instrument_id, n),
    FOREIGN KEY (school_id, run_id, instrument_id) REFERENCES bench_item,
    FOREIGN KEY (school_id, product_id) REFERENCES product,
    FOREIGN KEY (school_id, begun_by) REFERENCES person,
    FOREIGN KEY (school_id, done_by) REFERENCES person,
    CONSTRAINT bench_step_order CHECK (done_at IS NULL OR begun_at IS NOT NULL)
);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['product', 'product_sheet', 'bench_run', 'bench_item', 'bench_step'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE ON %I TO solfeggio_app', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP TABLE bench_step, bench_item, bench_run, product_sheet, product;
ALTER TABLE school DROP COLUMN soak_vessel;
DROP INDEX hold_resting;
