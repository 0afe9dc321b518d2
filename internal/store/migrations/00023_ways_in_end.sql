-- +goose Up
-- What was given ends: a key after a year, with its person's password and when they are switched off. A key says from where it was used.
ALTER TABLE access_key ADD COLUMN last_used_from text NOT NULL DEFAULT '';
UPDATE access_key SET ends_on = made_on + 366 WHERE ends_on > made_on + 366;
DELETE FROM access_key k USING person p WHERE (p.school_id, p.id) = (k.school_id, k.person_id) AND NOT p.active;
DELETE FROM password_link l USING person p WHERE (p.school_id, p.id) = (l.school_id, l.person_id) AND NOT p.active;

DROP FUNCTION access_key_holder(bytea, timestamptz);
-- +goose StatementBegin
-- A key may do what both its own role and that of its person may.
CREATE FUNCTION access_key_holder(wanted bytea, moment timestamptz, origin text)
    RETURNS TABLE (id uuid, school_id uuid, person_id uuid, name text, role text, key_role text, revision bigint)
    LANGUAGE plpgsql SECURITY DEFINER SET search_path = public
AS $$
#variable_conflict use_column
BEGIN
    UPDATE access_key SET last_used_on = moment::date, last_used_from = origin
    WHERE digest = wanted AND ends_on >= moment::date AND (last_used_on, last_used_from) IS DISTINCT FROM (moment::date, origin);
    RETURN QUERY SELECT k.id, p.school_id, p.id, p.name, p.role, k.role, c.revision
    FROM access_key k
    JOIN person p ON p.school_id = k.school_id AND p.id = k.person_id AND p.active
    JOIN school c ON c.school_id = k.school_id
    WHERE k.digest = wanted AND k.ends_on >= moment::date;
END
$$;
-- +goose StatementEnd

-- +goose StatementBegin
-- A school always has somebody who signs in as its director. The school is locked first, so that of two who end each other's rights at
-- once the second sees what the first has done.
CREATE FUNCTION keep_a_director() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER SET search_path = public
AS $$
BEGIN
    PERFORM FROM school WHERE school_id = OLD.school_id FOR UPDATE;
    IF FOUND AND NOT EXISTS (SELECT FROM person WHERE school_id = OLD.school_id AND role = 'director' AND active) THEN
        RAISE EXCEPTION 'a school always has a director' USING ERRCODE = 'check_violation', CONSTRAINT = 'always_a_director';
    END IF;
    RETURN NULL;
END
$$;
-- +goose StatementEnd
CREATE TRIGGER always_a_director AFTER UPDATE OF role, active OR DELETE ON person
    FOR EACH ROW WHEN (OLD.role = 'director' AND OLD.active) EXECUTE FUNCTION keep_a_director();

-- Nobody but the application asks whose a key is, and nobody calls the trigger's function.
REVOKE EXECUTE ON FUNCTION access_key_holder(bytea, timestamptz, text), keep_a_director() FROM PUBLIC;
GRANT EXECUTE ON FUNCTION access_key_holder(bytea, timestamptz, text) TO solfeggio_app;

-- +goose Down
DROP TRIGGER always_a_director ON person;
DROP FUNCTION keep_a_director, access_key_holder(bytea, timestamptz, text);
-- +goose StatementBegin
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
REVOKE EXECUTE ON FUNCTION access_key_holder(bytea, timestamptz) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION access_key_holder(bytea, timestamptz) TO solfeggio_app;
ALTER TABLE access_key DROP COLUMN last_used_from;
