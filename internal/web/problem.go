package web

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"os"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"solfeggio/internal/app/journal"
)

const unexpected = "Something went wrong on the server. Nothing was changed; try again, and tell whoever runs Solfeggio if it stays."

// away is said where nothing more is known than that the database does not answer.
var away = journal.Unavailable.Message

var statusOf = map[journal.FaultKind]int{
	journal.Invalid:      http.StatusUnprocessableEntity,
	journal.Unauthorized: http.StatusUnauthorized,
	journal.Forbidden:    http.StatusForbidden,
	journal.NotFound:     http.StatusNotFound,
	journal.Conflict:     http.StatusConflict,
	journal.TooMany:      http.StatusTooManyRequests,
	journal.Busy:         http.StatusServiceUnavailable,
}

// problem turns an error of a use case into the answer that a person sees. What the server alone should know goes to
// the log and not into the answer. Fields are in the body but for those named as part of the query.
func problem(log *slog.Logger, err error, query ...string) error {
	var f *journal.Fault
	switch {
	case err == nil:
		return nil
	case errors.As(err, &f):
		p := &huma.ErrorModel{Status: statusOf[f.Kind], Title: http.StatusText(statusOf[f.Kind]), Detail: f.Message}
		for _, field := range f.Fields {
			in := "body."
			if first, _, _ := strings.Cut(field.Path, "["); slices.Contains(query, first) {
				in = "query."
			}
			p.Errors = append(p.Errors, &huma.ErrorDetail{Location: in + field.Path, Message: field.Message, Value: field.Value})
		}
		return p
	}
	if trouble, is := journal.TroubleOf(err); is {
		log.Error("database", "error", err)
		status := http.StatusServiceUnavailable
		if trouble.NoRoom {
			status = http.StatusInsufficientStorage
		}
		return &huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: trouble.Message}
	}
	log.Error("unexpected", "error", err)
	return &huma.ErrorModel{
		Status: http.StatusInternalServerError,
		Title:  http.StatusText(http.StatusInternalServerError),
		Detail: unexpected,
	}
}

func init() {
	plain := huma.NewErrorWithContext
	// huma puts the text of any error into its answer, and the input into a validation error's value. A handler's own
	// errors never come here, so what does is huma's: keep validation, drop the rest and everything secret.
	huma.NewErrorWithContext = func(ctx huma.Context, status int, message string, errs ...error) huma.StatusError {
		unread := errors.Join(errs...)
		var tooLong *http.MaxBytesError
		switch {
		case errors.As(unread, &tooLong): // what stands before a route may take less than the route itself
			status = http.StatusRequestEntityTooLarge
		case errors.Is(unread, errBusy):
			return plain(ctx, http.StatusServiceUnavailable, busy.Detail)
		case errors.Is(unread, context.Canceled) || errors.Is(unread, io.ErrUnexpectedEOF) || errors.Is(unread, os.ErrDeadlineExceeded):
			return plain(ctx, http.StatusRequestTimeout, "What was sent did not come to its end.")
		}
		switch {
		case status >= http.StatusInternalServerError:
			slog.Error("unexpected", "message", message, "error", errors.Join(errs...))
			return plain(ctx, status, unexpected)
		case status == http.StatusRequestEntityTooLarge:
			var most int64
			if tooLong != nil {
				most = tooLong.Limit
			} else if op := ctx.Operation(); op != nil {
				most = op.MaxBodyBytes
			}
			return plain(ctx, status, tooLarge(most))
		case status == http.StatusUnprocessableEntity:
			message = "Some fields cannot be used."
		}
		out := plain(ctx, status, message, errs...)
		if model, ok := out.(*huma.ErrorModel); ok {
			for _, e := range model.Errors {
				if e != nil && (strings.Contains(e.Location, "password") || strings.Contains(e.Location, "secret") || e.Location == "body.old" ||
					e.Location == "body") {
					e.Value = nil
				}
			}
		}
		return out
	}
}

// writeFault answers with an error of a use case where huma does not.
func writeFault(w http.ResponseWriter, log *slog.Logger, err error) {
	var p *huma.ErrorModel
	if errors.As(problem(log, err), &p) {
		writeProblem(w, p.Status, p.Detail)
	}
}

// writeProblem answers where huma does not.
func writeProblem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: detail})
}
