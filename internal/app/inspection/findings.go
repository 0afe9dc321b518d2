package inspection

import (
	"context"
	"errors"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
)

// FileFinding is a finding with what the catalogue says of it.
type FileFinding struct {
	checkrows.Finding
	Name       string            `json:"name"`
	Next       string            `json:"next" doc:"What becomes of it, in words"`
	Seen       string            `json:"seen"`
	Cause      string            `json:"cause"`
	PointTitle string            `json:"point_title" doc:"Empty outside an inspection"`
	Spot       string            `json:"spot" doc:"Where it stands in the drawing, empty when that is not known"`
	FirstAid   []string          `json:"first_aid"`
	Never      []string          `json:"never"`
	FixedBy    string            `json:"fixed_by,omitempty" doc:"Routine that mends it at school"`
	Photos     []checkrows.Photo `json:"photos"`
}

// Described adds the catalogue's words to findings, the gravest first.
func (r *Room) Described(i *school.Instrument, findings []checkrows.Finding, photos []checkrows.Photo) []FileFinding {
	list := []FileFinding{}
	for _, f := range findings {
		d := FileFinding{Finding: f, Next: nextOf(i, f.Action), Name: f.Code, FirstAid: []string{}, Never: []string{}, Photos: []checkrows.Photo{}}
		if kind, ok := r.schools.Catalog.Finding(f.Code); ok {
			d.Name, d.Seen, d.Cause, d.FixedBy = kind.Name, kind.Seen, kind.Cause, kind.FixesRoutine
			d.FirstAid, d.Never = append(d.FirstAid, kind.FirstAid...), append(d.Never, kind.Never...)
			if !slices.Contains(i.Kind.Routines, d.FixedBy) {
				d.FixedBy = ""
			}
		}
		for _, p := range r.schools.Catalog.Inspection(i.Kind).Points {
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

// FindingName is what a kind of finding is called.
func (r *Room) FindingName(code string) string {
	if f, ok := r.schools.Catalog.Finding(code); ok {
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
func (r *Room) Findable(ctx context.Context, by journal.Person, id uuid.UUID) ([]SheetAnswer, error) {
	_, i, err := r.Instrument(ctx, by, id)
	if err != nil {
		return nil, err
	}
	list := []SheetAnswer{}
	for _, f := range r.schools.Catalog.FindingsOf(i.Kind) {
		open := slices.ContainsFunc(i.Findings, func(x checkrows.Finding) bool { return x.Code == f.Code })
		list = append(list, SheetAnswer{f.Code, f.Name, f.Seen, condition.Action(f.Action), f.Avoidable, open})
	}
	return list, nil
}

// ReportFinding opens a finding outside an inspection.
func (r *Room) ReportFinding(ctx context.Context, by journal.Person, id uuid.UUID, in Report) (Judged, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Judged, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return Judged{}, err
		}
		if !r.CanBeFound(i, in.Code) {
			return Judged{}, journal.Refuse("code", "cannot be found on a "+catalog.InText(i.Kind.Name), in.Code)
		}
		found := r.NewFinding(i, "", in.Found)
		found.Finding.ID, found.Finding.FoundAt, found.Finding.FoundBy = in.ID, r.schools.Now(), &by.ID
		_, event, err := r.MakeFinding(ctx, tx, by, found)
		if err != nil {
			return Judged{}, err
		}
		out, err := r.judged(ctx, tx, i)
		out.Events = []uuid.UUID{event}
		return out, err
	})
}

// MakeFinding keeps a finding from outside an inspection, and records it. The same that is open already stays one.
func (r *Room) MakeFinding(ctx context.Context, tx *store.Tx, by journal.Person, found reported) (id, event uuid.UUID, err error) {
	if id, err = keep(ctx, tx, found); err != nil {
		return uuid.Nil, uuid.Nil, err
	}
	f := found.Finding
	if err := r.carryInto(ctx, tx, by, id, f); err != nil {
		return uuid.Nil, uuid.Nil, err
	}
	event, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.FindingMade, Instrument: &f.Instrument},
		FindingDetail{Finding: f.ID, Code: f.Code, Title: r.FindingName(f.Code), Action: f.Action, Note: f.Note})
	return id, event, err
}

// CanBeFound reports whether the catalogue has such a finding for the kind of an instrument.
func (r *Room) CanBeFound(i *school.Instrument, code string) bool {
	return slices.ContainsFunc(r.schools.Catalog.FindingsOf(i.Kind), func(f *catalog.FindingKind) bool { return f.Code == code })
}

// nextOf says what becomes of a finding: what is somebody else's goes to no shop of the school's.
func nextOf(i *school.Instrument, a condition.Action) string {
	if i.Rental != nil && (a == condition.Shop || a == condition.ShopNow) {
		return "its owner is told, and decides"
	}
	return a.Words()
}

// Remarked lists what the remark on an instrument may mean and is not open on it, to be offered to a person.
func (r *Room) Remarked(i *school.Instrument) []school.Choice {
	list := []school.Choice{}
	for _, f := range r.schools.Catalog.Remarked(i.Kind, i.Notes) {
		if !slices.ContainsFunc(i.Findings, func(open checkrows.Finding) bool { return open.Code == f.Code }) {
			list = append(list, school.Choice{Key: f.Code, Name: f.Name})
		}
	}
	return list
}

