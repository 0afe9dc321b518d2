// Package known says what is known of an instrument's condition, since when and by whom, in sentences that may be printed and signed.
//
// What nobody has looked at is said as that. A remark that somebody typed, or that came with a file, is repeated as it stands and is no
// finding: nobody has held the instrument beside it.
package known

import (
	"fmt"
	"strings"

	"solfeggio/internal/core/day"
)

// A Look is the last time that somebody went over the whole instrument.
type Look struct {
	On     day.Day
	By     string // empty where that is not known
	Ticked bool   // its check was ticked off, and what was seen then was not written down
}

// A Fault is something wrong with it that is not mended yet.
type Fault struct {
	Name  string
	Since day.Day
	By    string // who found it; empty where that is not known
}

// A Condition is all of it. The zero value is that of an instrument of which nobody has said a word.
type Condition struct {
	Look   *Look
	Faults []Fault // the oldest first
	Remark string
}

// Sentences tells a condition, each with the day from which it is known.
func (c Condition) Sentences() []string {
	var list []string
	switch {
	case c.Look == nil && len(c.Faults) == 0:
		list = append(list, "Nobody has looked it over here yet.")
	case c.Look == nil:
		list = append(list, "Nobody has looked the whole of it over here yet.")
	case c.Look.Ticked:
		list = append(list, fmt.Sprintf("Its check was ticked off on %s; what was seen was not written down.", c.Look.On.Words()))
	case len(c.Faults) == 0:
		list = append(list, fmt.Sprintf("Looked over on %s%s: nothing wrong is known.", c.Look.On.Words(), by(c.Look.By)))
	default:
		list = append(list, fmt.Sprintf("Looked over on %s%s.", c.Look.On.Words(), by(c.Look.By)))
	}
	for _, f := range c.Faults {
		list = append(list, fmt.Sprintf("%s: known since %s%s.", f.Name, f.Since.Words(), by(f.By)))
	}
	if remark := strings.Join(strings.Fields(c.Remark), " "); remark != "" {
		list = append(list, fmt.Sprintf("Remark in the school’s list: “%s”.", remark))
	}
	return list
}

func by(name string) string {
	if name == "" {
		return ""
	}
	return " by " + name
}
