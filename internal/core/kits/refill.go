package kits

import "solfeggio/internal/core/catalog"

// Takes is how many units from stock put a thing of a kit in order. One that got low keeps what is left of it where several
// belong in the kit; a wet one is hung up to dry and needs none.
func Takes(item catalog.KitItem, state catalog.KitState) int {
	switch state {
	case catalog.Missing:
		return item.Wanted()
	case catalog.Low:
		return max(1, item.Wanted()-1)
	}
	return 0
}