// Clearing says how a finding was put right.
type Clearing struct {
	How string `json:"how" maxLength:"500" doc:"What was done; needed for what stops an instrument"`
}

// ClearFinding closes a finding. What stops an instrument is cleared only by those who may, and with a word on how.
func (r *Room) ClearFinding(ctx context.Context, by journal.Person, id uuid.UUID, in Clearing) (Judged, error) {
	return school.Write(ctx, r.schools, by, journal.MayFinishCare, func(tx *store.Tx, s *school.Snapshot) (Judged, error) {
		f, err := checkrows.FindingByID(ctx, tx, id)
		if err != nil {
			return Judged{}, err
		}
		event, err := r.Clear(ctx, tx, by, f, in.How)
		if err != nil {
			return Judged{}, err
		}
		i := s.ByID[f.Instrument]
		if i == nil {
			return Judged{}, store.ErrNotFound
		}
		out, err := r.judged(ctx, tx, i)
		out.Events = []uuid.UUID{event}
		return out, err
	})
}

// Clear closes a finding within a write, and records it.
func (r *Room) Clear(ctx context.Context, tx *store.Tx, by journal.Person, f checkrows.Finding, how string) (uuid.UUID, error) {
	how = strings.TrimSpace(how)
	if f.Action == condition.Stop {
		if err := by.Need(journal.MayClearStops); err != nil {
			return uuid.Nil, err
		}
		if how == "" {
			return uuid.Nil, journal.Refuse("how", "say who mended it or looked at it, and how", how)
		}
	}
	if err := checkrows.ClearFinding(ctx, tx, f.ID, r.schools.Now(), &by.ID, how); err != nil {
		return uuid.Nil, err
	}
	return r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.FindingCleared, Instrument: &f.Instrument},
		FindingDetail{Finding: f.ID, Code: f.Code, Title: r.FindingName(f.Code), Action: f.Action, How: how})
}

// Symptoms lists what a player may say of an instrument.
func (r *Room) Symptoms(ctx context.Context, by journal.Person, id uuid.UUID) ([]school.Choice, error) {
	_, i, err := r.Instrument(ctx, by, id)
	if err != nil {
		return nil, err
	}
	list := []school.Choice{}
	for _, s := range r.schools.Catalog.SymptomsOf(i.Kind) {
		list = append(list, school.Choice{Key: s.Key, Name: s.Name})
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
func (r *Room) Diagnose(ctx context.Context, by journal.Person, id uuid.UUID, symptom string, answers []bool) (Diagnosis, error) {
	_, i, err := r.Instrument(ctx, by, id)
	if err != nil {
		return Diagnosis{}, err
	}
	s, ok := r.schools.Catalog.Symptom(symptom)
	if !ok || !s.Can(i.Kind) {
		return Diagnosis{}, journal.Refuse("symptom", "is none of this instrument", symptom)
	}
	step, err := condition.Diagnose(r.schools.Catalog, s, answers)
	if err != nil {
		return Diagnosis{}, journal.RefuseInput(err)
	}
	return Diagnosis{s.Name, append([]string{}, s.Cautions...), step}, nil
}

// AddPhoto keeps a photograph of an instrument, its portrait or one to be tied to a finding later. Sent again under its id it is kept once.
func (r *Room) AddPhoto(ctx context.Context, by journal.Person, instrument, id uuid.UUID, portrait bool, file []byte) (checkrows.Photo, error) {
	var picture formats.Photo
	prepare := func() (err error) {
		if _, _, err := r.Instrument(ctx, by, instrument); err != nil {
			return err
		}
		if picture, err = formats.ReadPhoto(ctx, file, formats.PhotoPixels); errors.Is(err, formats.ErrNoPhoto) {
			return journal.Refuse("picture", err.Error(), nil)
		}
		return err
	}
	return school.WritePrepared(
		ctx,
		r.schools,
		by,
		journal.MayInspect,
		prepare,
		func(tx *store.Tx, s *school.Snapshot) (checkrows.Photo, error) {
			p := checkrows.Photo{
				ID: id, Instrument: instrument, TakenAt: r.schools.Now(), Person: &by.ID, Width: picture.Width, Height: picture.Height,
				Portrait: portrait,
			}
			return p, checkrows.InsertPhoto(ctx, tx, p, picture.Full, picture.Thumbnail)
		},
	)
}

// DropPortrait takes an instrument's portrait away for good; the one before counts again.
func (r *Room) DropPortrait(ctx context.Context, by journal.Person, id uuid.UUID) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, _ *school.Snapshot) (struct{}, error) {
		return struct{}{}, checkrows.DropPortrait(ctx, tx, id)
	})
	return err
}

// Photo reads a photograph as JPEG.
func (r *Room) Photo(ctx context.Context, by journal.Person, id uuid.UUID, thumbnail bool) (jpeg []byte, err error) {
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		jpeg, err = checkrows.PhotoBytes(ctx, tx, id, thumbnail)
		return err
	})
	return jpeg, err
}
