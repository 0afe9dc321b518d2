package school

import (
	"slices"
	"sync"
)

// blockCount is into how many blocks the instruments of a school are parted.
const blockCount = 128

// A Block is some of a school's instruments, always the same ones. What adds up over instruments is worked out block by block and kept with
// each until one of its instruments, the day or a setting changes: after a write one block of many is worked out anew. It is read-only but
// for what is kept with it.
type Block struct {
	Instruments []*Instrument // in score order
	kept        sync.Map
}

// KeptOf is what was kept of a block under a key, or made anew where there is nothing or it does not fit. One value is kept of a key.
func KeptOf[T any](b *Block, key any, fits func(T) bool, fresh func() T) T {
	if known, ok := b.kept.Load(key); ok {
		if of := known.(T); fits(of) {
			return of
		}
	}
	made := fresh()
	b.kept.Store(key, made)
	return made
}

// Blocks parts the instruments into blocks, in an order that is the same in every process.
func (s *Snapshot) Blocks() []*Block { return s.blocks }

// partInto makes the blocks anew that are not as they were.
func (s *Snapshot) partInto() {
	var parts [blockCount][]*Instrument
	for _, i := range s.Instruments {
		at := int(i.ID[len(i.ID)-1]) % blockCount
		parts[at] = append(parts[at], i)
	}
	before := s.blocks
	s.blocks = make([]*Block, blockCount)
	for n, part := range parts {
		if len(before) > 0 && slices.Equal(before[n].Instruments, part) {
			s.blocks[n] = before[n]
		} else {
			s.blocks[n] = &Block{Instruments: part}
		}
	}
}
