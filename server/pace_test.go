package server

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestWhoIsSlowIsWaitedForAndWhoStallsIsNot(t *testing.T) {
	now := time.Now()
	hour := 60 * 60 * int64(leastRate)
	for name, c := range map[string]struct {
		began time.Time
		moved int64
		waits bool
	}{
		"just begun":                       {now, 0, true},
		"an hour, at twice the least rate": {now.Add(-time.Hour), 2 * hour, true},
		"an hour, a byte now and then":     {now.Add(-time.Hour), 300, false},
		"a minute of nothing":              {now.Add(-time.Minute), 0, false},
	} {
		by := due(c.began, c.moved)
		assert.Equal(t, c.waits, by.After(now), name)
		assert.Less(t, by.Sub(now), stall+time.Second, "%s: nobody holds a connection for longer without a byte", name)
	}
}
