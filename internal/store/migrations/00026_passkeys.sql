-- +goose Up
-- Passkeys of the people of a school (W3C Web Authentication): public keys, with which a device shows that it is theirs. A school that asks
-- for a second factor is content with one.
CREATE TABLE passkey (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    person_id  uuid NOT NULL,
    name       text NOT NULL CHECK (name <> '' AND length(name) <= 100),
    device     bytea NOT NULL, -- the credential's own id
    credential jsonb NOT NULL,
    added_on   date NOT NULL,
    used_on    date,
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, device),
    FOREIGN KEY (school_id, person_id) REFERENCES person ON DELETE CASCADE
);
CREATE INDEX passkey_of ON passkey (school_id, person_id);
ALTER TABLE passkey ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON passkey USING (school_id = (SELECT current_school()));
GRANT SELECT, INSERT, UPDATE, DELETE ON passkey TO solfeggio_app;

-- +goose StatementBegin
CREATE OR REPLACE FUNCTION signed_in(wanted text, moment timestamptz)
    RETURNS TABLE (data bytea, school_id uuid, person_id uuid, name text, role text, revision bigint, lacks_factor boolean)
    LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public -- which keeps the plan, as a function in SQL would not
AS $$
#variable_conflict use_column
BEGIN
    RETURN QUERY SELECT s.data, p.school_id, p.id, p.name, p.role, c.revision,
        (c.second_factor = 'everybody' OR c.second_factor = 'directors' AND p.role = 'director')
            AND NOT EXISTS (SELECT FROM second_factor f WHERE (f.school_id, f.person_id) = (p.school_id, p.id))
            AND NOT EXISTS (SELECT FROM passkey k WHERE (k.school_id, k.person_id) = (p.school_id, p.id))
    FROM sessions s
    LEFT JOIN person p ON p.school_id = s.school_id AND p.id = s.person_id AND p.active
    LEFT JOIN school c ON c.school_id = p.school_id
    WHERE s.token = wanted AND s.expiry > moment;
END
$$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION signed_in(wanted text, moment timestamptz)
    RETURNS TABLE (data bytea, school_id uuid, person_id uuid, name text, role text, revision bigint, lacks_factor boolean)
    LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public
AS $$
#variable_conflict use_column
BEGIN
    RETURN QUERY SELECT s.data, p.school_id, p.id, p.name, p.role, c.revision,
        (c.second_factor = 'everybody' OR c.second_factor = 'directors' AND p.role = 'director')
            AND NOT EXISTS (SELECT FROM second_factor f WHERE (f.school_id, f.person_id) = (p.school_id, p.id))
    FROM sessions s
    LEFT JOIN person p ON p.school_id = s.school_id AND p.id = s.person_id AND p.active
    LEFT JOIN school c ON c.school_id = p.school_id
    WHERE s.token = wanted AND s.expiry > moment;
END
$$;
-- +goose StatementEnd
DROP TABLE passkey;
