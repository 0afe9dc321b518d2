// Package drill makes the questions by which players train how to handle their instrument, and says which comes when.
//
// Questions are made of the catalogue: of the steps that the school teaches, the mistakes that those guard against, and what players
// do first when something is wrong. So they follow the school's own practice and an instrument's materials.
package drill

import (
	"hash/fnv"
	"math/rand/v2"
	"slices"
	"strings"

	"solfeggio/internal/core/card"
	"solfeggio/internal/core/catalog"
)

// A Form of question.
type Form string

// The forms.
const (
	Order Form = "order" // put the steps in order
	Pick  Form = "pick"  // which of these is right
	Scene Form = "scene" // which picture is right
	First Form = "first" // what would you do first
)

// An Exercise with its answers.
type Exercise struct {
	ID      string     `json:"id" doc:"Form and subject, as in pick:reed-left-on"`
	Form    Form       `json:"form" enum:"order,pick,scene,first"`
	Ask     string     `json:"ask"`
	About   string     `json:"about" doc:"What it is about; empty where the answers say it"`
	Answers []Possible `json:"answers"`
	Right   []int      `json:"right" doc:"Places of the right answers among the answers, in their order"`
	Habit   string     `json:"habit" doc:"Key of what is trained: a mistake, a rhythm of routines or a symptom"`
}

// A Possible answer.
type Possible struct {
	Text  string `json:"text"`
	Scene string `json:"scene,omitempty" doc:"Name of the picture shown with it; left out for none"`
}

// Steps that are put in order at once.
const (
	fewestSteps = 3
	mostSteps   = 5
)

// Questions lists all questions on an instrument, the right answer first. Shuffled mixes them.
func Questions(c *catalog.Catalog, of catalog.Subject) []Exercise {
	list := []Exercise{}
	for _, m := range c.MistakesOf(of) {
		list = append(list, Exercise{
			ID: "pick:" + m.Key, Form: Pick, Ask: "Which is right?", Habit: m.Key, Right: []int{0},
			Answers: []Possible{{Text: m.Right}, {Text: m.Wrong}},
		})
		if m.Scene != "" {
			list = append(list, Exercise{
				ID: "scene:" + m.Key, Form: Scene, Ask: "Which picture is right?", Habit: m.Key, Right: []int{0},
				Answers: []Possible{{m.Right, m.Scene + "-right"}, {m.Wrong, m.Scene + "-wrong"}},
			})
		}
	}
	for _, r := range c.PlayerRoutines(of) {
		steps := inOrder(r)
		if len(steps) < fewestSteps {
			continue
		}
		q := Exercise{ID: "order:" + r.Key, Form: Order, Ask: "What comes first?", About: title(r.Rhythm), Habit: r.Rhythm}
		for n, text := range steps[:min(len(steps), mostSteps)] {
			q.Answers, q.Right = append(q.Answers, Possible{Text: text}), append(q.Right, n)
		}
		list = append(list, q)
	}
	for _, s := range c.SymptomsOf(of.Kind) {
		q := Exercise{ID: "first:" + s.Key, Form: First, Ask: "What do you do first?", About: s.Name, Habit: s.Key, Right: []int{0}}
		q.Answers = append(q.Answers, Possible{Text: s.First})
		for _, t := range s.Tempting {
			q.Answers = append(q.Answers, Possible{Text: t})
		}
		list = append(list, q)
	}
	return list
}

// inOrder are the steps of a routine that follow each other for everybody: not those that are done only if something happens.
func inOrder(r catalog.Resolved) []string {
	if r.Rhythm == "weekly" {
		return nil
	}
	var list []string
	for _, s := range r.OnCard() {
		if !strings.Contains(s.Short, "?") && !slices.Contains(list, s.Short) {
			list = append(list, s.Short)
		}
	}
	return list
}

func title(rhythm string) string {
	switch rhythm {
	case "assembly":
		return "Putting it together"
	case "casing":
		return "Pack up"
	}
	return "After"
}

// Shuffled mixes the answers of a question, always alike for one seed.
func (q Exercise) Shuffled(seed string) Exercise {
	h := fnv.New64a()
	_, _ = h.Write([]byte(q.ID + seed)) // cannot fail
	order := rand.New(rand.NewPCG(h.Sum64(), 1)).Perm(len(q.Answers))
	mixed := q
	mixed.Answers, mixed.Right = make([]Possible, len(order)), make([]int, len(q.Right))
	for to, from := range order {
		mixed.Answers[to] = q.Answers[from]
		if n := slices.Index(q.Right, from); n >= 0 {
			mixed.Right[n] = to
		}
	}
	return mixed
}

// In is the question in a language.
func (q Exercise) In(l card.Language) Exercise {
	q.Ask, q.About, q.Answers = l.Say(q.Ask), l.Say(q.About), slices.Clone(q.Answers)
	for n := range q.Answers {
		q.Answers[n].Text = l.Say(q.Answers[n].Text)
	}
	return q
}

// IsRight reports whether places of answers, as somebody chose them one after the other, answer the question.
func (q Exercise) IsRight(chosen []int) bool { return slices.Equal(chosen, q.Right) }
