package web

import (
	"context"
	"net/http"

	"github.com/google/uuid"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/settings"
)

func (s *server) settingRoutes() {
	handle(
		s,
		operation("settings", http.MethodGet, "/settings", "All settings"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[settings.Settings], error) {
			all, err := s.app.Settings.Settings(ctx, by)
			return out[settings.Settings]{all}, err
		},
	)
	type schoolIn struct {
		Repeatable
		Body settings.School
	}
	handle(
		s,
		operation("save-school", http.MethodPut, "/settings/school", "Save the school's choices"),
		func(ctx context.Context, by journal.Person, in *schoolIn) (nothing, error) {
			return nothing{}, s.app.Settings.SaveSchool(ctx, by, in.Body)
		},
	)
	handle(
		s,
		operation("people", http.MethodGet, "/settings/people", "Who signs in"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]access.Colleague], error) {
			list, err := s.app.Access.People(ctx, by)
			return out[[]access.Colleague]{list}, err
		},
	)
	type personIn struct {
		Repeatable
		ID   uuid.UUID `path:"id"`
		Body struct {
			access.Colleague
			Password access.Secret `json:"password" maxLength:"200" doc:"Needed for a new person; empty leaves it as it is"`
		}
	}
	handle(
		s,
		operation("save-person", http.MethodPut, "/settings/people/{id}", "Add or change a person"),
		func(ctx context.Context, by journal.Person, in *personIn) (nothing, error) {
			in.Body.Colleague.ID = in.ID
			return nothing{}, s.app.Access.SaveColleague(ctx, by, in.Body.Colleague, in.Body.Password)
		},
	)
	type passwordIn struct {
		Repeatable
		Body struct {
			Old      access.Secret `json:"old" maxLength:"200"`
			Password access.Secret `json:"password" maxLength:"200"`
			KeepKeys []uuid.UUID   `json:"keep_keys,omitempty" maxItems:"200" doc:"Keys for scripts and passkeys that stay; all others of one's own end"`
		}
	}
	handle(
		s,
		operation("change-password", http.MethodPut, "/session/password", "Change one's own password"),
		func(ctx context.Context, by journal.Person, in *passwordIn) (nothing, error) {
			return nothing{}, s.app.Access.ChangePassword(ctx, by, in.Body.Old, in.Body.Password, in.Body.KeepKeys)
		},
	)
	type linkIn struct {
		Repeatable
		ByID
		Body struct {
			Secret access.Secret `json:"secret" maxLength:"100" doc:"Made by the client: at least 32 characters of chance"`
		}
	}
	handle(
		s,
		operation("password-link", http.MethodPut, "/settings/people/{id}/link",
			"Let a person choose a new password by a link, once and for a day"),
		func(ctx context.Context, by journal.Person, in *linkIn) (out[access.PasswordLink], error) {
			link, err := s.app.Access.LinkFor(ctx, by, in.ID, in.Body.Secret)
			return out[access.PasswordLink]{link}, err
		},
	)
	handle(
		s,
		operation("keys", http.MethodGet, "/keys", "Keys for scripts: one's own, or for a director all of the school"),
		func(ctx context.Context, by journal.Person, _ *struct{}) (out[[]access.ScriptKey], error) {
			list, err := s.app.Access.Keys(ctx, by)
			return out[[]access.ScriptKey]{list}, err
		},
	)
	type keyIn struct {
		Repeatable
		Body access.NewKey
	}
	handle(
		s,
		operation("add-key", http.MethodPost, "/keys", "Make a key with which a script signs in as oneself"),
		func(ctx context.Context, by journal.Person, in *keyIn) (nothing, error) {
			return nothing{}, s.app.Access.AddKey(ctx, by, in.Body)
		},
	)
	type renewIn struct {
		Repeatable
		ByID
		Body access.Renewal
	}
	handle(
		s,
		operation("renew-key", http.MethodPut, "/keys/{id}", "Let one's own key end on another day"),
		func(ctx context.Context, by journal.Person, in *renewIn) (nothing, error) {
			return nothing{}, s.app.Access.RenewKey(ctx, by, in.ID, in.Body)
		},
	)
	type endIn struct {
		Repeatable
		ByID
	}
	handle(
		s,
		operation("end-key", http.MethodDelete, "/keys/{id}", "End a key"),
		func(ctx context.Context, by journal.Person, in *endIn) (nothing, error) {
			return nothing{}, s.app.Access.EndKey(ctx, by, in.ID)
		},
	)
	s.periodRoutes("term", "/settings/terms/{id}", settings.Terms)
	s.periodRoutes("break", "/settings/breaks/{id}", settings.Breaks)
	putAndDelete(s, "ensemble", "/settings/ensembles/{id}",
		func(ctx context.Context, by journal.Person, id uuid.UUID, e settings.Ensemble) error {
			e.ID = id
			return s.app.Settings.SaveEnsemble(ctx, by, e)
		},
		func(ctx context.Context, by journal.Person, id uuid.UUID, version int) error {
			return s.app.Settings.DeleteEnsemble(ctx, by, id, version)
		})
	putAndDelete(s, "concert", "/settings/concerts/{id}",
		func(ctx context.Context, by journal.Person, id uuid.UUID, c settings.Concert) error {
			c.ID = id
			return s.app.Settings.SaveConcert(ctx, by, c)
		},
		func(ctx context.Context, by journal.Person, id uuid.UUID, version int) error {
			return s.app.Settings.DeleteConcert(ctx, by, id, version)
		})
}

func (s *server) periodRoutes(name, path string, table settings.PeriodTable) {
	putAndDelete(s, name, path,
		func(ctx context.Context, by journal.Person, id uuid.UUID, p settings.Period) error {
			p.ID = id
			return s.app.Settings.SavePeriod(ctx, by, table, p)
		},
		func(ctx context.Context, by journal.Person, id uuid.UUID, version int) error {
			return s.app.Settings.DeletePeriod(ctx, by, table, id, version)
		})
}

// putAndDelete registers the two ways in which a setting of which there are many is changed. The client makes the id.
func putAndDelete[T any](
	s *server,
	name, path string,
	put func(context.Context, journal.Person, uuid.UUID, T) error,
	remove func(context.Context, journal.Person, uuid.UUID, int) error,
) {
	type putIn struct {
		Repeatable
		ID   uuid.UUID `path:"id"`
		Body T
	}
	handle(
		s,
		operation("save-"+name, http.MethodPut, path, "Add or change a "+name),
		func(ctx context.Context, by journal.Person, in *putIn) (nothing, error) {
			return nothing{}, put(ctx, by, in.ID, in.Body)
		},
	)
	type deleteIn struct {
		Repeatable
		ID      uuid.UUID `path:"id"`
		Version int       `query:"version" required:"true"`
	}
	handle(
		s,
		operation("delete-"+name, http.MethodDelete, path, "Remove a "+name),
		func(ctx context.Context, by journal.Person, in *deleteIn) (nothing, error) {
			return nothing{}, remove(ctx, by, in.ID, in.Version)
		},
	)
}
