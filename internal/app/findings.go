package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// FileFinding is a finding with what the catalogue says of it.
type FileFinding struct {
	store.Finding
	Name       string        `json:"name"`
	Seen       string        `json:"seen"`
	Cause      string        `json:"cause"`
	PointTitle string        `json:"point_title" doc:"Empty outside an inspection"`
	Spot       string        `json:"spot" doc:"Where it stands in the drawing, empty when that is not known"`
	FirstAid   []string      `json:"first_aid"`
	Never      []string      `json:"never"`
	FixedBy    string        `json:"fixed_by,omitempty" doc:"Routine that mends it at school"`
	Photos     []store.Photo `json:"photos"`
}

// described adds the catalogue's words to findings, the gravest first.
func (a *App) described(k *catalog.Kind, findings []store.Finding, photos []store.Photo) []FileFinding {
	list := []FileFinding{}
	for _, f := range findings {
		d := FileFinding{Finding: f, Name: f.Code, FirstAid: []string{}, Never: []string{}, Photos: []store.Photo{}}
		if kind, ok := a.catalog.Finding(f.Code); ok {
			d.Name, d.Seen, d.Cause, d.FixedBy = kind.Name, kind.Seen, kind.Cause, kind.FixesRoutine
			d.FirstAid, d.Never = append(d.FirstAid, kind.FirstAid...), append(d.Never, kind.Never...)
			if !slices.Contains(k.Routines, d.FixedBy) {
				d.FixedBy = ""
			}
		}
		for _, p := range a.catalog.Inspection(k).Points {
			if p.Key == f.Point || f.Point == "" && slices.Contains(p.Answers, f.Code) {
				d.Spot = p.Spot
				if p.Key == f.Point {
					d.PointTitle = p.Title
				}
				break
			}
		}
		for _, p := range photos {
			if p.Finding != nil && *p.Finding == f.ID {
				d.Photos = append(d.Photos, p)
			}
		}
		list = append(list, d)
	}
	slices.SortStableFunc(list, func(x, y FileFinding) int { return y.Severity - x.Severity })
	return list
}

func (a *App) findingName(code string) string {
	if f, ok := a.catalog.Finding(code); ok {
		return f.Name
	}
	return code
}

// Report is a finding outside an inspection: what a player says, what a diagnosis ended in.
type Report struct {
	ID uuid.UUID `json:"id" doc:"Made by the client"`
	Found
	Symptom string `json:"symptom,omitempty" doc:"The symptom whose diagnosis ended in it"`
}

// FindingDetail is what the log keeps of a finding that was made or cleared.
type FindingDetail struct {
	Finding uuid.UUID        `json:"finding"`
	Code    string           `json:"code"`
	Title   string           `json:"title"`
	Action  condition.Action `json:"action"`
	Note    string           `json:"note,omitempty"`
	How     string           `json:"how,omitempty"`
}

// Findable lists what can be found on an instrument.
func (a *App) Findable(ctx context.Context, by Person, id uuid.UUID) ([]SheetAnswer, error) {
	_, i, err := a.instrument(ctx, by, id)
	if err != nil {
		return nil, err
	}
	list := []SheetAnswer{}
	for _, f := range a.catalog.FindingsOf(i.kind) {
		open := slices.ContainsFunc(i.findings, func(x store.Finding) bool { return x.Code == f.Code })
		list = append(list, SheetAnswer{f.Code, f.Name, f.Seen, condition.Action(f.Action), f.Avoidable, open})
	}
	return list, nil
}

// ReportFinding opens a finding outside an inspection.
func (a *App) ReportFinding(ctx context.Context, by Person, id uuid.UUID, in Report) (Judged, error) {
	return write(ctx, a, by, MayInspect, func(tx *store.Tx, s *snapshot) (Judged, error) {
		i, err := s.instrument(id)
		if err != nil {
			return Judged{}, err
		}
		if !a.canBeFound(i, in.Code) {
			return Judged{}, invalid("code", "cannot be found on a "+catalog.InText(i.kind.Name), in.Code)
		}
		found := a.newFinding(i, "", in.Found)
		found.finding.ID, found.finding.FoundAt, found.finding.FoundBy = in.ID, a.now(), &by.ID
		event, err := a.makeFinding(ctx, tx, by, found)
		if err != nil {
			return Judged{}, err
		}
		out, err := a.judged(ctx, tx, i)
		out.Events = []uuid.UUID{event}
		return out, err
	})
}

// makeFinding keeps a finding from outside an inspection, and records it.
func (a *App) makeFinding(ctx context.Context, tx *store.Tx, by Person, found reported) (uuid.UUID, error) {
	if err := keep(ctx, tx, found); err != nil {
		return uuid.Nil, err
	}
	f := found.finding
	return a.record(ctx, tx, by, store.Event{What: store.FindingMade, Instrument: &f.Instrument},
		FindingDetail{Finding: f.ID, Code: f.Code, Title: a.findingName(f.Code), Action: f.Action, Note: f.Note})
}

