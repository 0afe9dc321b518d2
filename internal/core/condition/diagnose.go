package condition

import (
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/field"
)

// A Step of a diagnosis: a question, or its end. Exactly one of Ask and End is set.
type Step struct {
	Ask *Question `json:"ask,omitempty"`
	End *End      `json:"end,omitempty"`
}

// A Question to answer with yes or no. With Try it is: does this help?
type Question struct {
	Text    string   `json:"text"`
	Number  int      `json:"number" doc:"Of the check, from 1"`
	Of      int      `json:"of"`
	Risk    string   `json:"risk" enum:"look,touch,adjust,trained"`
	Caution string   `json:"caution,omitempty"`
	Try     []string `json:"try,omitempty" doc:"Steps of a quick fix, to be done before answering"`
}

// An End of a diagnosis: the finding, or that a quick fix helped.
type End struct {
	Fixed   bool                 `json:"fixed" doc:"A quick fix helped"`
	Finding *catalog.FindingKind `json:"finding,omitempty" doc:"What is behind it; with fixed, what it was"`
}

// Diagnose walks the checks of a symptom by the answers given so far and returns what comes next. A check answered with
// yes leads to its quick fix, and that to the question whether it helped; without a fix, to its finding. Too many answers
// are an error.
func Diagnose(c *catalog.Catalog, s *catalog.Symptom, answers []bool) (Step, error) {
	end := func(code string, fixed bool) *End {
		f, _ := c.Finding(code)
		return &End{Fixed: fixed, Finding: f}
	}
	given := 0
	next := func() (yes, ok bool) {
		if given >= len(answers) {
			return false, false
		}
		given++
		return answers[given-1], true
	}
	done := func(e *End) (Step, error) {
		if given < len(answers) {
			return Step{}, field.Errorf("answers", "%d are too many; the diagnosis ended after %d", len(answers), given)
		}
		return Step{End: e}, nil
	}
	for n, check := range s.Checks {
		question := &Question{Text: check.Ask, Number: n + 1, Of: len(s.Checks), Risk: check.Risk, Caution: check.Caution}
		yes, ok := next()
		if !ok {
			return Step{Ask: question}, nil
		}
		if !yes {
			continue
		}
		if len(check.Fix) == 0 {
			return done(end(check.Finding, false))
		}
		question.Text, question.Try = "Does that help?", check.Fix
		helped, ok := next()
		if !ok {
			return Step{Ask: question}, nil
		}
		if helped {
			return done(end(check.Finding, true))
		}
		if check.Finding != "" {
			return done(end(check.Finding, false))
		}
	}
	return done(end(s.Otherwise, false))
}
