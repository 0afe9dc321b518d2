package catalog

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"slices"

	"solfeggio/internal/core/why"
)

// A FindingKind is something that an inspection can find.
type FindingKind struct {
	Code         string   `json:"code"`
	Of           string   `json:"of,omitempty" doc:"Key of the part that it concerns, where that matters"`
	BeyondRepair bool     `json:"beyond_repair,omitempty" doc:"The part is replaced, whatever it is worth"`
	Name         string   `json:"name"`
	Seen         string   `json:"seen" doc:"What the person looking sees, hears or feels"`
	Severity     int      `json:"severity" jsonschema:"minimum=0,maximum=4"`
	Action       string   `json:"action" jsonschema:"enum=none,enum=habit,enum=director,enum=shop,enum=shop-now,enum=stop" enum:"none,habit,director,shop,shop-now,stop"`
	Avoidable    bool     `json:"avoidable" doc:"Handling, assembly or missed cleaning brought it about"`
	TouchesTone  bool     `json:"touches_tone"`
	Cause        string   `json:"cause"`
	FirstAid     []string `json:"first_aid,omitempty" doc:"In order"`
	Never        []string `json:"never,omitempty"`
	DryOnly      bool     `json:"dry_only,omitempty" doc:"Until it is mended no liquid touches the instrument's body"`
	Bench        Reason   `json:"bench,omitempty" jsonschema:"enum=mould,enum=smoke" doc:"Path that it takes at the bench"`
	FixesRoutine string   `json:"fixed_by,omitempty" doc:"Routine that mends it at school"`
}

// A Template of an inspection: the points in the order in which a technician looks at them.
type Template struct {
	Key     string  `json:"key"`
	Name    string  `json:"name"`
	Routine string  `json:"routine" doc:"The routine whose clock a finished inspection restarts"`
	Points  []Point `json:"points" jsonschema:"minItems=1"`
}

// A Point of an inspection. Looking right is always its first answer.
type Point struct {
	Key     string   `json:"key"`
	Part    string   `json:"part" doc:"Part that is looked at, empty for the whole"`
	Spot    string   `json:"spot" doc:"Where it stands in the drawing"`
	Title   string   `json:"title"`
	Look    string   `json:"look" doc:"What to do and what right looks like"`
	Reason  string   `json:"reason"`
	Answers []string `json:"answers" jsonschema:"minItems=1" doc:"Codes of the findings it may raise"`
	Measure *Measure `json:"measure,omitempty"`
}

// A Measure is a figure taken at a point.
type Measure struct {
	Name    string   `json:"name"`
	Unit    string   `json:"unit" jsonschema:"enum=mm,enum=cents,enum=%" enum:"mm,cents,%"`
	Low     string   `json:"low" doc:"Finding when it is below the tolerance"`
	High    string   `json:"high" doc:"Finding when it is above"`
	Basis   why.Kind `json:"basis" jsonschema:"enum=common practice,enum=from memory,enum=standard"`
	Targets []Target `json:"targets" jsonschema:"minItems=1"`
}

// A Target is what a measure should be on a kind, and on one size of it if a size is named.
type Target struct {
	Kind      string  `json:"kind"`
	Size      string  `json:"size,omitempty"`
	Value     float64 `json:"value"`
	Tolerance float64 `json:"tolerance"`
}

// Target finds what the measure should be; ok is false when no figure is kept, and then nothing is judged.
func (m Measure) Target(kind, size string) (Target, bool) {
	for _, t := range m.Targets {
		if t.Kind == kind && (t.Size == "" || t.Size == size || size == "") {
			return t, true
		}
	}
	return Target{}, false
}

// A Symptom and the way to what is behind it: checks in order, safest and cheapest first, each ending in an outcome
// or in the next check, the last in the shop.
type Symptom struct {
	Key       string   `json:"key"`
	Name      string   `json:"name" doc:"As a player would say it"`
	Kinds     []string `json:"kinds" jsonschema:"minItems=1" doc:"Kinds or families that can have it"`
	First     string   `json:"first" doc:"What the player does at once, in a few words"`
	Tempting  []string `json:"tempting" jsonschema:"minItems=2" doc:"What players are tempted to do instead"`
	Cautions  []string `json:"cautions,omitempty"`
	Checks    []Check  `json:"checks" jsonschema:"minItems=1"`
	Otherwise string   `json:"otherwise" doc:"Finding when every check said no"`
}

// A Check asks one question. Answered with yes it leads to its finding; where there is a fix, that is tried first,
// and the finding remains when it does not help.
type Check struct {
	Ask     string   `json:"ask"`
	Risk    string   `json:"risk" jsonschema:"enum=look,enum=touch,enum=adjust,enum=trained" enum:"look,touch,adjust,trained" doc:"How much could go wrong; no check is riskier than one after it"`
	Caution string   `json:"caution,omitempty"`
	Fix     []string `json:"fix,omitempty" doc:"Steps of a quick fix"`
	Finding string   `json:"finding,omitempty"`
}

// Finding finds a kind of finding by its code.
func (c *Catalog) Finding(code string) (*FindingKind, bool) { f, ok := c.findings[code]; return f, ok }

// Symptom finds a symptom by its key.
func (c *Catalog) Symptom(key string) (*Symptom, bool) { s, ok := c.symptoms[key]; return s, ok }

// Findings are what may be behind a symptom, in the order of its checks; that nobody can tell is the last.
func (s Symptom) Findings() (codes []string) {
	for _, c := range s.Checks {
		if c.Finding != "" {
			codes = append(codes, c.Finding)
		}
	}
	return append(codes, s.Otherwise, "cannot-tell")
}

// LeadsTo reports whether a finding may be behind the symptom.
func (s Symptom) LeadsTo(code string) bool { return slices.Contains(s.Findings(), code) }

// Can reports whether instruments of the kind can have the symptom.
func (s Symptom) Can(k *Kind) bool {
	for _, name := range s.Kinds {
		if name == k.Base() || name == k.Family || name == k.Inspection {
			return true
		}
	}
	return false
}

// Point finds a point by its key.
func (t Template) Point(key string) (Point, bool) {
	for _, p := range t.Points {
		if p.Key == key {
			return p, true
		}
	}
	return Point{}, false
}

// Edition is a short sign of a template's contents: it changes when a point, an answer or a figure does.
func (t Template) Edition() string {
	text, err := json.Marshal(t)
	if err != nil {
		panic(err) // plain data
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:4])
}

// Inspection is the template of the kind's inspection.
func (c *Catalog) Inspection(k *Kind) *Template { return c.templates[k.Inspection] }

// SymptomsOf lists what instruments of the kind can have.
func (c *Catalog) SymptomsOf(k *Kind) []*Symptom {
	var list []*Symptom
	for i := range c.Symptoms {
		if c.Symptoms[i].Can(k) {
			list = append(list, &c.Symptoms[i])
		}
	}
	return list
}

// FindingsOf lists what can be found on instruments of the kind: by inspection first, then by symptoms.
func (c *Catalog) FindingsOf(k *Kind) []*FindingKind {
	var list []*FindingKind
	add := func(code string) {
		if f := c.findings[code]; f != nil && !slices.Contains(list, f) {
			list = append(list, f)
		}
	}
	for _, p := range c.Inspection(k).Points {
		for _, code := range p.Answers {
			add(code)
		}
	}
	for _, s := range c.SymptomsOf(k) {
		for _, check := range s.Checks {
			add(check.Finding)
		}
		add(s.Otherwise)
	}
	return list
}
