package playerrows

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/store/internal/query"
)

// PlayerData is all that is kept of a player, table by table as it is kept: every row that names them, and what the log says of them. Which
// tables name players is asked of the database, so that a new one is not forgotten.
func PlayerData(ctx context.Context, tx *query.Tx, player uuid.UUID) (map[string]json.RawMessage, error) {
	var tables []string
	if err := query.Select(ctx, tx, &tables, `SELECT c.table_name FROM information_schema.columns c
		JOIN information_schema.tables t USING (table_schema, table_name)
		WHERE c.table_schema = 'public' AND c.column_name = 'player_id' AND t.table_type = 'BASE TABLE' AND c.table_name <> 'touched'
		ORDER BY 1`); err != nil {
		return nil, err
	}
	all := map[string]json.RawMessage{}
	ask := func(name, sql string) error {
		var rows string
		if err := query.Get(ctx, tx, &rows, sql, tx.School, player); err != nil {
			return fmt.Errorf("reading %s: %w", name, err)
		}
		all[name] = json.RawMessage(rows)
		return nil
	}
	if err := ask("player", `SELECT coalesce(json_agg(t), '[]')::text FROM player t WHERE school_id = $1 AND id = $2`); err != nil {
		return nil, err
	}
	for _, table := range tables {
		if err := ask(table, fmt.Sprintf(`SELECT coalesce(json_agg(t), '[]')::text FROM %s t WHERE school_id = $1 AND player_id = $2`,
			table)); err != nil {
			return nil, err
		}
	}
	err := ask("event", `SELECT coalesce(json_agg(t ORDER BY t.at), '[]')::text FROM event t
		WHERE school_id = $1 AND position($2::text IN detail::text) > 0`)
	return all, err
}
