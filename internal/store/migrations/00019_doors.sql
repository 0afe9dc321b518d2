-- +goose Up
-- Devices on which somebody has signed in before: guesses of others elsewhere do not lock them out there. Only a digest is kept.
CREATE TABLE known_device (
    school_id uuid NOT NULL,
    person_id uuid NOT NULL,
    digest    bytea NOT NULL,
    seen_on   date NOT NULL,
    PRIMARY KEY (school_id, person_id, digest),
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
ALTER TABLE known_device ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON known_device USING (school_id = (SELECT current_school()));
GRANT SELECT, INSERT, UPDATE, DELETE ON known_device TO solfeggio_app;

-- +goose StatementBegin
CREATE FUNCTION device_known(wanted citext, device bytea) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public
AS $$
    SELECT EXISTS (SELECT FROM known_device d JOIN person p ON (p.school_id, p.id) = (d.school_id, d.person_id) WHERE p.email = wanted AND d.digest = device)
$$;
-- +goose StatementEnd

-- A session can be shown to whose it is, and ended.
ALTER TABLE sessions
    ADD COLUMN id uuid NOT NULL DEFAULT gen_random_uuid(),
    ADD COLUMN began_at timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN device text NOT NULL DEFAULT '';

-- What is asked before a school is known is for the application alone, and not for whoever may connect.
-- +goose StatementBegin
DO $$
DECLARE f regprocedure;
BEGIN
    FOR f IN SELECT p.oid::regprocedure FROM pg_proc p WHERE p.pronamespace = 'public'::regnamespace AND p.prosecdef LOOP
        EXECUTE format('REVOKE ALL ON FUNCTION %s FROM PUBLIC', f);
        EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO solfeggio_app', f);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
ALTER TABLE sessions DROP COLUMN id, DROP COLUMN began_at, DROP COLUMN device;
DROP FUNCTION device_known;
DROP TABLE known_device;
