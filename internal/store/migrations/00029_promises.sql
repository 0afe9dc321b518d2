-- +goose Up
-- A free instrument that is promised to a player by name until a day: nobody else is offered it, and no door lets it out to another.
CREATE TABLE promise (
    school_id     uuid NOT NULL,
    instrument_id uuid NOT NULL,
    player_id     uuid NOT NULL,
    until         date NOT NULL,
    PRIMARY KEY (school_id, instrument_id), -- to one at a time
    FOREIGN KEY (school_id, instrument_id) REFERENCES instrument ON DELETE CASCADE,
    FOREIGN KEY (school_id, player_id) REFERENCES player ON DELETE CASCADE
);
CREATE INDEX promise_player ON promise (school_id, player_id);
ALTER TABLE promise ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON promise USING (school_id = (SELECT current_school()));
GRANT SELECT, INSERT, UPDATE, DELETE ON promise TO solfeggio_app;
CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON promise FOR EACH ROW EXECUTE FUNCTION note_touched('instrument', 'instrument_id');
-- Who comes first to a free instrument: whoever cannot play their own, or players who have none.
ALTER TABLE school ADD COLUMN served_first text NOT NULL DEFAULT 'playing' CHECK (served_first IN ('playing', 'without'));

-- +goose Down
ALTER TABLE school DROP COLUMN served_first;
DROP TABLE promise;
