package web

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/placing"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// playerRoutes are players, rosters and proposals.
func (s *server) playerRoutes() {
	handle(
		s,
		operation("players", http.MethodGet, "/players", "All players, those who left last"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]roster.ListedPlayer], error) {
			list, err := s.app.Roster.Players(ctx, by)
			return out[[]roster.ListedPlayer]{list}, err
		},
	)
	handle(
		s,
		operation("new-player", http.MethodGet, "/players/new", "A player of whom nothing is known yet but what is usual"),
		func(_ context.Context, by journal.Person, _ *struct{}) (out[store.Player], error) {
			p, err := s.app.Roster.NewPlayer(by)
			return out[store.Player]{p}, err
		},
	)
	type playerIn struct {
		Repeatable
		Body store.Player
	}
	handle(
		s,
		operation("save-player", http.MethodPut, "/players", "Add or change a player"),
		func(ctx context.Context, by journal.Person, in *playerIn) (nothing, error) {
			return nothing{}, s.app.Roster.SavePlayer(ctx, by, in.Body)
		},
	)
	type eraseIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("erase-player", http.MethodDelete, "/players/{id}", "Erase a player who has left; their instruments keep their history"),
		func(ctx context.Context, by journal.Person, in *eraseIn) (nothing, error) {
			return nothing{}, s.app.Roster.ErasePlayer(ctx, by, in.ID)
		},
	)
	type rosterIn struct {
		Repeatable
		DryRun  bool   `query:"dry_run"`
		Leavers bool   `query:"leavers" doc:"Players of an earlier roster who are not in this one have left today"`
		Mapping string `query:"mapping" maxLength:"4000" doc:"Our columns by those of a CSV file, as a JSON object"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	upload := operation(
		"import-roster",
		http.MethodPost,
		"/players/roster",
		"Import players from a OneRoster 1.1 archive or a CSV file, all or nothing",
	)
	upload.MaxBodyBytes = formats.MaxRosterBytes + 1024
	handle(s, upload, func(ctx context.Context, by journal.Person, in *rosterIn) (out[roster.RosterReport], error) {
		sent := roster.RosterFile{Content: in.RawBody, MarkLeavers: in.Leavers, DryRun: in.DryRun}
		if in.Mapping != "" {
			if err := json.Unmarshal([]byte(in.Mapping), &sent.Mapping); err != nil {
				return out[roster.RosterReport]{}, &journal.Fault{
					Kind:    journal.Invalid,
					Message: "The mapping cannot be read.",
					Fields:  []journal.Field{{Path: "mapping", Message: "is no JSON object of texts"}},
				}
			}
		}
		report, err := s.app.Roster.ImportRoster(ctx, by, sent)
		return out[roster.RosterReport]{report}, err
	})
	export := operation("export-players", http.MethodGet, "/players.csv", "Export the players who are here")
	export.Responses = answers("CSV in UTF-8", "text/csv")
	handle(s, export, func(ctx context.Context, by journal.Person, _ *struct{}) (file, error) {
		var text bytes.Buffer
		err := s.app.Roster.ExportPlayers(ctx, by, &text)
		return file{"text/csv; charset=utf-8", `attachment; filename="players.csv"`, text.Bytes()}, err
	})
	type wishIn struct{ Body placing.Wish }
	handle(
		s,
		operation("propose", http.MethodPost, "/proposals", "Who should get what; nothing is changed"),
		func(ctx context.Context, by journal.Person, in *wishIn) (out[placing.Proposal], error) {
			p, err := s.app.Placing.Propose(ctx, by, in.Body)
			return out[placing.Proposal]{p}, err
		},
	)
	type untilIn struct {
		Until string `query:"until" format:"date" doc:"Ten months from now when left out"`
	}
	handle(
		s,
		operation("size-order", http.MethodGet, "/size-order", "Who will outgrow what, and so which sizes are needed"),
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
