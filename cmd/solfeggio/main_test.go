package main

import (
	"bytes"
	"context"
	"io"
	"log/slog"
	"strings"
	"testing"
	"time"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/school"
	"solfeggio/internal/pgtest"
)

var quiet = slog.New(slog.NewTextHandler(io.Discard, nil))

// run runs a command and returns what it wrote and the status that the program would end with.
func run(cmd *cobra.Command, input string, args ...string) (output string, status int, err error) {
	var out bytes.Buffer
	cmd.SetArgs(args)
	cmd.SetIn(strings.NewReader(input))
	cmd.SetOut(&out)
	cmd.SetErr(io.Discard)
	cmd.SilenceUsage, cmd.SilenceErrors = true, true
	if err = cmd.ExecuteContext(context.Background()); err != nil {
		status = 1
		if coded, ok := err.(interface{ ExitCode() int }); ok {
			status = coded.ExitCode()
		}
	}
	return out.String(), status, err
}

func TestCalc(t *testing.T) {
	out, status, err := run(calcCommand(), `{"base":{"days":100},"players":4}`, "care.limit")
	require.NoError(t, err)
	assert.Zero(t, status)
	assert.Contains(t, out, `"days":50`)

	for input, want := range map[string]string{`{"base":{"days":100},"mood":1}`: "mood: unknown field", `{`: "$: the input is not JSON",
		``: "$: the input is empty"} {
		out, status, err := run(calcCommand(), input, "care.limit")
		assert.Equal(t, 2, status)
		assert.Empty(t, out, "nothing on standard output")
		assert.ErrorContains(t, err, want)
	}
	_, status, err = run(calcCommand(), `{}`, "care.guess")
	assert.Equal(t, 2, status)
	assert.ErrorContains(t, err, "there is no calculator")
	_, status, _ = run(calcCommand(), ``)
	assert.Equal(t, 2, status)

	out, _, err = run(calcCommand(), ``, "--list")
	require.NoError(t, err)
	for _, name := range []string{"usage.minutes", "care.limit", "care.due", "care.timebox", "input_schema"} {
		assert.Contains(t, out, name)
	}
}

func unbuilt() *app.App {
	all := &school.Schools{}
	return &app.App{Schools: all, Access: access.New(all)}
}

func TestConfig(t *testing.T) {
	_, err := config{}.databases()
	assert.ErrorContains(t, err, "SOLFEGGIO_DATABASE_URL: not set")
	_, err = config{DatabaseURL: "postgres://one/a postgres://two/b"}.owner()
	assert.ErrorContains(t, err, "2 databases are named")
	_, err = config{Now: "yesterday"}.clock()
	assert.ErrorContains(t, err, `SOLFEGGIO_NOW: "yesterday" is not a time`)
	assert.ErrorContains(t, config{Mail: "quillhaven.example", Public: "https://solfeggio.quillhaven.example"}.setUpReach(unbuilt()),
		"SOLFEGGIO_MAIL_URL: expected smtp://")
	here := "smtp://127.0.0.1?from=solfeggio@quillhaven.example"
	assert.ErrorContains(t, config{Mail: here, Public: "quillhaven"}.setUpReach(nil), `SOLFEGGIO_PUBLIC_URL: "quillhaven"`)
	assert.ErrorContains(t, config{Mail: here, Public: "http://127.0.0.1:8080"}.setUpReach(unbuilt()), "this machine only")
	rooms := unbuilt()
	require.NoError(t, config{Mail: here, Public: "https://solfeggio.quillhaven.example/"}.setUpReach(rooms))
	assert.Equal(t, "https://solfeggio.quillhaven.example", rooms.Schools.Address)
	now, err := config{Now: "2026-11-24T08:00:00Z"}.clock()
	require.NoError(t, err)
	assert.Equal(t, time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC), now().UTC())
}

func TestSchool(t *testing.T) {
	c := &config{DatabaseURL: pgtest.New(t)}
	ask := func(password string, more ...string) (string, error) {
		out, _, err := run(
			schoolCommand(c, quiet),
			password,
			append([]string{"--name", "Quillhaven", "--director", "Ines Corvane"}, more...)...)
		return out, err
	}
	_, err := ask("a long password\n")
	assert.ErrorContains(t, err, "email")
	_, err = ask("", "--email", "ines@quillhaven.example")
	assert.ErrorContains(t, err, "no password")
	_, err = ask("short\n", "--email", "ines@quillhaven.example")
	assert.ErrorContains(t, err, "password: use at least 8 characters")
	_, err = ask("a long password\n", "--email", "ines@quillhaven.example", "--time-zone", "Mars/Olympus")
	assert.ErrorContains(t, err, "time_zone: is not a time zone")
	out, err := ask("a long password\n", "--email", "ines@quillhaven.example")
	require.NoError(t, err)
	assert.Contains(t, out, "Quillhaven is set up")
	_, err = ask("a long password\n", "--email", "INES@quillhaven.example")
	assert.ErrorContains(t, err, "e-mail address is taken")
}

func TestOpenAPINeedsNoDatabase(t *testing.T) {
	out, _, err := run(openapiCommand(), "")
	require.NoError(t, err)
	assert.Contains(t, out, `"/api/v1/today"`)
}
