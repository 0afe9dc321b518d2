package journal

import "crypto/sha256"

// secretLength is the least length of a secret that a client makes: 32 characters of 64 are 192 bits.
const secretLength = 32

// Digest is what is kept of a secret, so that nobody reads it off a copy of the database. It needs no slow hash: nobody guesses it.
func Digest(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// NewDigest is the Digest of a secret that begins to be one; it refuses a short one.
func NewDigest(secret string) ([]byte, error) {
	if len(secret) < secretLength {
		return nil, Refuse("secret", "is too short to be a secret", nil)
	}
	return Digest(secret), nil
}
