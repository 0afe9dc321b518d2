-- +goose Up
ALTER TABLE player ADD COLUMN reed_strength text NOT NULL DEFAULT ''; -- as the catalogue names it

-- What is agreed and looked at when an instrument goes out and comes back, kits and supplies, letters, rented instruments.

-- An instrument that went back to its owner or left the school otherwise keeps its history and is in no list.
ALTER TABLE instrument
    ADD COLUMN kit_checked_on date,
    ADD COLUMN gone_on date,
    ADD COLUMN gone_how text NOT NULL DEFAULT '';

-- A tag is free again once its instrument is gone: next year's rented cello may carry it.
ALTER TABLE instrument DROP CONSTRAINT instrument_tag;
CREATE UNIQUE INDEX instrument_tag ON instrument (school_id, tag) WHERE gone_on IS NULL;

-- What of a repair a school passes on, and the most it ever asks for.
ALTER TABLE school
    ADD COLUMN charge_share_pct double precision NOT NULL DEFAULT 100 CHECK (charge_share_pct BETWEEN 0 AND 100),
    ADD COLUMN charge_cap_cents bigint CHECK (charge_cap_cents >= 0),
    ADD COLUMN phone text NOT NULL DEFAULT ''; -- for the tag on the handle

-- A stretch in which one player answers for an instrument. Its condition at either end is read from the findings of that time.
CREATE TABLE hand_over (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    player_id     uuid, -- NULL once the player was erased
    given_at      timestamptz NOT NULL,
    given_by      uuid,
    due_back_on   date,
    fit           jsonb NOT NULL DEFAULT '{}', -- the three checks as they came out
    kit           jsonb NOT NULL DEFAULT '{}', -- what was not in order in the kit, by supply
    terms         text NOT NULL DEFAULT '', -- as agreed, with places for names, so that they can be forgotten
    signed_how    text NOT NULL DEFAULT '' CHECK (signed_how IN ('', 'screen', 'paper')),
    signed_by     text NOT NULL DEFAULT '',
    signed_at     timestamptz,
    signature     jsonb, -- strokes of points, 0 to 1000 across and down
    returned_at   timestamptz CHECK (returned_at >= given_at),
    returned_by   uuid,
    return_kit    jsonb NOT NULL DEFAULT '{}',
    reported      text NOT NULL DEFAULT '',
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, player_id) REFERENCES player,
    FOREIGN KEY (school_id, given_by) REFERENCES person,
    FOREIGN KEY (school_id, returned_by) REFERENCES person,
    CONSTRAINT hand_over_signed CHECK ((signed_how = '') = (signed_at IS NULL))
);
CREATE UNIQUE INDEX hand_over_open ON hand_over (school_id, instrument_id) WHERE returned_at IS NULL;
CREATE INDEX hand_over_player ON hand_over (school_id, player_id) WHERE player_id IS NOT NULL;
-- Instruments that are out already were handed over at the start of the day on which that began.
INSERT INTO hand_over (school_id, id, instrument_id, player_id, given_at)
SELECT school_id, gen_random_uuid(), instrument_id, player_id, starts_on
FROM assignment WHERE player_id IS NOT NULL AND ends_on IS NULL;

ALTER TABLE photo ADD COLUMN hand_over_id uuid, ADD FOREIGN KEY (school_id, hand_over_id) REFERENCES hand_over;

-- Why an instrument waits and goes into nobody's hands, until somebody ends it.
CREATE TABLE hold (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    because       text NOT NULL CHECK (because <> ''),
    began_at      timestamptz NOT NULL,
    began_by      uuid,
    ended_at      timestamptz,
    ended_by      uuid,
    how           text NOT NULL DEFAULT '',
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, began_by) REFERENCES person,
    FOREIGN KEY (school_id, ended_by) REFERENCES person
);
CREATE UNIQUE INDEX hold_open ON hold (school_id, instrument_id) WHERE ended_at IS NULL;

-- What a player is asked to pay; a person decided, whatever was proposed.
CREATE TABLE charge (
    school_id      uuid NOT NULL,
    id             uuid NOT NULL,
    hand_over_id   uuid NOT NULL,
    repair_cents   bigint NOT NULL CHECK (repair_cents >= 0),
    proposed_cents bigint NOT NULL CHECK (proposed_cents >= 0),
    amount_cents   bigint NOT NULL CHECK (amount_cents >= 0),
    reason         text NOT NULL DEFAULT '',
    decided_at     timestamptz NOT NULL,
    decided_by     uuid,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, hand_over_id) REFERENCES hand_over,
    FOREIGN KEY (school_id, decided_by) REFERENCES person,
    CONSTRAINT charge_once UNIQUE (school_id, hand_over_id)
);

-- What is not in order in a kit. What is there has no row.
CREATE TABLE kit_fault (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    supply        text NOT NULL,
    state         text NOT NULL CHECK (state IN ('low', 'wet', 'missing')),
    noted_at      timestamptz NOT NULL,
    noted_by      uuid,
    PRIMARY KEY (school_id, instrument_id, supply),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, noted_by) REFERENCES person
);

