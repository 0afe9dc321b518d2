// Package why holds the one shape in which Solfeggio gives its reasons.
//
// Every date, grade, amount and choice that the program makes carries a Why: which rule made it, from which
// inputs, on what footing the rule stands, what others hold, and where to change it. A person who disagrees
// should find here what to look at next.
package why

// Kind is the footing of a rule.
type Kind string

// The footings, strongest first.
const (
	Standard       Kind = "standard"        // a published source, named in Source
	CommonPractice Kind = "common practice" // what most in the trade do; no published source
	SchoolSetting  Kind = "school setting"  // this school's own choice
	LearnedHere    Kind = "learned here"    // computed from this school's records; see Observations
	FromMemory     Kind = "from memory"     // recalled, not gathered: a guide to change
	OwnRule        Kind = "our own rule"    // Solfeggio's own arithmetic, with no claim beyond it
)

// Basis says why the rule may be believed.
type Basis struct {
	Kind         Kind   `json:"kind" enum:"standard,common practice,school setting,learned here,from memory,our own rule"`
	Source       string `json:"source,omitempty" doc:"Name of the published source or of the setting"`
	Observations int    `json:"observations,omitempty" doc:"Number of this school's own observations behind a learned value"`
}

// Input is one value that entered the rule.
type Input struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Alternative is what others do instead.
type Alternative struct {
	Name      string `json:"name"`
	Statement string `json:"statement"`
}

// Why is a reason.
type Why struct {
	Rule         string        `json:"rule" doc:"Registered name of the rule, such as care.due"`
	Statement    string        `json:"statement" doc:"The reason in one or two plain sentences"`
	Inputs       []Input       `json:"inputs,omitempty"`
	Basis        Basis         `json:"basis"`
	Alternatives []Alternative `json:"alternatives,omitempty"`
	Change       string        `json:"change,omitempty" doc:"Where to change it, as a path of the screen"`
}
