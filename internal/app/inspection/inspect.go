package inspection

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
	"solfeggio/internal/store/carerows"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
)

// Sheet is all that is needed to walk along an instrument, also where there is no network.
type Sheet struct {
	Instrument school.Listed         `json:"instrument"`
	Name       string                `json:"name" doc:"Name of the template"`
	Edition    string                `json:"edition" doc:"Sent back with the inspection, so that a changed template is noticed"`
	Points     []SheetPoint          `json:"points" doc:"In the order of the walk"`
	Last       *checkrows.Inspection `json:"last,omitempty" doc:"The last inspection of the instrument"`
	Cautions   []string              `json:"cautions"`
}

// SheetPoint is one point of the walk.
type SheetPoint struct {
	Key     string        `json:"key"`
	Spot    string        `json:"spot" doc:"Where it stands in the drawing"`
	Title   string        `json:"title"`
	Look    string        `json:"look"`
	Reason  string        `json:"reason"`
	Answers []SheetAnswer `json:"answers" doc:"Beside looking right"`
	Measure *SheetMeasure `json:"measure,omitempty"`
}

// SheetAnswer is a finding that may be seen at a point.
type SheetAnswer struct {
	Code      string           `json:"code"`
	Name      string           `json:"name"`
	Seen      string           `json:"seen"`
	Action    condition.Action `json:"action" enum:"none,habit,director,shop,shop-now,stop"`
	Avoidable bool             `json:"avoidable" doc:"As a rule handling, assembly or missed cleaning brings it about"`
	Open      bool             `json:"open" doc:"It was found before and is not cleared"`
}

// SheetMeasure is a figure that may be taken at a point.
type SheetMeasure struct {
	Name   string          `json:"name"`
	Unit   string          `json:"unit" enum:"mm,cents,%"`
	Target *catalog.Target `json:"target,omitempty" doc:"Left out when no figure is kept for this size"`
	Basis  why.Kind        `json:"basis"`
}

// Sheet prepares an inspection.
func (r *Room) Sheet(ctx context.Context, by journal.Person, id uuid.UUID) (Sheet, error) {
	s, i, err := r.Instrument(ctx, by, id)
	if err != nil {
		return Sheet{}, err
	}
	t := r.schools.Catalog.Inspection(i.Kind)
	routine, _ := r.schools.Catalog.Routine(t.Routine)
	sheet := Sheet{Instrument: s.Listed(i), Name: t.Name, Edition: t.Edition(), Cautions: r.schools.Cautions(i, routine)}
	for _, p := range t.Points {
		point := SheetPoint{Key: p.Key, Spot: p.Spot, Title: p.Title, Look: p.Look, Reason: p.Reason}
		for _, code := range p.Answers {
			f, _ := r.schools.Catalog.Finding(code)
			open := slices.ContainsFunc(i.Findings, func(x checkrows.Finding) bool { return x.Code == code && x.Point == p.Key })
			point.Answers = append(point.Answers, SheetAnswer{f.Code, f.Name, f.Seen, condition.Action(f.Action), f.Avoidable, open})
		}
		if m := p.Measure; m != nil {
			point.Measure = &SheetMeasure{Name: m.Name, Unit: m.Unit, Basis: m.Basis}
			if target, ok := m.Target(i.Instrument.Kind, i.Size); ok {
				point.Measure.Target = &target
			}
		}
		sheet.Points = append(sheet.Points, point)
	}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		last, err := checkrows.LatestInspection(ctx, tx, id)
		if err == nil {
			sheet.Last = &last
		} else if errors.Is(err, store.ErrNotFound) {
			err = nil
		}
		return err
	})
	return sheet, err
}

// Instrument finds an instrument in the snapshot.
func (r *Room) Instrument(ctx context.Context, by journal.Person, id uuid.UUID) (*school.Snapshot, *school.Instrument, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, nil, err
	}
	i, err := s.Instrument(id)
	return s, i, journal.InPlainWords(err)
}

