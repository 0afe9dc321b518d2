package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever the program is made of is listed with its edition and its licence on the help page: make licences writes the lists.
func TestLicencesAreListed(t *testing.T) {
	read := func(name string) string {
		text, err := os.ReadFile("../../web/public/licences/" + name)
		require.NoError(t, err)
		return string(text)
	}
	server := read("server.txt")
	said, err := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}}{{end}}{{end}}",
		".").Output()
	require.NoError(t, err)
	modules := map[string]string{}
	for line := range strings.Lines(string(said)) {
		if path, version, found := strings.Cut(strings.TrimSpace(line), " "); found {
			modules[path] = version
		}
	}
	require.Greater(t, len(modules), 20)
	for path, version := range modules {
		assert.Regexp(t, `(?m)^`+path+`(/\S+)? `+version+`: \S+`, server, "run make licences")
		assert.Contains(t, server, "== "+path+"/", "the text of its licence")
	}

	var made struct{ Dependencies map[string]string }
	text, err := os.ReadFile("../../web/package.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &made))
	browser := read("browser.txt")
	for name, version := range made.Dependencies {
		assert.Contains(t, browser, name+"@"+version, "run make licences")
	}
}
