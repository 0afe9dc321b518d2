package kept

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// However things come and are asked for, they never take more room than there is, what was just kept is found, and what was asked for
// longest ago goes first.
func TestThingsTakeNoMoreRoomThanThereIs(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		most := rapid.Int64Range(1, 50).Draw(rt, "most")
		things := For[int, int64](most)
		var lately []int // keys, the one that goes first in front
		sizes := map[int]int64{}
		forget := func(key int) {
			delete(sizes, key)
			for n, k := range lately {
				if k == key {
					lately = append(lately[:n:n], lately[n+1:]...)
				}
			}
		}
		for range rapid.IntRange(1, 60).Draw(rt, "steps") {
			key := rapid.IntRange(0, 9).Draw(rt, "key")
			if rapid.Bool().Draw(rt, "asked") {
				value, ok := things.Get(key)
				size, expected := sizes[key]
				assert.Equal(rt, expected, ok)
				assert.Equal(rt, size, value)
				if ok {
					forget(key)
					lately, sizes[key] = append(lately, key), size
				}
				continue
			}
			size := rapid.Int64Range(0, 30).Draw(rt, "size")
			things.Add(key, size, size)
			forget(key)
			if max(size, 1) <= most {
				lately, sizes[key] = append(lately, key), size
			}
			total := func() (sum int64) {
				for _, size := range sizes {
					sum += max(size, 1)
				}
				return sum
			}
			for total() > most {
				forget(lately[0])
			}
			assert.Equal(rt, total(), things.Bytes())
		}
	})
}