// Walk is an inspection as it was done.
type Walk struct {
	ID       uuid.UUID     `json:"id" doc:"Made by the client"`
	Edition  string        `json:"edition"`
	BeganAt  time.Time     `json:"began_at"`
	LastSeen *uuid.UUID    `json:"last_seen,omitempty" doc:"The last inspection that was known when it began"`
	Despite  bool          `json:"despite,omitempty" doc:"Save it though somebody else finished one meanwhile"`
	Answers  []PointAnswer `json:"answers" maxItems:"100"`
}

// PointAnswer is what was seen at a point. Without findings it looks right.
type PointAnswer struct {
	Point    string  `json:"point"`
	Findings []Found `json:"findings" maxItems:"20"`
	Measured string  `json:"measured,omitempty" maxLength:"40" doc:"As it was typed, with its unit: 3.5, 3,5 mm, 0.14 in"`
}

// Found is a finding as it is reported.
type Found struct {
	Code      string      `json:"code"`
	Note      string      `json:"note,omitempty" maxLength:"2000"`
	Avoidable *bool       `json:"avoidable,omitempty" doc:"Left out, the catalogue's own word counts"`
	Photos    []uuid.UUID `json:"photos,omitempty" maxItems:"8" doc:"Sent before"`
}

// Judged is what came of an inspection or a report.
type Judged struct {
	Triage   condition.TriageOut `json:"triage"`
	Findings []FileFinding       `json:"findings" doc:"All that are open now"`
	Cleared  []string            `json:"cleared" doc:"Names of what was found earlier and is not seen any more"`
	Events   []uuid.UUID         `json:"events"`
}

// InspectedDetail is what the log keeps of an inspection.
type InspectedDetail struct {
	Inspection uuid.UUID       `json:"inspection"`
	Grade      condition.Grade `json:"grade"`
	Found      []string        `json:"found"`
	Cleared    []string        `json:"cleared"`
}

// Inspect records a walk: its findings are opened, what was found earlier and looks right now is cleared (but for what
// stops the instrument, which needs somebody allowed to), and the clock of the inspection begins anew.
func (r *Room) Inspect(ctx context.Context, by journal.Person, id uuid.UUID, in Walk) (Judged, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Judged, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return Judged{}, err
		}
		t := r.schools.Catalog.Inspection(i.Kind)
		if in.Edition != t.Edition() {
			return Judged{}, &journal.Fault{
				Kind:    journal.Conflict,
				Message: "The check for this kind was changed since you began. Your answers are kept; look at the points that are new, then finish again.",
				Fields:  []journal.Field{{Path: "edition", Message: "is not the present one", Value: in.Edition}},
			}
		}
		found, err := r.readAnswers(i, t, in.Answers)
		if err != nil {
			return Judged{}, err
		}
		if err := r.nobodyElse(ctx, tx, id, in); err != nil {
			return Judged{}, err
		}
		answers, err := json.Marshal(in.Answers)
		if err != nil {
			return Judged{}, err
		}
		now := r.schools.Now()
		for n := range found {
			found[n].Finding.Inspection, found[n].Finding.FoundAt, found[n].Finding.FoundBy = &in.ID, now, &by.ID
		}
		before, err := checkrows.OpenFindings(ctx, tx, id)
		if err != nil {
			return Judged{}, err
		}
		gone := notSeenAgain(t, before, found)
		triage, err := triageAfter(before, found, gone)
		if err != nil {
			return Judged{}, err
		}
		if err := checkrows.InsertInspection(ctx, tx,
			checkrows.Inspection{ID: in.ID, Instrument: id, Person: &by.ID, Template: t.Key, Edition: in.Edition, BeganAt: in.BeganAt,
				EndedAt: now, Grade: triage.Grade, Answers: answers}); err != nil {
			return Judged{}, err
		}
		detail := InspectedDetail{Inspection: in.ID, Grade: triage.Grade, Found: []string{}, Cleared: []string{}}
		for _, f := range gone {
			if err := checkrows.ClearFinding(ctx, tx, f.ID, now, &by.ID, "looks right at the next check"); err != nil {
				return Judged{}, err
			}
			detail.Cleared = append(detail.Cleared, r.FindingName(f.Code))
		}
		for _, f := range found {
			if _, err := keep(ctx, tx, f); err != nil {
				return Judged{}, err
			}
			detail.Found = append(detail.Found, r.FindingName(f.Finding.Code))
		}
		if err := r.carryOver(ctx, tx, by, id); err != nil {
			return Judged{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.Inspected, Instrument: &id}, detail)
		if err != nil {
			return Judged{}, err
		}
		restarts := clocks.Restarts(r.schools.Catalog, i.Instrument.Kind, clocks.Key{Routine: t.Routine})
		if err := carerows.InsertCompletion(ctx, tx, carerows.Completion{Event: event, Instrument: id, DoneOn: s.Today, Clocks: restarts}); err != nil {
			return Judged{}, err
		}
		out, err := r.judged(ctx, tx, i)
		out.Cleared, out.Events = detail.Cleared, []uuid.UUID{event}
		return out, err
	})
}

