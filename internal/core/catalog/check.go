package catalog

import (
	"fmt"
	"slices"

	"solfeggio/internal/core/care"
)

// check finds names that lead nowhere and steps that a material forbids.
func (c *Catalog) check() error {
	if err := c.checkActives(); err != nil {
		return err
	}
	for _, p := range c.Products {
		for _, wider := range p.Is {
			if c.products[wider] == nil {
				return fmt.Errorf("product %s is %q, which is unknown", p.Key, wider)
			}
		}
	}
	for _, m := range c.Materials {
		for _, product := range m.Forbids {
			if c.products[product] == nil {
				return fmt.Errorf("material %s forbids %q, which is no product", m.Key, product)
			}
		}
	}
	endings := map[string]bool{}
	for _, e := range c.Endings {
		if endings[e.Key] {
			return fmt.Errorf("ending %s stands there twice", e.Key)
		}
		endings[e.Key] = true
		for _, m := range e.Of {
			if c.materials[m] == nil {
				return fmt.Errorf("ending %s is of %q, which is no material", e.Key, m)
			}
		}
	}
	for i := range c.SizeCharts {
		if err := c.SizeCharts[i].check(); err != nil {
			return err
		}
	}
	for _, role := range roles {
		if c.roles[role] == nil {
			return fmt.Errorf("no supply has the role %s", role)
		}
	}
	for i := range c.Routines {
		if err := c.checkRoutine(&c.Routines[i]); err != nil {
			return fmt.Errorf("routine %s: %w", c.Routines[i].Key, err)
		}
	}
	for _, s := range c.Supplies {
		if err := c.checkSupply(s); err != nil {
			return fmt.Errorf("supply %s: %w", s.Key, err)
		}
	}
	for _, k := range c.Kits {
		if err := c.checkKit(k); err != nil {
			return fmt.Errorf("kit %s: %w", k.Key, err)
		}
	}
	for i := range c.Kinds {
		if err := c.checkKind(&c.Kinds[i]); err != nil {
			return fmt.Errorf("kind %s: %w", c.Kinds[i].Key, err)
		}
	}
	for _, f := range c.Findings {
		if f.FixesRoutine != "" && c.routines[f.FixesRoutine] == nil {
			return fmt.Errorf("finding %s: no routine %q", f.Code, f.FixesRoutine)
		}
	}
	for _, t := range c.Templates {
		if err := c.checkTemplate(t); err != nil {
			return fmt.Errorf("template %s: %w", t.Key, err)
		}
	}
	for _, s := range c.Symptoms {
		if err := c.checkSymptom(s); err != nil {
			return fmt.Errorf("symptom %s: %w", s.Key, err)
		}
	}
	if err := c.checkMistakes(); err != nil {
		return err
	}
	return c.checkRepairs()
}

func (c *Catalog) checkRoutine(r *Routine) error {
	if c.places[r.Place] == nil {
		return fmt.Errorf("no place %q", r.Place)
	}
	for _, other := range r.Implies {
		if c.routines[other] == nil {
			return fmt.Errorf("implies %q, which is unknown", other)
		}
	}
	for _, body := range r.Bodies {
		if c.materials[body] == nil {
			return fmt.Errorf("is for bodies of %q, which is no material", body)
		}
	}
	conditions := []Conditions{r.When, r.OneADay}
	intervals := []Intervals{r.Limits}
	for _, by := range r.LimitsBy {
		conditions, intervals = append(conditions, by.When), append(intervals, by.Limits)
	}
	if err := c.checkBench(r); err != nil {
		return err
	}
	for n, s := range r.Steps {
		conditions = append(conditions, s.When)
		for _, product := range s.Products {
			if c.products[product] == nil {
				return fmt.Errorf("step %d brings %q, which is no product", n+1, product)
			}
		}
	}
	for _, w := range conditions {
		for practice, options := range w {
			p := c.practices[practice]
			if p == nil {
				return fmt.Errorf("depends on %q, which is no practice", practice)
			}
			for _, option := range options {
				if _, ok := p.Option(option); !ok {
					return fmt.Errorf("depends on %s being %q, which is no option", practice, option)
				}
			}
		}
	}
	for _, i := range intervals {
		for _, l := range []*care.Limits{i.Every, i.Classroom, i.Standard, i.Concert} {
			if l == nil {
				continue
			}
			if _, err := care.Limit(care.LimitIn{Base: *l}); err != nil {
				return fmt.Errorf("limits: %w", err)
			}
		}
	}
	return nil
}

func (c *Catalog) checkSurface(p Part) error {
	for _, product := range p.Forbids {
		if c.products[product] == nil {
			return fmt.Errorf("forbids %q, which is no product", product)
		}
	}
	surface := c.practices[p.Surface]
	if p.Surface != "" && surface == nil {
		return fmt.Errorf("no practice %q says what it is made of", p.Surface)
	}
	for option, material := range p.MadeOf {
		if surface == nil || c.materials[material] == nil {
			return fmt.Errorf("made of %q by %q", material, option)
		}
		if _, ok := surface.Option(option); !ok {
			return fmt.Errorf("%q is no option of %s", option, p.Surface)
		}
	}
	return nil
}

