package cardrows

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/drill"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/internal/query"
)

// DrillCount is how answers went, by day, kind of instrument, class and habit. No player stands in it.
type DrillCount struct {
	On       day.Day   `db:"on_day"`
	Kind     string    `db:"kind"`
	Ensemble uuid.UUID `db:"ensemble_id"` // all zeros for players by themselves
	Habit    string    `db:"habit"`
	Right    int       `db:"right_count"`
	Wrong    int       `db:"wrong_count"`
}

// CountAnswer adds answers to what was counted before.
func CountAnswer(ctx context.Context, tx *query.Tx, c DrillCount) error {
	return query.Do(ctx, tx, `INSERT INTO drill_count (school_id, on_day, kind, ensemble_id, habit, right_count, wrong_count)
		VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT (school_id, on_day, kind, ensemble_id, habit)
		DO UPDATE SET right_count = drill_count.right_count + $6, wrong_count = drill_count.wrong_count + $7`,
		tx.School, c.On, c.Kind, c.Ensemble, c.Habit, c.Right, c.Wrong)
}

// DrillCounts lists what was counted from a day on.
func DrillCounts(ctx context.Context, tx *query.Tx, from day.Day) ([]DrillCount, error) {
	return query.List[DrillCount](ctx, tx, `SELECT on_day, kind, ensemble_id, habit, right_count, wrong_count FROM drill_count
		WHERE school_id = $1 AND on_day >= $2 ORDER BY on_day, kind, ensemble_id, habit`, tx.School, from)
}

// DrillBoxes reads how well a class knows the questions on a kind of instrument, by question.
func DrillBoxes(ctx context.Context, tx *query.Tx, ensemble uuid.UUID, kind string) (map[string]drill.Known, error) {
	var rows []struct {
		Question string  `db:"question"`
		Number   int     `db:"number"`
		Due      day.Day `db:"due_on"`
	}
	err := query.Select(ctx, tx, &rows, `SELECT question, number, due_on FROM drill_box
		WHERE school_id = $1 AND ensemble_id = $2 AND kind = $3`,
		tx.School, ensemble, kind)
	boxes := map[string]drill.Known{}
	for _, r := range rows {
		boxes[r.Question] = drill.Known{Number: r.Number, Due: r.Due}
	}
	return boxes, err
}

// PutDrillBox keeps how well a class knows a question.
func PutDrillBox(ctx context.Context, tx *query.Tx, ensemble uuid.UUID, kind, question string, b drill.Known) error {
	return query.Do(ctx, tx, `INSERT INTO drill_box (school_id, ensemble_id, kind, question, number, due_on)
		VALUES ($1, $2, $3, $4, $5, $6)
		ON CONFLICT (school_id, ensemble_id, kind, question) DO UPDATE SET number = $5, due_on = $6`,
		tx.School, ensemble, kind, question, b.Number, b.Due)
}

// FoundCost is a finding of the past with what its mending cost.
type FoundCost struct {
	checkrows.Finding
	Kind  string `db:"kind"`
	Cents *int64 `db:"cents"` // nil where no job of a shop says
}

// FoundSince lists what was found from a day on, with what the shop took for it or expects to.
func FoundSince(ctx context.Context, tx *query.Tx, from day.Day) ([]FoundCost, error) {
	return query.List[FoundCost](ctx, tx, `
		SELECT f.id, f.instrument_id, f.code, f.severity, f.action, f.avoidable, f.found_at, f.cleared_at, i.kind,
			(SELECT sum(coalesce(l.real_cents, l.expected_cents)) FROM shop_job_line l
			WHERE l.school_id = f.school_id AND l.finding_id = f.id)::bigint AS cents
		FROM finding f JOIN instrument i ON i.school_id = f.school_id AND i.id = f.instrument_id
		WHERE f.school_id = $1 AND f.found_at >= $2 ORDER BY f.found_at, f.id`, tx.School, from)
}