// nobodyElse refuses an inspection when another was finished since this one began, unless it is to be saved despite it.
func (r *Room) nobodyElse(ctx context.Context, tx *store.Tx, id uuid.UUID, in Walk) error {
	last, err := checkrows.LatestInspection(ctx, tx, id)
	if errors.Is(err, store.ErrNotFound) || in.Despite {
		return nil
	}
	if err != nil || in.LastSeen != nil && *in.LastSeen == last.ID {
		return err
	}
	who := "Somebody"
	if last.PersonName != nil {
		who = *last.PersonName
	}
	return &journal.Fault{
		Kind: journal.Conflict,
		Message: fmt.Sprintf(
			"%s finished a check of this instrument while you were at it, and graded it %s. Yours is kept here; save it as well if it adds to theirs.",
			who,
			last.Grade,
		),
		Fields: []journal.Field{{Path: "last_seen", Message: "another inspection came in between", Value: last.ID}},
	}
}

// A reported finding with its photographs.
type reported struct {
	Finding checkrows.Finding
	photos  []uuid.UUID
}

// readAnswers turns the answers into findings and names what cannot be.
func (r *Room) readAnswers(i *school.Instrument, t *catalog.Template, answers []PointAnswer) ([]reported, error) {
	var found []reported
	seen := map[string]bool{}
	for n, answer := range answers {
		path := fmt.Sprintf("answers[%d]", n)
		point, ok := t.Point(answer.Point)
		switch {
		case !ok:
			return nil, journal.Refuse(path+".point", "is no point of this inspection", answer.Point)
		case seen[answer.Point]:
			return nil, journal.Refuse(path+".point", "is answered twice", answer.Point)
		}
		seen[answer.Point] = true
		codes := map[string]bool{}
		for k, f := range answer.Findings {
			if !slices.Contains(point.Answers, f.Code) {
				return nil, journal.Refuse(fmt.Sprintf("%s.findings[%d].code", path, k), "cannot be found at "+point.Title, f.Code)
			}
			if codes[f.Code] {
				continue
			}
			codes[f.Code] = true
			found = append(found, r.NewFinding(i, point.Key, f))
		}
		if strings.TrimSpace(answer.Measured) == "" {
			continue
		}
		if point.Measure == nil {
			return nil, journal.Refuse(path+".measured", "nothing is measured at "+point.Title, answer.Measured)
		}
		value, err := condition.ParseMeasure(answer.Measured, point.Measure.Unit)
		if err != nil {
			return nil, journal.Refuse(path+".measured", err.Error(), answer.Measured)
		}
		if code := condition.Judge(*point.Measure, i.Instrument.Kind, i.Size, value); code != "" && !codes[code] {
			found = append(found, r.NewFinding(i, point.Key, Found{Code: code}))
			codes[code] = true
		}
		for k := range found {
			if found[k].Finding.Point == point.Key {
				found[k].Finding.Measured = &value
			}
		}
	}
	for _, p := range t.Points {
		if !seen[p.Key] {
			return nil, journal.Refuse("answers", "say nothing of "+p.Title, p.Key)
		}
	}
	return found, nil
}