func (c *Catalog) checkKind(k *Kind) error {
	if k.SizeChart != "" {
		chart := c.charts[k.SizeChart]
		if chart == nil {
			return fmt.Errorf("no size chart %q", k.SizeChart)
		}
		for _, size := range k.Sizes {
			if chart.At(size) < 0 {
				return fmt.Errorf("size %s is not in its chart", size)
			}
		}
	}
	for _, p := range k.Parts {
		if p.Material != "body" && c.materials[p.Material] == nil {
			return fmt.Errorf("part %s: no material %q", p.Key, p.Material)
		}
		if err := c.checkSurface(p); err != nil {
			return fmt.Errorf("part %s: %w", p.Key, err)
		}
	}
	for _, b := range k.Bodies {
		if c.materials[b] == nil {
			return fmt.Errorf("no body material %q", b)
		}
	}
	if c.kits[k.Kit] == nil {
		return fmt.Errorf("no kit %q", k.Kit)
	}
	if !(k.LifeYears > 0) {
		return fmt.Errorf("a life of %v years", k.LifeYears)
	}
	t := c.templates[k.Inspection]
	if t == nil {
		return fmt.Errorf("no template %q of its inspection", k.Inspection)
	}
	for _, p := range t.Points {
		if _, ok := k.Part(p.Part); !ok && p.Part != "" {
			return fmt.Errorf("its inspection looks at %q, which it does not have", p.Part)
		}
	}
	if !slices.Contains(k.Routines, t.Routine) {
		return fmt.Errorf("its inspection restarts %q, which it does not have", t.Routine)
	}
	for _, key := range k.Routines {
		r := c.routines[key]
		if r == nil {
			return fmt.Errorf("no routine %q", key)
		}
		for _, part := range r.On {
			if _, ok := k.Part(part); !ok {
				return fmt.Errorf("routine %s keeps a clock on %q, which the kind does not have", key, part)
			}
		}
		for i, s := range r.Steps {
			if err := c.checkStep(k, s); err != nil {
				return fmt.Errorf("routine %s, step %d: %w", key, i+1, err)
			}
		}
	}
	return nil
}

// checkStep refuses a step that no body of the kind could bear, and one that some bodies could not when it does not say
// what is done instead.
func (c *Catalog) checkStep(k *Kind, s Step) error {
	if s.IfThere && !k.has(s.Parts) {
		return nil
	}
	for _, key := range s.Parts {
		if _, ok := k.Part(key); !ok {
			return fmt.Errorf("no part %q", key)
		}
	}
	if err := c.checkFollow(k, s); err != nil {
		return err
	}
	gated := 0
	subjects := c.subjects(k, s.Parts)
	for _, of := range subjects {
		gate := c.gate(s, of)
		if gate == "" {
			continue
		}
		if gated++; gated == len(subjects) || s.Instead == "" {
			return fmt.Errorf("is forbidden (%s) and says nothing else to do", gate)
		}
	}
	return nil
}

func (c *Catalog) checkTemplate(t Template) error {
	if c.routines[t.Routine] == nil {
		return fmt.Errorf("no routine %q", t.Routine)
	}
	seen := map[string]bool{}
	for _, p := range t.Points {
		if seen[p.Key] {
			return fmt.Errorf("point %s stands there twice", p.Key)
		}
		seen[p.Key] = true
		codes := slices.Clone(p.Answers)
		if m := p.Measure; m != nil {
			codes = append(codes, m.Low, m.High)
			for _, target := range m.Targets {
				if c.kinds[target.Kind] == nil {
					return fmt.Errorf("point %s: a target for %q, which is no kind", p.Key, target.Kind)
				}
			}
		}
		for _, code := range codes {
			if c.findings[code] == nil {
				return fmt.Errorf("point %s: no finding %q", p.Key, code)
			}
		}
	}
	return nil
}

// risks order checks by how much could go wrong.
var risks = []string{"look", "touch", "adjust", "trained"}

func (c *Catalog) checkSymptom(s Symptom) error {
	if !slices.ContainsFunc(c.Kinds, func(k Kind) bool { return s.Can(&k) }) {
		return fmt.Errorf("no kind can have it")
	}
	codes := []string{s.Otherwise}
	risk := 0
	for n, check := range s.Checks {
		if check.Finding == "" && len(check.Fix) == 0 {
			return fmt.Errorf("check %d leads nowhere", n+1)
		}
		if check.Finding != "" {
			codes = append(codes, check.Finding)
		}
		at := slices.Index(risks, check.Risk)
		if at < risk {
			return fmt.Errorf("check %d is safer than the one before it", n+1)
		}
		risk = at
	}
	for _, code := range codes {
		if c.findings[code] == nil {
			return fmt.Errorf("no finding %q", code)
		}
	}
	return nil
}

// subjects are a kind in all bodies that it may have, with parts of all that they may be made of.
func (c *Catalog) subjects(k *Kind, parts []string) (list []Subject) {
	for _, body := range k.Bodies {
		list = append(list, Subject{Kind: k, Body: body, Choices: Choices{}})
	}
	for _, surface := range k.surfaces(parts) {
		all := list
		list = nil
		for _, of := range all {
			for _, option := range c.practices[surface].Options {
				list = append(list, Subject{Kind: k, Body: of.Body, Choices: c.Choose(of.Choices, Choices{surface: option.Key})})
			}
		}
	}
	return list
}
