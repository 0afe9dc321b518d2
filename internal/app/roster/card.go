package roster

import (
	"crypto/sha256"
	"encoding/base32"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
)

// CardOf is what stands on a player's card: a code of their own that a scanner types, made of their id, so that it names
// nobody. Forty bits keep the players of any school apart.
func CardOf(player uuid.UUID) string {
	sum := sha256.Sum256(player[:])
	return school.CardCode + cardLetters.EncodeToString(sum[:5])
}

// cardLetters are digits and capitals without the ones that are mistaken for others.
var cardLetters = base32.NewEncoding("0123456789ABCDEFGHJKMNPQRSTVWXYZ").WithPadding(base32.NoPadding)
