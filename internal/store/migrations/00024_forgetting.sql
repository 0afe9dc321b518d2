-- +goose Up
-- The log and the inspections are never changed by the application, but for one thing: a player's name is taken out of what people typed.
-- +goose StatementBegin
CREATE FUNCTION reword_event(wanted uuid, said jsonb) RETURNS void
    LANGUAGE sql SECURITY DEFINER SET search_path = public
AS $$
    UPDATE event SET detail = said WHERE school_id = current_school() AND id = wanted
$$;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE FUNCTION reword_inspection(wanted uuid, said jsonb) RETURNS void
    LANGUAGE sql SECURITY DEFINER SET search_path = public
AS $$
    UPDATE inspection SET answers = said WHERE school_id = current_school() AND id = wanted
$$;
-- +goose StatementEnd
REVOKE EXECUTE ON FUNCTION reword_event(uuid, jsonb), reword_inspection(uuid, jsonb) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION reword_event(uuid, jsonb), reword_inspection(uuid, jsonb) TO solfeggio_app;

-- +goose Down
DROP FUNCTION reword_event(uuid, jsonb), reword_inspection(uuid, jsonb);
