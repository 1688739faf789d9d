package scene

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAColourBecomesAnotherAndSoftEdgesStaySoft(t *testing.T) {
	r := Recolour{From: "#204060", Near: 10, To: "#804060"}.Ready()
	assert.True(t, r.Counts(Color{0x20, 0x40, 0x60, 255}))
	assert.True(t, r.Counts(Color{0x20 + 25, 0x40, 0x60, 255}), "a tenth of a channel is near")
	assert.False(t, r.Counts(Color{0x20 + 26, 0x40, 0x60, 255}))
	assert.False(t, r.Counts(Color{0x20, 0x40, 0x60, 0}), "what can't be seen has no colour")
	assert.Equal(t, Color{0x80, 0x40, 0x60, 255}, r.Apply(Color{0x20, 0x40, 0x60, 255}))
	assert.Equal(t, Color{0x88, 0x40, 0x5e, 255}, r.Apply(Color{0x28, 0x40, 0x5e, 255}), "as much lighter or darker as it was")
	bright := Recolour{From: "#000000", Near: 100, To: "#fafafa"}.Ready()
	assert.Equal(t, Color{255, 250, 255, 255}, bright.Apply(Color{20, 0, 6, 255}), "and never out of range")
	assert.Equal(t, Color{100, 100, 100, 100}, bright.Apply(Color{20, 0, 6, 100}), "nor brighter than it is opaque")
	assert.Equal(t, Color{}, Recolour{From: "#204060"}.Ready().Apply(Color{0x20, 0x40, 0x60, 255}))
	for _, bad := range []Recolour{{From: "red"}, {From: "#204060", To: "#fff"}, {From: "#204060", Near: 101}, {From: "#204060", At: &Point{X: math.NaN()}}, {From: "#204060", At: &Point{Y: math.Inf(1)}}} {
		assert.Error(t, bad.Check(), bad)
	}
	assert.NoError(t, Recolour{From: "#204060", Near: 100, At: &Point{X: 3}}.Check())
}