// NewFinding is a finding as the catalogue weighs it.
func (r *Room) NewFinding(i *school.Instrument, point string, f Found) reported {
	kind, _ := r.schools.Catalog.Finding(f.Code)
	of := condition.Of(kind)
	if f.Avoidable != nil {
		of.Avoidable = *f.Avoidable
	}
	return reported{checkrows.Finding{
		ID: uuid.Must(uuid.NewV7()), Instrument: i.ID, Code: f.Code, Point: point, Severity: of.Severity, Action: of.Action,
		Avoidable: of.Avoidable, TouchesTone: of.TouchesTone, Note: strings.TrimSpace(f.Note),
	}, f.Photos}
}

// keep stores a finding with its photographs, and says under which id it stands.
func keep(ctx context.Context, tx *store.Tx, r reported) (uuid.UUID, error) {
	id, _, err := checkrows.InsertFinding(ctx, tx, r.Finding)
	if err != nil {
		return uuid.Nil, err
	}
	for _, photo := range r.photos {
		if err := checkrows.AttachPhoto(ctx, tx, photo, r.Finding.Instrument, id); err != nil {
			return uuid.Nil, PhotoMissing(photo)
		}
	}
	return id, nil
}

// PhotoMissing is the fault that a photograph was named which has not arrived.
func PhotoMissing(photo uuid.UUID) error {
	return &journal.Fault{
		Kind:    journal.Conflict,
		Message: "A photograph has not arrived yet; send it first, then finish again.",
		Fields:  []journal.Field{{Path: "photos", Message: "is not there", Value: photo}},
	}
}

// LastChecked is when an instrument was last inspected; nil when it never was.
func LastChecked(ctx context.Context, tx *store.Tx, id uuid.UUID) (*time.Time, error) {
	last, err := checkrows.LatestInspection(ctx, tx, id)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	return &last.EndedAt, err
}

// notSeenAgain lists what was open at a point of the walk and was not found again. What stops the instrument stays.
func notSeenAgain(t *catalog.Template, before []checkrows.Finding, found []reported) []checkrows.Finding {
	var gone []checkrows.Finding
	for _, f := range before {
		_, looked := t.Point(f.Point)
		again := slices.ContainsFunc(found, func(r reported) bool { return r.Finding.Code == f.Code && r.Finding.Point == f.Point })
		if looked && !again && f.Action != condition.Stop {
			gone = append(gone, f)
		}
	}
	return gone
}

func triageAfter(before []checkrows.Finding, found []reported, gone []checkrows.Finding) (condition.TriageOut, error) {
	in := condition.TriageIn{}
	for _, f := range before {
		if !slices.ContainsFunc(gone, func(g checkrows.Finding) bool { return g.ID == f.ID }) {
			in.Findings = append(in.Findings, f.ForTriage())
		}
	}
	for _, r := range found {
		in.Findings = append(in.Findings, r.Finding.ForTriage())
	}
	return condition.Triage(in)
}

// judged reads what is open now and judges it.
func (r *Room) judged(ctx context.Context, tx *store.Tx, i *school.Instrument) (Judged, error) {
	open, err := checkrows.OpenFindings(ctx, tx, i.ID)
	if err != nil {
		return Judged{}, err
	}
	photos, err := checkrows.Photos(ctx, tx, i.ID)
	if err != nil {
		return Judged{}, err
	}
	triage, err := triageAfter(open, nil, nil)
	return Judged{Triage: triage, Findings: r.Described(i, open, photos), Cleared: []string{}, Events: []uuid.UUID{}}, err
}
