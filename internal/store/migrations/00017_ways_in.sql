-- +goose Up
-- Ways in beside a password: a link by which somebody chooses a new one, and keys with which a script signs in as a person. Of both
-- only a digest is kept.
CREATE TABLE password_link (
    school_id  uuid NOT NULL,
    person_id  uuid NOT NULL,
    digest     bytea NOT NULL,
    expires_at timestamptz NOT NULL,
    used       boolean NOT NULL DEFAULT false, -- kept, so that a press that got no answer can be repeated
    PRIMARY KEY (school_id, person_id),
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
CREATE UNIQUE INDEX password_link_digest ON password_link (digest); -- asked before the school is known

CREATE TABLE access_key (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    person_id    uuid NOT NULL,
    name         text NOT NULL CHECK (name <> ''),
    role         text NOT NULL CHECK (role IN ('director', 'assistant', 'helper', 'viewer')),
    digest       bytea NOT NULL,
    made_on      date NOT NULL,
    ends_on      date NOT NULL, -- the last day
    last_used_on date,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, person_id) REFERENCES person
);
CREATE UNIQUE INDEX access_key_digest ON access_key (digest); -- asked before the school is known

-- +goose StatementBegin
CREATE FUNCTION password_link_holder(wanted bytea, moment timestamptz)
    RETURNS TABLE (school_id uuid, id uuid, name text, email citext, password_hash text, used boolean)
    LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public
AS $$
    SELECT p.school_id, p.id, p.name, p.email, p.password_hash, l.used FROM password_link l JOIN person p ON (p.school_id, p.id) = (l.school_id, l.person_id)
    WHERE l.digest = wanted AND l.expires_at > moment AND p.active
$$;
-- +goose StatementEnd

-- +goose StatementBegin
-- A key may do what both its own role and that of its person may.
CREATE FUNCTION access_key_holder(wanted bytea, moment timestamptz)
    RETURNS TABLE (school_id uuid, person_id uuid, name text, role text, key_role text, revision bigint)
    LANGUAGE plpgsql SECURITY DEFINER SET search_path = public
AS $$
#variable_conflict use_column
BEGIN
    UPDATE access_key SET last_used_on = moment::date WHERE digest = wanted AND last_used_on IS DISTINCT FROM moment::date;
    RETURN QUERY SELECT p.school_id, p.id, p.name, p.role, k.role, c.revision
    FROM access_key k
    JOIN person p ON p.school_id = k.school_id AND p.id = k.person_id AND p.active
    JOIN school c ON c.school_id = k.school_id
    WHERE k.digest = wanted AND k.ends_on >= moment::date;
END
$$;
-- +goose StatementEnd

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['password_link', 'access_key'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
DROP FUNCTION password_link_holder, access_key_holder;
DROP TABLE password_link, access_key;
