-- +goose Up
-- Who a session belongs to stands beside its data, so that one question answers who asks, what they may do, and whether what is kept
-- in memory of their school is current. Older sessions name nobody; their people sign in again.
ALTER TABLE sessions ADD COLUMN school_id uuid, ADD COLUMN person_id uuid;
DELETE FROM sessions;

-- +goose StatementBegin
CREATE FUNCTION signed_in(wanted text, moment timestamptz)
    RETURNS TABLE (data bytea, school_id uuid, person_id uuid, name text, role text, revision bigint)
    LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public -- which keeps the plan, as a function in SQL would not
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

-- +goose Down
DROP FUNCTION signed_in;
ALTER TABLE sessions DROP COLUMN school_id, DROP COLUMN person_id;
