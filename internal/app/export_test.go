package app

import "time"

// SetSteady replaces the clock that goes forward evenly.
func (a *App) SetSteady(steady func() time.Duration) { a.steady = steady }
