package web

import (
	"context"
	"net/http"

	"github.com/google/uuid"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/products"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/formats"
)

// benchRoutes are turnovers, baths and deep cleaning: planned, run, recorded.
func (s *server) benchRoutes() {
	handle(
		s,
		operation("bench", http.MethodGet, "/bench", "What waits for the bench and what goes on there"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[bench.Bench], error) {
			b, err := s.app.Bench.Overview(ctx, by)
			return out[bench.Bench]{b}, err
		},
	)
	type planIn struct{ Body bench.Benching }
	handle(
		s,
		operation("plan-bench", http.MethodPost, "/bench/plan", "How the work would go; changes nothing"),
		func(ctx context.Context, by journal.Person, in *planIn) (out[bench.BenchPlan], error) {
			p, err := s.app.Bench.Plan(ctx, by, in.Body)
			return out[bench.BenchPlan]{p}, err
		},
	)
	type beginIn struct {
		Repeatable
		Body bench.Benching
	}
	handle(
		s,
		operation("begin-bench", http.MethodPost, "/bench/runs", "Begin the work"),
		func(ctx context.Context, by journal.Person, in *beginIn) (out[bench.Begun], error) {
			r, err := s.app.Bench.Begin(ctx, by, in.Body)
			return out[bench.Begun]{r}, err
		},
	)
	handle(
		s,
		operation("bench-run", http.MethodGet, "/bench/runs/{id}", "Work at the bench as it stands"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[bench.BenchRun], error) {
			r, err := s.app.Bench.Run(ctx, by, in.ID)
			return out[bench.BenchRun]{r}, err
		},
	)
	type tickIn struct {
		Repeatable
		ByID
		Body bench.Tick
	}
	handle(
		s,
		operation("tick-bench", http.MethodPost, "/bench/runs/{id}/tick", "Say that a step is done or that its time runs"),
		func(ctx context.Context, by journal.Person, in *tickIn) (out[bench.Ticked], error) {
			r, err := s.app.Bench.Tick(ctx, by, in.ID, in.Body)
			return out[bench.Ticked]{r}, err
		},
	)
	type replanIn struct {
		Repeatable
		ByID
		Body bench.Reworking
	}
	handle(
		s,
		operation("replan-bench", http.MethodPost, "/bench/runs/{id}/plan", "Plan what is left afresh"),
		func(ctx context.Context, by journal.Person, in *replanIn) (out[bench.Ticked], error) {
			r, err := s.app.Bench.Replan(ctx, by, in.ID, in.Body)
			return out[bench.Ticked]{r}, err
		},
	)
	type pourIn struct {
		Repeatable
		ByID
		Body bench.Repouring
	}
	handle(
		s,
		operation("pour-bench", http.MethodPost, "/bench/runs/{id}/lot", "Take a product from another lot from now on"),
		func(ctx context.Context, by journal.Person, in *pourIn) (out[bench.Ticked], error) {
			r, err := s.app.Bench.Pour(ctx, by, in.ID, in.Body)
			return out[bench.Ticked]{r}, err
		},
	)
	type takeOffIn struct {
		Repeatable
		ByID
		Body bench.TakingOff
	}
	handle(
		s,
		operation("take-off-bench", http.MethodPost, "/bench/runs/{id}/take-off", "Take an instrument off the bench unfinished"),
		func(ctx context.Context, by journal.Person, in *takeOffIn) (out[bench.Ticked], error) {
			r, err := s.app.Bench.TakeOff(ctx, by, in.ID, in.Body)
			return out[bench.Ticked]{r}, err
		},
	)
	type endIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("end-bench", http.MethodPost, "/bench/runs/{id}/end", "End the work; what is not finished stays held"),
		func(ctx context.Context, by journal.Person, in *endIn) (out[bench.Ticked], error) {
			r, err := s.app.Bench.End(ctx, by, in.ID)
			return out[bench.Ticked]{r}, err
		},
	)
	s.benchRecordRoutes()
	s.productRoutes()
}

func (s *server) benchRecordRoutes() {
	type recordsIn struct {
		Instrument string `query:"instrument" format:"uuid" doc:"Of this one alone"`
	}
	handle(
		s,
		operation("bench-records", http.MethodGet, "/bench/records", "What was finished at the bench, the latest first"),
		func(ctx context.Context, by journal.Person, in *recordsIn) (out[[]bench.Recorded], error) {
			var of *uuid.UUID
			if id, err := uuid.Parse(in.Instrument); err == nil {
				of = &id
			}
			list, err := s.app.Bench.Records(ctx, by, of)
			return out[[]bench.Recorded]{list}, err
		},
	)
	type spanIn struct {
		From string `query:"from" format:"date" doc:"A year ago when left out"`
		To   string `query:"to" format:"date" doc:"Today when left out"`
	}
	tableRoutes(s, tableOf[spanIn]{
		"bench-records", "/bench/records", "What was done at the bench, a line a step, for the safety officer",
		func(ctx context.Context, by journal.Person, in *spanIn, write formats.Writer) error {
			from, err := dayOf("from", in.From)
			if err != nil {
				return err
			}
			to, err := dayOf("to", in.To)
			if err != nil {
				return err
			}
			return s.app.Bench.WriteRecords(ctx, by, from, to, write)
		},
	})
}

func (s *server) productRoutes() {
	handle(
		s,
		operation("products", http.MethodGet, "/products", "What the school disinfects with"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[products.Products], error) {
			p, err := s.app.Products.Products(ctx, by)
			return out[products.Products]{p}, err
		},
	)
	type productIn struct {
		Repeatable
		Body products.Product
	}
	handle(
		s,
		operation("save-product", http.MethodPut, "/products", "Add a product or change one"),
		func(ctx context.Context, by journal.Person, in *productIn) (nothing, error) {
			return nothing{}, s.app.Products.SaveProduct(ctx, by, in.Body)
		},
	)
	type sheetIn struct {
		Repeatable
		Versioned
		ByID
		RawBody []byte `contentType:"application/octet-stream"`
	}
	keep := operation("save-safety-sheet", http.MethodPut, "/products/{id}/safety-sheet", "Keep the safety sheet of a product, a PDF")
	keep.MaxBodyBytes = products.MaxSheetBytes + 1024
	handle(s, keep, func(ctx context.Context, by journal.Person, in *sheetIn) (nothing, error) {
		return nothing{}, s.app.Products.SaveSafetySheet(ctx, by, in.ID, in.RawBody)
	})
	read := operation("safety-sheet", http.MethodGet, "/products/{id}/safety-sheet", "The safety sheet of a product")
	read.Responses = answers("PDF", "application/pdf")
	handle(s, read, func(ctx context.Context, by journal.Person, in *ByID) (file, error) {
		pdf, err := s.app.Products.SafetySheet(ctx, by, in.ID)
		return file{"application/pdf", `inline; filename="safety-sheet.pdf"`, pdf}, err
	})
	type vesselIn struct {
		Repeatable
		Versioned
		Body hygiene.Vessel
	}
	handle(
		s,
		operation("save-vessel", http.MethodPut, "/soak-vessel", "Say what mouthpieces soak in"),
		func(ctx context.Context, by journal.Person, in *vesselIn) (nothing, error) {
			return nothing{}, s.app.Products.SaveVessel(ctx, by, in.Body)
		},
	)
}
