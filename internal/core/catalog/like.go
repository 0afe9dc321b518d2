package catalog

import (
	"cmp"
	"errors"
	"fmt"
	"regexp"
	"strings"
)

// A Likeness is a kind that is kept like another one in everything but its name.
type Likeness struct {
	Key       string   `json:"kind"`
	Name      string   `json:"name"`
	Like      string   `json:"like" doc:"Key of the kind whose care it has"`
	TagPrefix string   `json:"tag_prefix"`
	Also      []string `json:"also,omitempty" doc:"Other names that stand for it in the files of schools"`
	Drawing   string   `json:"drawing,omitempty" doc:"Name of its outline; as its like when left out"`
	New       int64    `json:"new_cents,omitempty" doc:"What a new one usually costs, from memory; as its like when left out"`
	VanPlaces int      `json:"van_places,omitempty" doc:"As its like when left out"`
}

// likeMark stands in the key of a kind that a school has named itself, after the key of the kind that it is like: oboe~English horn.
const likeMark = "~"

// mostName is how many letters the name of an own kind may have.
const mostName = 40

// LikeKey is the key of a kind of the school's own, kept like another one. An error says what is wrong with the name.
func (c *Catalog) LikeKey(like, name string) (string, error) {
	name = strings.Join(strings.Fields(name), " ")
	k, ok := c.kinds[like]
	switch {
	case !ok:
		return "", fmt.Errorf("there is no kind %q to be like", like)
	case name == "" || len([]rune(name)) > mostName || strings.Contains(name, likeMark):
		return "", fmt.Errorf("needs a name of at most %d letters", mostName)
	}
	if other, known := c.KindCalled(name); known {
		return "", fmt.Errorf("is known already, as %s", other.Name)
	}
	return k.Base() + likeMark + name, nil
}

// own is the kind of a key with a likeMark. Nothing of it is kept here: its key says all.
func (c *Catalog) own(key string) (*Kind, bool) {
	like, name, marked := strings.Cut(key, likeMark)
	if !marked || name == "" {
		return nil, false
	}
	k, ok := c.kinds[like]
	if !ok {
		return nil, false
	}
	return k.as(key, name), true
}

// as is a kind like k under another key and name.
func (k *Kind) as(key, name string) *Kind {
	other := *k
	other.Key, other.Name, other.Like, other.Also = key, name, k.Base(), nil
	return &other
}

// Base is the key of the kind whose care it has: its own, but for one that is like another.
func (k *Kind) Base() string { return cmp.Or(k.Like, k.Key) }

// Own reports whether a school has named it itself.
func (k *Kind) Own() bool { return strings.Contains(k.Key, likeMark) }

// alike adds the kinds that are like others.
func (c *Catalog) alike() error {
	var faults []error
	for _, l := range c.Likenesses {
		var base *Kind
		for n := range c.Kinds {
			if c.Kinds[n].Key == l.Like {
				base = &c.Kinds[n]
			}
		}
		if base == nil {
			faults = append(faults, fmt.Errorf("%s is like %q, which is no kind", l.Key, l.Like))
			continue
		}
		k := base.as(l.Key, l.Name)
		k.TagPrefix, k.Also = l.TagPrefix, l.Also
		k.Drawing = cmp.Or(l.Drawing, base.Drawing)
		k.New, k.VanPlaces = cmp.Or(l.New, base.New), cmp.Or(l.VanPlaces, base.VanPlaces)
		c.Kinds = append(c.Kinds, *k)
	}
	return errors.Join(faults...)
}

// likeWords divide a name from what it is like, in the languages of names.yaml.
var likeWords = regexp.MustCompile(`(?i)^(.+?),?\s+(?:like|wie|comme|como)\s+(?:an?\s+|eine?\s+|une?\s+|una?\s+)?(.+)$`)

// Likened reads “English horn like an oboe” as the key of an own kind.
func (c *Catalog) Likened(text string) (*Kind, bool) {
	parts := likeWords.FindStringSubmatch(strings.TrimSpace(text))
	if parts == nil {
		return nil, false
	}
	base, ok := c.KindCalled(parts[2])
	if !ok {
		return nil, false
	}
	key, err := c.LikeKey(base.Key, parts[1])
	if err != nil {
		return nil, false
	}
	return c.own(key)
}
