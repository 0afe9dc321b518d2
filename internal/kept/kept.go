// Package kept keeps what was worked out for as long as there is room for it. Room is bytes, not places: a hundred large answers take
// more than a thousand small ones. What was asked for longest ago goes first.
package kept

import (
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// Things are values by key that take at most so many bytes together. Several goroutines may use them at once.
type Things[K comparable, V any] struct {
	mu    sync.Mutex
	most  int64
	bytes int64
	lru   *simplelru.LRU[K, thing[V]]
}

type thing[V any] struct {
	value V
	bytes int64
}

// For makes room for so many bytes.
func For[K comparable, V any](most int64) *Things[K, V] {
	t := &Things[K, V]{most: most}
	// There is no bound by number: each thing counts as one byte at least.
	t.lru, _ = simplelru.NewLRU(int(max(most, 1)), func(_ K, gone thing[V]) { t.bytes -= gone.bytes }) // fails for no size but 0
	return t
}

// Get returns the value of key, which is the one that goes last now.
func (t *Things[K, V]) Get(key K) (V, bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	known, ok := t.lru.Get(key)
	return known.value, ok
}

// Add keeps a value that takes so many bytes, in the place of an older one of the same key. One that takes all the room there is is
// not kept.
func (t *Things[K, V]) Add(key K, value V, bytes int64) {
	bytes = max(bytes, 1)
	t.mu.Lock()
	defer t.mu.Unlock()
	t.lru.Remove(key)
	if bytes > t.most {
		return
	}
	t.lru.Add(key, thing[V]{value, bytes})
	for t.bytes += bytes; t.bytes > t.most; {
		t.lru.RemoveOldest()
	}
}

// Bytes is how many are kept.
func (t *Things[K, V]) Bytes() int64 {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.bytes
}
