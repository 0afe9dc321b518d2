package web

import (
	"context"
	"net/http"
	"slices"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
)

// playerRoutes are players, rosters and proposals.
func (s *server) playerRoutes() {
	type listIn struct {
		Page
		Kind     string `query:"kind" doc:"Only who learns this kind, by its key"`
		Ensemble string `query:"ensemble" doc:"Only who plays there, by its name"`
	}
	handle(
		s,
		operation("players", http.MethodGet, "/players", "Players, those who left last"),
		func(ctx context.Context, by journal.Person, in *listIn) (out[[]roster.ListedPlayer], error) {
			list, err := s.app.Roster.Players(ctx, by)
			list = partOf(list, in.Page, func(p roster.ListedPlayer) bool {
				return (in.Kind == "" || in.Kind == p.Kind) && (in.Ensemble == "" || slices.Contains(p.EnsembleNames, in.Ensemble))
			})
			return out[[]roster.ListedPlayer]{list}, err
		},
	)
	handle(
		s,
		operation("new-player", http.MethodGet, "/players/new", "A player of whom nothing is known yet but what is usual"),
		func(_ context.Context, by journal.Person, _ *struct{}) (out[roster.Player], error) {
			p, err := s.app.Roster.NewPlayer(by)
			return out[roster.Player]{p}, err
		},
	)
	type playerIn struct {
		Repeatable
		Body roster.Player
	}
	handle(
		s,
		operation("save-player", http.MethodPut, "/players", "Add or change a player"),
		func(ctx context.Context, by journal.Person, in *playerIn) (nothing, error) {
			return nothing{}, s.app.Roster.SavePlayer(ctx, by, in.Body)
		},
	)
	type manyIn struct {
		Repeatable
		Body roster.Many
	}
	handle(
		s,
		operation("change-players", http.MethodPatch, "/players", "Change many players at once, all or none"),
		func(ctx context.Context, by journal.Person, in *manyIn) (out[journal.Changed], error) {
			changed, err := s.app.Roster.ChangeMany(ctx, by, in.Body)
			return out[journal.Changed]{changed}, err
		},
	)
	handle(
		s,
		operation("mentions", http.MethodGet, "/players/{id}/mentions", "What people typed about a player, and what is to become of it"),
		func(ctx context.Context, by journal.Person, in *ByID) (out[[]roster.Mention], error) {
			list, err := s.app.Roster.Mentions(ctx, by, in.ID)
			return out[[]roster.Mention]{list}, err
		},
	)
	type eraseIn struct {
		Repeatable
		ByID
		Body roster.Erasing
	}
	handle(
		s,
		operation("erase-player", http.MethodPost, "/players/{id}/erase", "Erase a player who has left; their instruments keep their history"),
		func(ctx context.Context, by journal.Person, in *eraseIn) (nothing, error) {
			return nothing{}, s.app.Roster.ErasePlayer(ctx, by, in.ID, in.Body)
		},
	)
	data := operation("player-data", http.MethodGet, "/players/{id}/data", "All that is kept of a player, as a file")
	data.Responses = answers("JSON, table by table", "application/json")
	handle(s, data, func(ctx context.Context, by journal.Person, in *ByID) (file, error) {
		text, err := s.app.Roster.PlayerData(ctx, by, in.ID)
		return file{"application/json", `attachment; filename="player.json"`, text}, err
	})
	type rosterIn struct {
		Repeatable
		Reading
		DryRun  bool     `query:"dry_run"`
		Leavers bool     `query:"leavers" doc:"Players of an earlier roster who are not in this one have left today"`
		Classes []string `query:"classes,explode" doc:"Of an archive, only who is in one of these classes; all when left out"`
		Years   []string `query:"years,explode" doc:"The same by year"`
		RawBody []byte   `contentType:"application/octet-stream"`
	}
	upload := operation(
		"import-roster",
		http.MethodPost,
		"/players/roster",
		"Import players from a OneRoster 1.1 archive, a CSV file or a workbook, all or nothing",
	)
	upload.MaxBodyBytes = formats.MaxRosterBytes + 1024
	handle(s, upload, func(ctx context.Context, by journal.Person, in *rosterIn) (out[roster.RosterReport], error) {
		reading, err := in.read()
		if err != nil {
			return out[roster.RosterReport]{}, err
		}
		sent := roster.RosterFile{
			Content: in.RawBody, Reading: reading, Classes: in.Classes, Years: in.Years, MarkLeavers: in.Leavers, DryRun: in.DryRun,
		}
		report, err := s.app.Roster.ImportRoster(ctx, by, sent)
		return out[roster.RosterReport]{report}, err
	})
	tableRoutes(s, tableOf[struct{}]{
		"export-players", "/players", "The players who are here, as a file that can come in again",
		func(ctx context.Context, by journal.Person, _ *struct{}, write formats.Writer) error {
			return s.app.Roster.ExportPlayers(ctx, by, write)
		},
	})
	type wishIn struct{ Body placing.Wish }
	handle(
		s,
		offering(operation("propose", http.MethodPost, "/proposals", "Who should get what; nothing is changed")),
		func(ctx context.Context, by journal.Person, in *wishIn) (out[placing.Proposal], error) {
			p, err := s.app.Placing.Propose(ctx, by, in.Body)
			return out[placing.Proposal]{p}, err
		},
	)
	handle(
		s,
		offering(operation("promises", http.MethodGet, "/promises", "Which free instrument is for whom, and why")),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[placing.Promises], error) {
			p, err := s.app.Placing.Promises(ctx, by)
			return out[placing.Promises]{p}, err
		},
	)
	type promiseIn struct {
		Repeatable
		Body placing.Promising
	}
	handle(
		s,
		operation("promise", http.MethodPost, "/promises", "Keep a free instrument for a player until a day"),
		func(ctx context.Context, by journal.Person, in *promiseIn) (out[journal.Changed], error) {
			c, err := s.app.Placing.Promise(ctx, by, in.Body)
			return out[journal.Changed]{c}, err
		},
	)
	type endPromiseIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("end-promise", http.MethodDelete, "/instruments/{id}/promise", "Take a promise back"),
		func(ctx context.Context, by journal.Person, in *endPromiseIn) (out[journal.Changed], error) {
			c, err := s.app.Placing.EndPromise(ctx, by, in.ID)
			return out[journal.Changed]{c}, err
		},
	)
	type untilIn struct {
		Until string `query:"until" format:"date" doc:"Ten months from now when left out"`
	}
	handle(
		s,
		offering(operation("size-order", http.MethodGet, "/size-order", "Who will outgrow what, and so which sizes are needed")),
		func(ctx context.Context, by journal.Person, in *untilIn) (out[placing.SizeOrder], error) {
			given, err := dayOf("until", in.Until)
			if err != nil {
				return out[placing.SizeOrder]{}, err
			}
			var until day.Day
			if given != nil {
				until = *given
			}
			o, err := s.app.Placing.Outgrow(ctx, by, until)
			return out[placing.SizeOrder]{o}, err
		},
	)
}
