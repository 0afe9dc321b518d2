package inspection

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/report"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/checkrows"
)

// Carry takes what players reported of an instrument along with what is done to it.
func (r *Room) Carry(ctx context.Context, tx *store.Tx, by journal.Person, instrument uuid.UUID, act report.Act) error {
	return r.carry(ctx, tx, by, instrument, func(cardrows.Report) (report.Act, *uuid.UUID) { return act, nil })
}

// carryInto makes a finding of the reports that lead to it; the others were looked at beside it.
func (r *Room) carryInto(ctx context.Context, tx *store.Tx, by journal.Person, finding uuid.UUID, f checkrows.Finding) error {
	return r.carry(ctx, tx, by, f.Instrument, func(x cardrows.Report) (report.Act, *uuid.UUID) {
		if r.leads(x, f.Code) {
			return report.Notes, &finding
		}
		return report.Looks, nil
	})
}

// carryOver settles the reports of an instrument along which somebody has walked: they became a finding that is open now, or nothing like
// it was found.
func (r *Room) carryOver(ctx context.Context, tx *store.Tx, by journal.Person, instrument uuid.UUID) error {
	open, err := checkrows.OpenFindings(ctx, tx, instrument)
	if err != nil {
		return err
	}
	return r.carry(ctx, tx, by, instrument, func(x cardrows.Report) (report.Act, *uuid.UUID) {
		for _, f := range open {
			if r.leads(x, f.Code) {
				return report.Notes, &f.ID
			}
		}
		return report.LooksOver, nil
	})
}

func (r *Room) carry(ctx context.Context, tx *store.Tx, by journal.Person, instrument uuid.UUID,
	act func(cardrows.Report) (report.Act, *uuid.UUID)) error {
	reports, err := cardrows.UnsettledReports(ctx, tx, instrument)
	if err != nil {
		return err
	}
	now := r.schools.Now()
	for _, x := range reports {
		done, finding := act(x)
		next := x.State.After(done)
		if next == x.State {
			continue
		}
		x.State, x.Finding, x.SettledAt, x.SettledBy = next, finding, &now, &by.ID
		if err := cardrows.CarryReport(ctx, tx, x); err != nil {
			return err
		}
	}
	return nil
}

// leads reports whether what a player said may turn out to be a finding.
func (r *Room) leads(x cardrows.Report, code string) bool {
	symptom, ok := r.schools.Catalog.Symptom(x.Symptom)
	return ok && symptom.LeadsTo(code)
}