func (a *App) canBeFound(i *instrument, code string) bool {
	return slices.ContainsFunc(a.catalog.FindingsOf(i.kind), func(f *catalog.FindingKind) bool { return f.Code == code })
}

// Clearing says how a finding was put right.
type Clearing struct {
	How string `json:"how" maxLength:"500" doc:"What was done; needed for what stops an instrument"`
}

// ClearFinding closes a finding. What stops an instrument is cleared only by those who may, and with a word on how.
func (a *App) ClearFinding(ctx context.Context, by Person, id uuid.UUID, in Clearing) (Judged, error) {
	return write(ctx, a, by, MayFinishCare, func(tx *store.Tx, s *snapshot) (Judged, error) {
		f, err := tx.Finding(ctx, id)
		if err != nil {
			return Judged{}, err
		}
		how := strings.TrimSpace(in.How)
		if f.Action == condition.Stop {
			if err := by.need(MayClearStops); err != nil {
				return Judged{}, err
			}
			if how == "" {
				return Judged{}, invalid("how", "say who mended it or looked at it, and how", in.How)
			}
		}
		if err := tx.ClearFinding(ctx, id, a.now(), &by.ID, how); err != nil {
			return Judged{}, err
		}
		event, err := a.record(ctx, tx, by, store.Event{What: store.FindingCleared, Instrument: &f.Instrument},
			FindingDetail{Finding: id, Code: f.Code, Title: a.findingName(f.Code), Action: f.Action, How: how})
		if err != nil {
			return Judged{}, err
		}
		i := s.byID[f.Instrument]
		if i == nil {
			return Judged{}, store.ErrNotFound
		}
		out, err := a.judged(ctx, tx, i)
		out.Events = []uuid.UUID{event}
		return out, err
	})
}

// undoClearing opens a finding again. Whoever may not clear what stops an instrument may still stop it again.
func (a *App) undoClearing(ctx context.Context, tx *store.Tx, e store.Event) error {
	var d FindingDetail
	if err := json.Unmarshal(e.Detail, &d); err != nil {
		return fmt.Errorf("reading event %s: %w", e.ID, err)
	}
	return tx.ReopenFinding(ctx, d.Finding)
}

// Symptoms lists what a player may say of an instrument.
func (a *App) Symptoms(ctx context.Context, by Person, id uuid.UUID) ([]Choice, error) {
	_, i, err := a.instrument(ctx, by, id)
	if err != nil {
		return nil, err
	}
	list := []Choice{}
	for _, s := range a.catalog.SymptomsOf(i.kind) {
		list = append(list, Choice{s.Key, s.Name})
	}
	return list, nil
}

// Diagnosis is where a symptom has led so far.
type Diagnosis struct {
	Symptom  string   `json:"symptom" doc:"Its name"`
	Cautions []string `json:"cautions" doc:"To be read first"`
	condition.Step
}

// Diagnose walks a symptom of an instrument by the answers given so far.
func (a *App) Diagnose(ctx context.Context, by Person, id uuid.UUID, symptom string, answers []bool) (Diagnosis, error) {
	_, i, err := a.instrument(ctx, by, id)
	if err != nil {
		return Diagnosis{}, err
	}
	s, ok := a.catalog.Symptom(symptom)
	if !ok || !s.Can(i.kind) {
		return Diagnosis{}, invalid("symptom", "is none of this instrument", symptom)
	}
	step, err := condition.Diagnose(a.catalog, s, answers)
	if err != nil {
		return Diagnosis{}, invalid("answers", err.Error(), nil)
	}
	return Diagnosis{s.Name, append([]string{}, s.Cautions...), step}, nil
}

// AddPhoto keeps a photograph of an instrument, to be tied to a finding later. Sent again under its id it is kept once.
func (a *App) AddPhoto(ctx context.Context, by Person, instrument, id uuid.UUID, file []byte) (store.Photo, error) {
	var picture formats.Photo
	prepare := func() (err error) {
		if _, _, err := a.instrument(ctx, by, instrument); err != nil {
			return err
		}
		if picture, err = formats.ReadPhoto(file); err != nil {
			return invalid("picture", err.Error(), nil)
		}
		return nil
	}
	return writePrepared(ctx, a, by, MayInspect, prepare, func(tx *store.Tx, s *snapshot) (store.Photo, error) {
		p := store.Photo{ID: id, Instrument: instrument, TakenAt: a.now(), Person: &by.ID, Width: picture.Width, Height: picture.Height}
		return p, tx.InsertPhoto(ctx, p, picture.Full, picture.Thumbnail)
	})
}

// Photo reads a photograph as JPEG.
func (a *App) Photo(ctx context.Context, by Person, id uuid.UUID, thumbnail bool) (jpeg []byte, err error) {
	err = a.read(ctx, by, func(tx *store.Tx) error {
		jpeg, err = tx.PhotoBytes(ctx, id, thumbnail)
		return err
	})
	return jpeg, err
}
