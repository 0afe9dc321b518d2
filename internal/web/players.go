package web

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"solfeggio/internal/app"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// playerRoutes are players, rosters, proposals, handing out and taking back.
func (s *server) playerRoutes() {
	handle(s, operation("players", http.MethodGet, "/players", "All players, those who left last"), func(ctx context.Context, by app.Person, _ *struct{}) (out[[]app.ListedPlayer], error) {
		list, err := s.app.Players(ctx, by)
		return out[[]app.ListedPlayer]{list}, err
	})
	type playerIn struct {
		Repeatable
		Body store.Player
	}
	handle(s, operation("save-player", http.MethodPut, "/players", "Add or change a player"), func(ctx context.Context, by app.Person, in *playerIn) (nothing, error) {
		return nothing{}, s.app.SavePlayer(in.in(ctx), by, in.Body)
	})
	type eraseIn struct {
		Repeatable
		ByID
	}
	handle(s, operation("erase-player", http.MethodDelete, "/players/{id}", "Erase a player who has left; their instruments keep their history"), func(ctx context.Context, by app.Person, in *eraseIn) (nothing, error) {
		return nothing{}, s.app.ErasePlayer(in.in(ctx), by, in.ID)
	})
	type rosterIn struct {
		Repeatable
		DryRun  bool   `query:"dry_run"`
		Leavers bool   `query:"leavers" doc:"Players of an earlier roster who are not in this one have left today"`
		Mapping string `query:"mapping" maxLength:"4000" doc:"Our columns by those of a CSV file, as a JSON object"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	roster := operation("import-roster", http.MethodPost, "/players/roster", "Import players from a OneRoster 1.1 archive or a CSV file, all or nothing")
	roster.MaxBodyBytes = formats.MaxRosterBytes + 1024
	handle(s, roster, func(ctx context.Context, by app.Person, in *rosterIn) (out[app.RosterReport], error) {
		roster := app.RosterFile{Content: in.RawBody, MarkLeavers: in.Leavers, DryRun: in.DryRun}
		if in.Mapping != "" {
			if err := json.Unmarshal([]byte(in.Mapping), &roster.Mapping); err != nil {
				return out[app.RosterReport]{}, &app.Fault{Kind: app.Invalid, Message: "The mapping cannot be read.", Fields: []app.Field{{Path: "mapping", Message: "is no JSON object of texts"}}}
			}
		}
		report, err := s.app.ImportRoster(in.in(ctx), by, roster)
		return out[app.RosterReport]{report}, err
	})
	export := operation("export-players", http.MethodGet, "/players.csv", "Export the players who are here")
	export.Responses = map[string]*huma.Response{"200": {Description: "CSV in UTF-8", Content: map[string]*huma.MediaType{"text/csv": {}}}}
	handle(s, export, func(ctx context.Context, by app.Person, _ *struct{}) (file, error) {
		var text bytes.Buffer
		err := s.app.ExportPlayers(ctx, by, &text)
		return file{"text/csv; charset=utf-8", `attachment; filename="players.csv"`, text.Bytes()}, err
	})
	type wishIn struct{ Body app.Wish }
	handle(s, operation("propose", http.MethodPost, "/proposals", "Who should get what; nothing is changed"), func(ctx context.Context, by app.Person, in *wishIn) (out[app.Proposal], error) {
		p, err := s.app.Propose(ctx, by, in.Body)
		return out[app.Proposal]{p}, err
	})
	type handOutIn struct {
		Repeatable
		Body app.HandOut
	}
	handle(s, operation("hand-out", http.MethodPost, "/hand-outs", "Give instruments to players, all or none"), func(ctx context.Context, by app.Person, in *handOutIn) (out[app.Changed], error) {
		c, err := s.app.HandOut(in.in(ctx), by, in.Body)
		return out[app.Changed]{c}, err
	})
	type untilIn struct {
		Until string `query:"until" format:"date" doc:"Ten months from now when left out"`
	}
	handle(s, operation("size-order", http.MethodGet, "/size-order", "Who will outgrow what, and so which sizes are needed"), func(ctx context.Context, by app.Person, in *untilIn) (out[app.SizeOrder], error) {
		var until day.Day
		if in.Until != "" {
			var err error
			if until, err = day.Parse(in.Until); err != nil {
				return out[app.SizeOrder]{}, &app.Fault{Kind: app.Invalid, Message: "Some fields cannot be used.", Fields: []app.Field{{Path: "until", Message: err.Error(), Value: in.Until}}}
			}
		}
		o, err := s.app.Outgrow(ctx, by, until)
		return out[app.SizeOrder]{o}, err
	})
	type returnIn struct {
		Repeatable
		ByID
	}
	handle(s, operation("return", http.MethodPost, "/instruments/{id}/return", "Take an instrument back"), func(ctx context.Context, by app.Person, in *returnIn) (out[app.Changed], error) {
		c, err := s.app.Return(in.in(ctx), by, in.ID)
		return out[app.Changed]{c}, err
	})
}
