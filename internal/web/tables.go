package web

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/field"
	"solfeggio/internal/core/schema"
	"solfeggio/internal/formats"
)

// tableOf is a table that a person takes along: its file's name without an ending, and who writes it.
type tableOf[I any] struct {
	id, path, summary string // without the ending
	write             func(ctx context.Context, by journal.Person, in *I, write formats.Writer) error
}

// tableRoutes offers a table as CSV and as a workbook.
func tableRoutes[I any](s *server, t tableOf[I]) {
	name := t.path[strings.LastIndexByte(t.path, '/')+1:]
	for _, f := range []struct {
		id, ending, contentType string
		writer                  func(io.Writer) formats.Writer
	}{
		{"csv", ".csv", "text/csv; charset=utf-8", formats.CSV},
		{
			"workbook", ".xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
			func(w io.Writer) formats.Writer { return formats.Workbook(w, name) },
		},
	} {
		op := operation(t.id+"-"+f.id, http.MethodGet, t.path+f.ending, t.summary)
		op.Responses = answers(name+f.ending, strings.Split(f.contentType, ";")[0])
		handle(s, op, func(ctx context.Context, by journal.Person, in *I) (file, error) {
			var content bytes.Buffer
			err := t.write(ctx, by, in, f.writer(&content))
			return file{f.contentType, `attachment; filename="` + name + f.ending + `"`, content.Bytes()}, err
		})
	}
}

// Reading is what a person said of a file that comes in.
type Reading struct {
	HowToRead string `query:"reading" maxLength:"60000" doc:"How to read the file, as a JSON object: sheet, header_row, columns (ours by theirs), day_order (day-month, month-day), decimal (comma, point), restore_sizes, kinds (a kind by what the file calls it). What is left out is found out, or asked in the answer"`
}

var readingShape = schema.Of[formats.Reading]()

func (r Reading) read() (formats.Reading, error) {
	if r.HowToRead == "" {
		return formats.Reading{}, nil
	}
	reading, err := readingShape.Read([]byte(r.HowToRead))
	if err != nil {
		at := field.Of(err)
		return formats.Reading{}, &journal.Fault{
			Kind:    journal.Invalid,
			Message: "What was said of the file cannot be read.",
			Fields:  []journal.Field{{Path: "reading", Message: strings.TrimPrefix(at.Path+": "+at.Message, "$: ")}},
		}
	}
	return reading, nil
}
