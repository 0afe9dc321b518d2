package web

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/today"
	"solfeggio/internal/core/calc"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/why"
	"solfeggio/internal/formats"
)

func (s *server) routes() {
	s.sessionRoutes()
	s.careRoutes()
	s.instrumentRoutes()
	s.conditionRoutes()
	s.roomRoutes()
	s.playerRoutes()
	s.handOverRoutes()
	s.supplyRoutes()
	s.noticeRoutes()
	s.rentalRoutes()
	s.benchRoutes()
	s.upkeepRoutes()
	s.shopRoutes()
	s.seasonRoutes()
	s.cardRoutes()
	s.settingRoutes()
	s.calcRoutes()
}

// ByID is the id in a path.
type ByID struct {
	ID uuid.UUID `path:"id"`
}

func (s *server) careRoutes() {
	type todayIn struct {
		Minutes float64 `query:"minutes" default:"25" minimum:"0" maximum:"1440"`
		Helpers int     `query:"helpers" default:"0" minimum:"0" maximum:"100"`
	}
	handle(
		s,
		operation("header", http.MethodGet, "/header", "The school's date and next concert"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[today.Header], error) {
			h, err := s.app.Today.Header(ctx, by)
			return out[today.Header]{h}, err
		},
	)
	handle(
		s,
		offering(operation("today", http.MethodGet, "/today", "What needs doing, and what first")),
		func(ctx context.Context, by journal.Person, in *todayIn) (out[today.Today], error) {
			t, err := s.app.Today.Today(ctx, by, in.Minutes, in.Helpers)
			return out[today.Today]{t}, err
		},
	)
	handle(
		s,
		operation("first-steps", http.MethodGet, "/first-steps", "What a new school can enter, and how far it has come"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]today.FirstStep], error) {
			list, err := s.app.Today.FirstSteps(ctx, by)
			return out[[]today.FirstStep]{list}, err
		},
	)
	type asideIn struct {
		Repeatable
		Body today.Aside
	}
	handle(
		s,
		operation("put-step-aside", http.MethodPost, "/first-steps", "Do without one of the first steps, or take it up again"),
		func(ctx context.Context, by journal.Person, in *asideIn) (nothing, error) {
			return nothing{}, s.app.Today.PutAside(ctx, by, in.Body)
		},
	)
	type dueIn struct {
		First int `query:"first" default:"0" minimum:"0" maximum:"10000000" doc:"How many to pass over"`
		Most  int `query:"most" default:"200" minimum:"1" maximum:"2000"`
	}
	handle(
		s,
		operation("due", http.MethodGet, "/due", "What is due or late, most worth first, page by page, by place"),
		func(ctx context.Context, by journal.Person, in *dueIn) (out[today.DueList], error) {
			list, err := s.app.Today.Due(ctx, by, in.First, in.Most)
			return out[today.DueList]{list}, err
		},
	)
	handle(
		s,
		operation("rounds", http.MethodGet, "/rounds", "One task over many instruments, in shelf order"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]today.Round], error) {
			rounds, err := s.app.Today.Rounds(ctx, by)
			return out[[]today.Round]{rounds}, err
		},
	)
	type finishIn struct {
		Repeatable
		Body care.Finish
	}
	handle(
		s,
		operation("finish", http.MethodPost, "/care", "Record care as done"),
		func(ctx context.Context, by journal.Person, in *finishIn) (out[care.Finished], error) {
			f, err := s.app.Care.Finish(ctx, by, in.Body)
			return out[care.Finished]{f}, err
		},
	)
	type undoIn struct {
		Repeatable
		Body school.Undo
	}
	handle(
		s,
		operation("undo", http.MethodPost, "/undo", "Take events back"),
		func(ctx context.Context, by journal.Person, in *undoIn) (out[school.Undone], error) {
			u, err := s.app.Schools.Undo(ctx, by, in.Body)
			return out[school.Undone]{u}, err
		},
	)
	handle(
		s,
		operation("catalog", http.MethodGet, "/catalog", "Kinds, materials, places, routines and what the trade disagrees on"),
		func(context.Context, journal.Person, *struct{}) (out[*catalog.Catalog], error) {
			return out[*catalog.Catalog]{s.app.Schools.Catalog}, nil
		},
	)
}

