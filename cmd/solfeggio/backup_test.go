package main

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
)

func TestBackupAndRestoreFromTheCommandLine(t *testing.T) {
	here := config{DatabaseURL: pgtest.New(t)}
	_, _, err := run(schoolCommand(&here, quiet), "a long password\n", "--name", "Quillhaven", "--director", "Ines Corvane", "--email",
		"ines@quillhaven.example")
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "quillhaven.backup")
	out, _, err := run(backupCommand(&here), "", file)
	require.NoError(t, err)
	assert.Contains(t, out, "quillhaven.backup: ")

	there := config{DatabaseURL: pgtest.NewFrom(t, "empty_1", func(string) {}), OwnerURL: ""}
	out, _, err = run(restoreCommand(&there), "", file)
	require.NoError(t, err)
	assert.Contains(t, out, "everybody signs in anew")
	out, _, err = run(personCommand(&there, quiet), "", "list", "--beside", "ines@quillhaven.example")
	require.NoError(t, err)
	assert.Contains(t, out, "Ines Corvane")
	_, status, err := run(restoreCommand(&there), "", file)
	assert.Equal(t, 1, status)
	assert.ErrorContains(t, err, "make an empty one")
}
