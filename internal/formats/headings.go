package formats

import (
	_ "embed"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"

	"solfeggio/internal/core/spelling"
)

//go:embed headings.yaml
var headingsFile []byte

// headingNames is headings.yaml, turned around.
type headingNames struct {
	files  map[string]map[string]string // our column by what people call it, by file
	months []string                     // as spelling.Fold has them
	number map[string]int               // of a month
}

func (h *headingNames) of(file string) map[string]string { return h.files[file] }

var headings = sync.OnceValue(func() *headingNames {
	var data struct {
		Instruments, Players, Supplies map[string][]string
		Months                         [][]string
	}
	if err := yaml.Unmarshal(headingsFile, &data); err != nil {
		panic("headings.yaml: " + err.Error())
	}
	h := &headingNames{files: map[string]map[string]string{}, number: map[string]int{}}
	for file, columns := range map[string]map[string][]string{"instruments": data.Instruments, "players": data.Players,
		"supplies": data.Supplies} {
		h.files[file] = map[string]string{}
		for ours, names := range columns {
			for _, name := range names {
				h.files[file][spelling.Fold(name)] = ours
			}
		}
	}
	for n, names := range data.Months {
		for _, name := range names {
			h.number[spelling.Fold(name)] = n + 1
			h.months = append(h.months, spelling.Fold(name))
		}
	}
	return h
})

// month finds a month by its name or the beginning of it, if that begins no other.
func (h *headingNames) month(part string) (int, bool) {
	part = spelling.Fold(part)
	if n, ok := h.number[part]; ok {
		return n, true
	}
	found := 0
	for _, name := range h.months {
		if len(part) < 3 || !strings.HasPrefix(name, part) {
			continue
		}
		if n := h.number[name]; found != 0 && found != n {
			return 0, false
		} else {
			found = n
		}
	}
	return found, found != 0
}
