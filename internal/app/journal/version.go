package journal

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"

	"solfeggio/internal/store"
)

// Version names how something stands that has no number of its own: a choice, a price list, a plan. Who changes it says which version they
// saw, so that nobody overwrites what somebody else has done meanwhile.
func Version(of any) string {
	text, err := json.Marshal(of)
	if err != nil { // what is shown can be written
		panic(fmt.Sprintf("the version of %T: %v", of, err))
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:6])
}

type sawKey struct{}

// Having marks ctx with the version that somebody saw who asks for a change. Of several things these are joined by points.
func Having(ctx context.Context, version string) context.Context {
	return context.WithValue(ctx, sawKey{}, version)
}

// AsSeen refuses a change of what does not stand as whoever asks for it saw it. Within the program, where nobody looked, it refuses nothing.
func AsSeen(ctx context.Context, now ...any) error {
	saw, said := ctx.Value(sawKey{}).(string)
	versions := make([]string, len(now))
	for n, of := range now {
		versions[n] = Version(of)
	}
	if said && saw != strings.Join(versions, ".") {
		return store.ErrStale
	}
	return nil
}
