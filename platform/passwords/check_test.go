package passwords_test

import (
	"strings"
	"testing"
	"time"

	"raconte/platform/passwords"

	"github.com/stretchr/testify/assert"
)

func TestPasswordsThatAreGuessedSoonAreRefused(t *testing.T) {
	for _, bad := range []string{"short", "password123", "qwertyuiop", "aaaaaaaaaaaaaaaa", "InesBrackwater", "Raconte2026", strings.Repeat("é", 201)} {
		assert.Error(t, passwords.Check(bad, "ines", "Ines Brackwater"), bad)
	}
	for _, good := range []string{"plum dock cellar 9", "Xk4-tarpaulin-wren", "größe und ein apfelkern"} {
		assert.NoError(t, passwords.Check(good, "ines"), good)
	}
	began := time.Now()
	_ = passwords.Check(strings.Repeat("pA1", 66))
	assert.Less(t, time.Since(began), 2*time.Second, "a long one is no way to keep the server busy")
}
