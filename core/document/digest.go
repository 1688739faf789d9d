package document

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
)

// Digest is the SHA-256 (FIPS 180-4), in hexadecimal, of all that a document says and shows: what someone signs. Shots
// are named by their own SHA-256, so that not even a picture can be another. The day of the next review is left out,
// since it is counted from the release.
func (d Document) Digest(sha func(shot string) string) (string, error) {
	d = d.WithShots(sha)
	d.Facts.Review = ""
	raw, err := json.Marshal(struct {
		Kind   Kind    `json:"kind"`
		Facts  Facts   `json:"facts"`
		Blocks []Block `json:"blocks"`
	}{d.Kind, d.Facts, d.Blocks})
	if err != nil {
		return "", fmt.Errorf("writing a document to be signed: %w", err)
	}
	sum := sha256.Sum256(raw)
	return hex.EncodeToString(sum[:]), nil
}
