package web

import (
	"bytes"
	"context"
	"net/http"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
)

// roomRoutes are the walls, moving, shelves, stocktakes and loaners.
func (s *server) roomRoutes() {
	handle(
		s,
		operation("walls", http.MethodGet, "/room", "The rooms as they stand"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]inventory.Wall], error) {
			walls, err := s.app.Inventory.Walls(ctx, by)
			return out[[]inventory.Wall]{walls}, err
		},
	)
	type movesIn struct {
		Repeatable
		Body inventory.Moves
	}
	handle(
		s,
		operation("move", http.MethodPost, "/moves", "Move instruments, all or none"),
		func(ctx context.Context, by journal.Person, in *movesIn) (out[journal.Changed], error) {
			c, err := s.app.Inventory.Move(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type manyIn struct {
		Repeatable
		Body inventory.ManyInstruments
	}
	handle(
		s,
		operation("change-instruments", http.MethodPatch, "/instruments", "Change many instruments at once, all or none"),
		func(ctx context.Context, by journal.Person, in *manyIn) (out[journal.Changed], error) {
			c, err := s.app.Inventory.ChangeMany(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type lendIn struct {
		Repeatable
		ByID
		Body lending.Lending
	}
	handle(
		s,
		operation("lend", http.MethodPost, "/instruments/{id}/lend", "Lend another instrument instead of a stopped one"),
		func(ctx context.Context, by journal.Person, in *lendIn) (out[journal.Changed], error) {
			c, err := s.app.Lending.Lend(ctx, by, in.ID, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type shelfIn struct {
		Repeatable
		Body inventory.Shelf
	}
	handle(
		s,
		operation("shelves", http.MethodGet, "/shelves", "All shelves"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]inventory.Shelf], error) {
			list, err := s.app.Inventory.Shelves(ctx, by)
			return out[[]inventory.Shelf]{list}, err
		},
	)
	handle(
		s,
		operation("save-shelf", http.MethodPut, "/shelves", "Add or change a shelf"),
		func(ctx context.Context, by journal.Person, in *shelfIn) (nothing, error) {
			return nothing{}, s.app.Inventory.SaveShelf(ctx, by, in.Body)
		},
	)
	type deleteIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("delete-shelf", http.MethodDelete, "/shelves/{id}", "Take a shelf away"),
		func(ctx context.Context, by journal.Person, in *deleteIn) (nothing, error) {
			return nothing{}, s.app.Inventory.DeleteShelf(ctx, by, in.ID)
		},
	)
	s.labelRoutes()
	s.stocktakeRoutes()
}

func (s *server) labelRoutes() {
	type labelsIn struct {
		Tags    []string `query:"tags" maxItems:"500"`
		Players []string `query:"players" maxItems:"1000" doc:"Ids of those whose cards to print, after the instruments"`
		Sheet   string   `query:"sheet" default:"a4-24"`
		Skip    int      `query:"skip" doc:"Places of the sheet that are used up already"`
	}
	labels := operation("labels", http.MethodGet, "/labels.pdf", "Labels for instruments and cards for players, with QR code and Code 128")
	labels.Responses = answers("PDF", "application/pdf")
	handle(s, labels, func(ctx context.Context, by journal.Person, in *labelsIn) (file, error) {
		wish := inventory.LabelWish{Tags: in.Tags, Sheet: in.Sheet, Skip: in.Skip}
		var err error
		if wish.Players, err = idsIn("players", in.Players); err != nil {
			return file{}, err
		}
		var sheet bytes.Buffer
		err = s.app.Inventory.Labels(ctx, by, wish, &sheet)
		return file{"application/pdf", `inline; filename="labels.pdf"`, sheet.Bytes()}, err
	})
}

func (s *server) stocktakeRoutes() {
	type beginIn struct {
		Repeatable
		Body struct {
			ID   uuid.UUID `json:"id" doc:"Made by the client"`
			Room string    `json:"room"`
		}
	}
	handle(
		s,
		operation("begin-stocktake", http.MethodPost, "/stocktakes", "Begin to count a room, or go on with the count under way"),
		func(ctx context.Context, by journal.Person, in *beginIn) (out[inventory.Stocktake], error) {
			t, err := s.app.Inventory.BeginStocktake(ctx, by, in.Body.ID, in.Body.Room)
			return out[inventory.Stocktake]{t}, err
		},
	)
	handle(
		s,
		operation("stocktake", http.MethodGet, "/stocktakes/{id}", "A count of a room"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[inventory.Stocktake], error) {
			t, err := s.app.Inventory.Stocktake(ctx, by, in.ID)
			return out[inventory.Stocktake]{t}, err
		},
	)
	type scanIn struct {
		Repeatable
		ByID
		Body inventory.ScanIn
	}
	handle(
		s,
		operation("scan", http.MethodPost, "/stocktakes/{id}/scans", "Note a tag that was seen"),
		func(ctx context.Context, by journal.Person, in *scanIn) (out[inventory.Stocktake], error) {
			t, err := s.app.Inventory.Scan(ctx, by, in.ID, in.Body)
			return out[inventory.Stocktake]{t}, err
		},
	)
	type endIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("end-stocktake", http.MethodPost, "/stocktakes/{id}/end", "End a count"),
		func(ctx context.Context, by journal.Person, in *endIn) (out[inventory.Stocktake], error) {
			t, err := s.app.Inventory.EndStocktake(ctx, by, in.ID)
			return out[inventory.Stocktake]{t}, err
		},
	)
}
