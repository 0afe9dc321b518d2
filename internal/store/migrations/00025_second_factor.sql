-- +goose Up
-- A code that changes every half minute (RFC 6238) is asked for beside the password: where somebody has chosen so, and where the school
-- asks for it. The secret is kept as it is, since codes are made of it; of the codes on paper only digests are.
CREATE TABLE second_factor (
    school_id uuid NOT NULL,
    person_id uuid NOT NULL,
    secret    text NOT NULL CHECK (secret ~ '^[A-Z2-7]{32}$'),
    since     date NOT NULL,
    last_step bigint NOT NULL DEFAULT 0, -- the half minute whose code was used last; no code serves twice
    PRIMARY KEY (school_id, person_id),
    FOREIGN KEY (school_id, person_id) REFERENCES person ON DELETE CASCADE
);
CREATE TABLE paper_code (
    school_id uuid NOT NULL,
    person_id uuid NOT NULL,
    digest    bytea NOT NULL,
    used_on   date,
    PRIMARY KEY (school_id, person_id, digest),
    FOREIGN KEY (school_id, person_id) REFERENCES second_factor ON DELETE CASCADE
);
ALTER TABLE school ADD COLUMN second_factor text NOT NULL DEFAULT 'chosen' CHECK (second_factor IN ('chosen', 'directors', 'everybody'));

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['second_factor', 'paper_code'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT current_school()))', t);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO solfeggio_app', t);
    END LOOP;
END
$$;
-- +goose StatementEnd

DROP FUNCTION signed_in(text, timestamptz);
-- +goose StatementBegin
CREATE FUNCTION signed_in(wanted text, moment timestamptz)
    RETURNS TABLE (data bytea, school_id uuid, person_id uuid, name text, role text, revision bigint, lacks_factor boolean)
    LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public -- which keeps the plan, as a function in SQL would not
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
REVOKE EXECUTE ON FUNCTION signed_in(text, timestamptz) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION signed_in(text, timestamptz) TO solfeggio_app;

-- +goose Down
DROP FUNCTION signed_in(text, timestamptz);
-- +goose StatementBegin
CREATE FUNCTION signed_in(wanted text, moment timestamptz)
    RETURNS TABLE (data bytea, school_id uuid, person_id uuid, name text, role text, revision bigint)
    LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public
AS $$
#variable_conflict use_column
BEGIN
    RETURN QUERY SELECT s.data, p.school_id, p.id, p.name, p.role, c.revision
    FROM sessions s
    LEFT JOIN person p ON p.school_id = s.school_id AND p.id = s.person_id AND p.active
    LEFT JOIN school c ON c.school_id = p.school_id
    WHERE s.token = wanted AND s.expiry > moment;
END
$$;
-- +goose StatementEnd
REVOKE EXECUTE ON FUNCTION signed_in(text, timestamptz) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION signed_in(text, timestamptz) TO solfeggio_app;
DROP TABLE paper_code, second_factor;
ALTER TABLE school DROP COLUMN second_factor;