func (s *server) instrumentRoutes() {
	type listIn struct {
		Page
		Kind     string `query:"kind" doc:"Only of this kind, by its key"`
		Mark     string `query:"mark" enum:"ready,opens,due,late,player,held,shop,stopped" doc:"Only what stands so"`
		Room     string `query:"room" doc:"Only what belongs there"`
		Ensemble string `query:"ensemble" doc:"Only what is played there, by its name"`
	}
	handle(
		s,
		operation("instruments", http.MethodGet, "/instruments", "Instruments in score order"),
		func(ctx context.Context, by journal.Person, in *listIn) (out[[]school.Listed], error) {
			list, err := s.app.Inventory.Instruments(ctx, by)
			list = partOf(list, in.Page, func(i school.Listed) bool {
				return (in.Kind == "" || in.Kind == i.Kind) && (in.Mark == "" || in.Mark == string(i.Mark)) && (in.Room == "" || in.Room == i.Room) &&
					(in.Ensemble == "" || slices.Contains(i.Ensembles, in.Ensemble))
			})
			return out[[]school.Listed]{list}, err
		},
	)
	handle(
		s,
		operation("instrument-file", http.MethodGet, "/instruments/{id}", "All that is known of an instrument"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[inventory.File], error) {
			f, err := s.app.Inventory.File(ctx, by, in.ID)
			return out[inventory.File]{f}, err
		},
	)
	type changeIn struct {
		Repeatable
		ByID
		Body lending.Change
	}
	handle(
		s,
		operation("change-instrument", http.MethodPut, "/instruments/{id}", "Change an instrument or how it is played"),
		func(ctx context.Context, by journal.Person, in *changeIn) (out[journal.Changed], error) {
			c, err := s.app.Inventory.ChangeInstrument(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type whyIn struct {
		ByID
		Routine string `query:"routine" required:"true"`
		Part    string `query:"part"`
	}
	handle(
		s,
		operation("why", http.MethodGet, "/instruments/{id}/why", "Why a clock stands where it does"),
		func(ctx context.Context, by journal.Person, in *whyIn) (out[[]why.Why], error) {
			reasons, err := s.app.Inventory.Why(ctx, by, in.ID, clocks.Key{Routine: in.Routine, Part: in.Part})
			return out[[]why.Why]{reasons}, err
		},
	)

	type importIn struct {
		Repeatable
		Reading
		DryRun  bool   `query:"dry_run"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	handle(
		s,
		operation("kinds", http.MethodGet, "/kinds", "Kinds of which an instrument can be added, in score order"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]inventory.Addable], error) {
			list, err := s.app.Inventory.Addables(ctx, by)
			return out[[]inventory.Addable]{list}, err
		},
	)
	type addIn struct {
		Repeatable
		Body inventory.Adding
	}
	handle(
		s,
		operation("add-instrument", http.MethodPost, "/instruments", "Add an instrument"),
		func(ctx context.Context, by journal.Person, in *addIn) (out[journal.Changed], error) {
			changed, err := s.app.Inventory.Add(ctx, by, in.Body)
			return out[journal.Changed]{changed}, err
		},
	)
	type kindIn struct {
		ByID
		Kind string `query:"kind" required:"true" maxLength:"100" doc:"Key of the other kind"`
	}
	handle(
		s,
		operation("as-kind", http.MethodGet, "/instruments/{id}/kind", "What would become of an instrument of another kind"),
		func(ctx context.Context, by journal.Person, in *kindIn) (out[inventory.Turn], error) {
			turn, err := s.app.Inventory.AsKind(ctx, by, in.ID, in.Kind)
			return out[inventory.Turn]{turn}, err
		},
	)
	type turnIn struct {
		Repeatable
		ByID
		Body inventory.Turning
	}
	handle(
		s,
		operation("turn", http.MethodPut, "/instruments/{id}/kind", "Correct the kind of an instrument"),
		func(ctx context.Context, by journal.Person, in *turnIn) (out[journal.Changed], error) {
			changed, err := s.app.Inventory.Turn(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{changed}, err
		},
	)
	in := operation("import-instruments", http.MethodPost, "/instruments/file",
		"Import instruments from a CSV file or a workbook, all or nothing")
	in.MaxBodyBytes = formats.MaxTableBytes + 1024
	handle(s, in, func(ctx context.Context, by journal.Person, in *importIn) (out[importing.ImportReport], error) {
		reading, err := in.read()
		if err != nil {
			return out[importing.ImportReport]{}, err
		}
		report, err := s.app.Importing.Import(ctx, by, importing.InstrumentFile{Content: in.RawBody, Reading: reading, DryRun: in.DryRun})
		return out[importing.ImportReport]{report}, err
	})
	tableRoutes(s, tableOf[struct{}]{
		"export-instruments", "/instruments", "All instruments, as a file that can come in again",
		func(ctx context.Context, by journal.Person, _ *struct{}, write formats.Writer) error {
			return s.app.Importing.Export(ctx, by, write)
		},
	})
	for _, l := range []struct {
		path, summary string
		write         func(*inventory.Room, context.Context, journal.Person, formats.Writer) error
	}{
		{"who-has-what", "Who has which instrument", (*inventory.Room).WriteHolders},
		{"shelves", "What stands where, slot by slot", (*inventory.Room).WriteShelves},
		{"sections", "All instruments in score order, with who has them and how they stand", (*inventory.Room).WriteSections},
	} {
		tableRoutes(s, tableOf[struct{}]{
			l.path, "/lists/" + l.path, l.summary,
			func(ctx context.Context, by journal.Person, _ *struct{}, write formats.Writer) error {
				return l.write(s.app.Inventory, ctx, by, write)
			},
		})
	}
}

// calcRoutes need no sign-in for small cases: the calculators are arithmetic and see nothing of any school.
func (s *server) calcRoutes() {
	huma.Register(
		s.api,
		huma.Operation{
			OperationID: "calculators",
			Method:      http.MethodGet,
			Path:        "/api/v1/calc",
			Summary:     "All calculators with their schemas",
		},
		func(context.Context, *struct{}) (*out[[]*calc.Calculator], error) {
			return &out[[]*calc.Calculator]{calc.All()}, nil
		},
	)
	type callIn struct {
		Name    string `path:"name" example:"care.due"`
		RawBody []byte `contentType:"application/json"`
	}
	huma.Register(s.api, huma.Operation{
		OperationID: "calculate", Method: http.MethodPost, Path: "/api/v1/calc/{name}",
		Summary: "Run a calculator; large cases ask for a sign-in", SkipValidateBody: true, MaxBodyBytes: maxCalcBytes,
		Errors: []int{http.StatusUnauthorized, http.StatusNotFound, http.StatusUnprocessableEntity, http.StatusServiceUnavailable},
	}, func(ctx context.Context, in *callIn) (*out[json.RawMessage], error) {
		c, err := calc.Find(in.Name)
		if err != nil {
			return nil, huma.Error404NotFound(err.Error())
		}
		text, err := s.calculate(ctx, c, in.RawBody)
		return &out[json.RawMessage]{text}, err
	})
}

// calculate runs a calculator while there is room for another search and somebody waits for it.
func (s *server) calculate(ctx context.Context, c *calc.Calculator, input []byte) (json.RawMessage, error) {
	wait, cancel := context.WithTimeout(ctx, calcWait)
	defer cancel()
	if err := s.calculating.Acquire(wait, 1); err != nil {
		return nil, busy
	}
	defer s.calculating.Release(1)
	ctx, cancel = context.WithTimeout(ctx, calcTime)
	defer cancel()
	result, err := c.Call(ctx, input)
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(err.Error(), calcDetail(err))
	}
	return json.Marshal(result)
}

func calcDetail(err error) error {
	at := field.Of(err)
	return &huma.ErrorDetail{Location: strings.TrimSuffix("body."+at.Path, "."), Message: at.Message}
}
