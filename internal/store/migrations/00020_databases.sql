-- +goose Up
-- Whether a school is in this database, asked where schools are spread over several.
-- +goose StatementBegin
CREATE FUNCTION school_here(wanted uuid) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public
AS $$
    SELECT EXISTS (SELECT FROM school WHERE school_id = wanted)
$$;
-- +goose StatementEnd
REVOKE ALL ON FUNCTION school_here FROM PUBLIC;
GRANT EXECUTE ON FUNCTION school_here TO solfeggio_app;

-- +goose Down
DROP FUNCTION school_here;
