-- +goose Up
-- What each write touched of that which processes keep in memory of a school, so that they read only that anew. Triggers note it, so
-- that no way of writing forgets to: an instrument, a player, or with neither the school as a whole. Which revision is being made
-- stands in a setting of the transaction.
CREATE TABLE touched (
    school_id     uuid NOT NULL REFERENCES school,
    revision      bigint NOT NULL,
    instrument_id uuid,
    player_id     uuid,
    CONSTRAINT touched_once UNIQUE NULLS NOT DISTINCT (school_id, revision, instrument_id, player_id)
);

-- +goose StatementBegin
CREATE FUNCTION note_touched() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    of record;
BEGIN
    IF TG_OP = 'DELETE' THEN of := OLD; ELSE of := NEW; END IF;
    INSERT INTO touched (school_id, revision, instrument_id, player_id)
    VALUES (of.school_id, coalesce(nullif(current_setting('solfeggio.revision', true), ''), '0')::bigint,
        CASE TG_ARGV[0] WHEN 'instrument' THEN (to_jsonb(of) ->> TG_ARGV[1])::uuid END,
        CASE TG_ARGV[0] WHEN 'player' THEN (to_jsonb(of) ->> TG_ARGV[1])::uuid END)
    ON CONFLICT DO NOTHING;
    RETURN NULL;
END
$$;

DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['assignment', 'clock', 'instrument_practice', 'own_limit', 'finding', 'hand_over', 'hold', 'kit_fault', 'bench_item', 'rental'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''instrument'', ''instrument_id'')', t);
    END LOOP;
    CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON instrument FOR EACH ROW EXECUTE FUNCTION note_touched('instrument', 'id');
    CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON player FOR EACH ROW EXECUTE FUNCTION note_touched('player', 'id');
    FOREACH t IN ARRAY ARRAY['player_ensemble', 'player_measurement'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''player'', ''player_id'')', t);
    END LOOP;
    FOREACH t IN ARRAY ARRAY['term', 'school_break', 'ensemble', 'rehearsal', 'concert', 'concert_ensemble', 'practice_choice', 'shelf', 'letter', 'rental_price'] LOOP
        EXECUTE format('CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION note_touched(''school'')', t);
    END LOOP;
    CREATE TRIGGER touched AFTER UPDATE ON school FOR EACH ROW
        WHEN ((to_jsonb(OLD) - 'revision') IS DISTINCT FROM (to_jsonb(NEW) - 'revision')) EXECUTE FUNCTION note_touched('school');

    ALTER TABLE touched ENABLE ROW LEVEL SECURITY;
    CREATE POLICY own_school ON touched USING (school_id = (SELECT current_school()));
    GRANT SELECT, INSERT, DELETE ON touched TO solfeggio_app;
END
$$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOR t IN SELECT tgrelid::regclass::text FROM pg_trigger WHERE tgname = 'touched' LOOP
        EXECUTE format('DROP TRIGGER touched ON %s', t);
    END LOOP;
END
$$;
-- +goose StatementEnd
DROP FUNCTION note_touched;
DROP TABLE touched;
