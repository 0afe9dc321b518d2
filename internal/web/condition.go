package web

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/formats"
)

// conditionRoutes are inspections, findings, diagnosis, photographs and schools of practice.
func (s *server) conditionRoutes() {
	handle(
		s,
		operation("check-sheet", http.MethodGet, "/instruments/{id}/check", "What an inspection of the instrument looks at"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[inspection.Sheet], error) {
			sheet, err := s.app.Inspection.Sheet(ctx, by, in.ID)
			return out[inspection.Sheet]{sheet}, err
		},
	)
	type inspectIn struct {
		Repeatable
		ByID
		Body inspection.Walk
	}
	handle(
		s,
		operation("inspect", http.MethodPost, "/instruments/{id}/inspections", "Record an inspection"),
		func(ctx context.Context, by journal.Person, in *inspectIn) (out[inspection.Judged], error) {
			judged, err := s.app.Inspection.Inspect(ctx, by, in.ID, in.Body)
			return out[inspection.Judged]{judged}, err
		},
	)
	handle(
		s,
		operation("findable", http.MethodGet, "/instruments/{id}/findable", "What can be found on the instrument"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[[]inspection.SheetAnswer], error) {
			list, err := s.app.Inspection.Findable(ctx, by, in.ID)
			return out[[]inspection.SheetAnswer]{list}, err
		},
	)
	type reportIn struct {
		Repeatable
		ByID
		Body inspection.Report
	}
	handle(
		s,
		operation("report-finding", http.MethodPost, "/instruments/{id}/findings", "Report a finding outside an inspection"),
		func(ctx context.Context, by journal.Person, in *reportIn) (out[inspection.Judged], error) {
			judged, err := s.app.Inspection.ReportFinding(ctx, by, in.ID, in.Body)
			return out[inspection.Judged]{judged}, err
		},
	)
	type clearIn struct {
		Repeatable
		ByID
		Body inspection.Clearing
	}
	handle(
		s,
		operation("clear-finding", http.MethodPost, "/findings/{id}/clear", "Close a finding"),
		func(ctx context.Context, by journal.Person, in *clearIn) (out[inspection.Judged], error) {
			judged, err := s.app.Inspection.ClearFinding(ctx, by, in.ID, in.Body)
			return out[inspection.Judged]{judged}, err
		},
	)
	handle(
		s,
		operation("symptoms", http.MethodGet, "/instruments/{id}/symptoms", "What a player may say of the instrument"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[[]school.Choice], error) {
			list, err := s.app.Inspection.Symptoms(ctx, by, in.ID)
			return out[[]school.Choice]{list}, err
		},
	)
	type diagnoseIn struct {
		ByID
		Symptom string `query:"symptom" required:"true"`
		Answers string `query:"answers" pattern:"^[yn]*$" maxLength:"100" doc:"y or n for each question so far"`
	}
	handle(
		s,
		operation("diagnose", http.MethodGet, "/instruments/{id}/diagnosis", "Where a symptom leads"),
		func(ctx context.Context, by journal.Person, in *diagnoseIn) (out[inspection.Diagnosis], error) {
			answers := make([]bool, len(in.Answers))
			for n, c := range in.Answers {
				answers[n] = c == 'y'
			}
			d, err := s.app.Inspection.Diagnose(ctx, by, in.ID, in.Symptom, answers)
			return out[inspection.Diagnosis]{d}, err
		},
	)
	s.photoRoutes()
	s.practiceRoutes()
}

func (s *server) photoRoutes() {
	type photoIn struct {
		Repeatable
		ByID
		Photo    uuid.UUID `query:"photo" required:"true" doc:"Its id, made by the client"`
		Portrait bool      `query:"portrait" doc:"It shows the whole instrument, to know it again"`
		RawBody  []byte    `contentType:"application/octet-stream"`
	}
	add := operation("add-photo", http.MethodPost, "/instruments/{id}/photos", "Send a photograph, JPEG or PNG")
	add.MaxBodyBytes = formats.MaxPhotoBytes + 1024
	handle(s, add, func(ctx context.Context, by journal.Person, in *photoIn) (out[inspection.Photo], error) {
		p, err := s.app.Inspection.AddPhoto(ctx, by, in.ID, in.Photo, in.Portrait, in.RawBody)
		return out[inspection.Photo]{p}, err
	})
	type dropIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("drop-portrait", http.MethodDelete, "/photos/{id}", "Take the portrait of an instrument away for good"),
		func(ctx context.Context, by journal.Person, in *dropIn) (nothing, error) {
			return nothing{}, s.app.Inspection.DropPortrait(ctx, by, in.ID)
		},
	)
	type readIn struct {
		ByID
		Thumbnail bool `query:"thumbnail"`
	}
	type picture struct {
		ContentType string `header:"Content-Type"`
		Cache       string `header:"Cache-Control"`
		Body        []byte
	}
	read := operation("photo", http.MethodGet, "/photos/{id}", "A photograph")
	read.Responses = map[string]*huma.Response{"200": {Description: "JPEG", Content: map[string]*huma.MediaType{"image/jpeg": {}}}}
	handle(s, read, func(ctx context.Context, by journal.Person, in *readIn) (picture, error) {
		jpeg, err := s.app.Inspection.Photo(ctx, by, in.ID, in.Thumbnail)
		return picture{"image/jpeg", "private, max-age=31536000, immutable", jpeg}, err
	})
}

func (s *server) practiceRoutes() {
	handle(
		s,
		operation("practices", http.MethodGet, "/practices", "What the trade disagrees on, and what holds here"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]settings.SchoolPractice], error) {
			list, err := s.app.Settings.Practices(ctx, by)
			return out[[]settings.SchoolPractice]{list}, err
		},
	)
	type chooseIn struct {
		Repeatable
		Versioned
		Body struct {
			Choices catalog.Choices `json:"choices" doc:"Option by practice; those not named stay"`
		}
	}
	handle(
		s,
		operation("choose-practices", http.MethodPut, "/practices", "Choose sides for the school"),
		func(ctx context.Context, by journal.Person, in *chooseIn) (nothing, error) {
			return nothing{}, s.app.Settings.ChoosePractices(ctx, by, in.Body.Choices)
		},
	)
	type ownIn struct {
		Repeatable
		Versioned
		ByID
		Body settings.PracticeChange
	}
	handle(
		s,
		operation("choose-for-instrument", http.MethodPut, "/instruments/{id}/practice", "Choose a side for one instrument"),
		func(ctx context.Context, by journal.Person, in *ownIn) (nothing, error) {
			return nothing{}, s.app.Settings.ChooseForInstrument(ctx, by, in.ID, in.Body)
		},
	)
	type limitIn struct {
		Repeatable
		Versioned
		ByID
		Body settings.LimitChange
	}
	handle(
		s,
		operation("set-own-limit", http.MethodPut, "/instruments/{id}/limit", "Give a clock of one instrument its own limit"),
		func(ctx context.Context, by journal.Person, in *limitIn) (nothing, error) {
			return nothing{}, s.app.Settings.SetOwnLimit(ctx, by, in.ID, in.Body)
		},
	)
}
