package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
)

func TestPeopleFromTheCommandLine(t *testing.T) {
	c := config{DatabaseURL: pgtest.New(t)}
	_, _, err := run(schoolCommand(&c, quiet), "a long password\n", "--name", "Quillhaven", "--director", "Ines Corvane", "--email",
		"ines@quillhaven.example")
	require.NoError(t, err)
	out, _, err := run(
		personCommand(&c, quiet), "another long password\n", "add", "--beside", "ines@quillhaven.example", "--name", "Jory Tamm",
		"--email", "jory@quillhaven.example", "--role", "viewer",
	)
	require.NoError(t, err)
	assert.Equal(t, "Jory Tamm signs in as jory@quillhaven.example.\n", out)
	out, _, err = run(personCommand(&c, quiet), "", "list", "--beside", "jory@quillhaven.example")
	require.NoError(t, err)
	assert.Regexp(t, `ines@quillhaven\.example +Ines Corvane +director`, out)
	assert.Regexp(t, `jory@quillhaven\.example +Jory Tamm +viewer`, out)
	out, _, err = run(personCommand(&c, quiet), "a new long password\n", "password", "--email", "ines@quillhaven.example")
	require.NoError(t, err)
	assert.Contains(t, out, "signed out everywhere")

	for want, args := range map[string][]string{
		"nobody signs in with this e-mail address": {"password", "--email", "who@quillhaven.example"},
		"password: use at least 8 characters":      {"password", "--email", "jory@quillhaven.example"},
		"role: is not a role": {"add", "--beside", "ines@quillhaven.example", "--name", "X", "--email",
			"x@quillhaven.example", "--role", "king"},
		"email: is not an e-mail address": {"add", "--beside", "ines@quillhaven.example", "--name", "X", "--email", "x at quillhaven"},
	} {
		_, status, err := run(personCommand(&c, quiet), "short\n", args...)
		assert.Equal(t, 1, status)
		assert.ErrorContains(t, err, want)
	}
}