-- How a school buys a supply; what has no row is bought in the catalogue's usual pack.
CREATE TABLE supply_setting (
    school_id        uuid NOT NULL REFERENCES school,
    supply           text NOT NULL,
    size             text NOT NULL DEFAULT '',
    supplier         text NOT NULL DEFAULT '',
    pack_size        double precision NOT NULL CHECK (pack_size > 0),
    pack_price_cents bigint CHECK (pack_price_cents >= 0),
    lead_weeks       double precision NOT NULL CHECK (lead_weeks BETWEEN 0 AND 104),
    version          integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, supply, size)
);

CREATE TABLE supply_lot (
    school_id   uuid NOT NULL REFERENCES school,
    id          uuid NOT NULL,
    supply      text NOT NULL,
    size        text NOT NULL DEFAULT '',
    lot         text NOT NULL DEFAULT '',
    expires_on  date,
    received_on date NOT NULL,
    quantity    double precision NOT NULL CHECK (quantity > 0),
    remaining   double precision NOT NULL,
    PRIMARY KEY (school_id, id),
    CONSTRAINT supply_lot_remaining CHECK (remaining BETWEEN 0 AND quantity)
);
CREATE INDEX supply_lot_left ON supply_lot (school_id, supply, size) WHERE remaining > 0;

CREATE TABLE supply_order (
    school_id   uuid NOT NULL REFERENCES school,
    id          uuid NOT NULL,
    supplier    text NOT NULL,
    placed_on   date NOT NULL,
    placed_by   uuid,
    expected_on date,
    closed_on   date,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, placed_by) REFERENCES person
);

CREATE TABLE supply_order_line (
    school_id        uuid NOT NULL,
    order_id         uuid NOT NULL,
    supply           text NOT NULL,
    size             text NOT NULL DEFAULT '',
    packs            integer NOT NULL CHECK (packs > 0),
    pack_size        double precision NOT NULL CHECK (pack_size > 0),
    pack_price_cents bigint CHECK (pack_price_cents >= 0),
    received_packs   integer NOT NULL DEFAULT 0 CHECK (received_packs >= 0),
    PRIMARY KEY (school_id, order_id, supply, size),
    FOREIGN KEY (school_id, order_id) REFERENCES supply_order
);

-- The school's own wording of agreements and notices; what has no row is worded as the program does.
CREATE TABLE letter (
    school_id uuid NOT NULL REFERENCES school,
    key       text NOT NULL,
    wording   text NOT NULL,
    version   integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, key)
);

-- The simulated outbox: what would have been sent. Nothing leaves.
CREATE TABLE notice (
    school_id     uuid NOT NULL REFERENCES school,
    id            uuid NOT NULL,
    letter        text NOT NULL,
    about         text NOT NULL, -- what it is about; nothing is written twice about the same
    player_id     uuid,
    instrument_id uuid,
    addressed_to  text NOT NULL,
    subject       text NOT NULL,
    body          text NOT NULL,
    sent_at       timestamptz NOT NULL,
    sent_by       uuid,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player ON DELETE CASCADE,
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument,
    FOREIGN KEY (school_id, sent_by) REFERENCES person,
    CONSTRAINT notice_once UNIQUE (school_id, about)
);

CREATE TABLE rental (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    instrument_id uuid NOT NULL,
    owner         text NOT NULL CHECK (owner <> ''),
    contact       text NOT NULL DEFAULT '',
    contract      text NOT NULL DEFAULT '',
    starts_on     date NOT NULL,
    return_by     date CHECK (return_by >= starts_on),
    monthly_cents bigint CHECK (monthly_cents >= 0),
    ended_on      date,
    version       integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument
);
CREATE UNIQUE INDEX rental_running ON rental (school_id, instrument_id) WHERE ended_on IS NULL;

-- What an instrument costs to rent, for the rental order.
CREATE TABLE rental_price (
    school_id     uuid NOT NULL REFERENCES school,
    kind          text NOT NULL,
    size          text NOT NULL DEFAULT '',
    monthly_cents bigint NOT NULL CHECK (monthly_cents >= 0),
    PRIMARY KEY (school_id, kind, size)
);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['hand_over', 'hold', 'charge', 'kit_fault', 'supply_setting', 'supply_lot', 'supply_order', 'supply_order_line',
        'letter', 'notice', 'rental', 'rental_price'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
    REVOKE DELETE ON supply_lot, supply_order FROM solfeggio_app;
END
$$;
-- +goose StatementEnd

-- +goose Down
ALTER TABLE player DROP COLUMN reed_strength;
DROP TABLE rental_price, rental, notice, letter, supply_order_line, supply_order, supply_lot, supply_setting, kit_fault, charge, hold;
ALTER TABLE photo DROP COLUMN hand_over_id;
DROP TABLE hand_over;
ALTER TABLE school DROP COLUMN charge_share_pct, DROP COLUMN charge_cap_cents, DROP COLUMN phone;
DROP INDEX instrument_tag;
ALTER TABLE instrument ADD CONSTRAINT instrument_tag UNIQUE (school_id, tag);
ALTER TABLE instrument DROP COLUMN kit_checked_on, DROP COLUMN gone_on, DROP COLUMN gone_how;
