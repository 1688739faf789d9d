package figure

import (
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatAConcealmentHidesIsCoveredHoweverThePictureIsShown(t *testing.T) {
	for name, f := range views() {
		f.Marks = []Mark{one(Concealment)}
		g := f.Geometry(shot)
		covered := f.Covered(f.Marks[0], g).Grow(1e-6)
		for x := 300.0; x <= 600; x += 20 {
			for y := 200.0; y <= 400; y += 20 {
				at := g.Show(p(x, y))
				assert.True(t, covered.Contains(at), "%s: %v of the shot is at %v, beside %v", name, p(x, y), at, covered)
			}
		}
	}
}

func TestTheGroundHasNothingButWhatChangesThePicture(t *testing.T) {
	for name, f := range views() {
		for _, kind := range Kinds {
			f.Marks = append(f.Marks, one(kind))
		}
		ground := f.Ground()
		require.NotEmpty(t, ground.Marks, name)
		for _, m := range ground.Marks {
			assert.True(t, m.Kind.Ground(), "%s: %s", name, m.Kind)
		}
		assert.Len(t, ground.Covers(), len(Shown{Figure: f}.Covers()), "%s: what conceals goes along", name)
		assert.Equal(t, View{}, ground.View, name)
		assert.Nil(t, ground.Crop, name)
		assert.Equal(t, "s", ground.Shot)
	}
}

func TestMarksThatAreNotThereYetLeaveTheNumbersOfTheOthersAndWhatConceals(t *testing.T) {
	f := Figure{ID: "f", Shot: "s"}
	for _, id := range []string{"1", "2", "3"} {
		m := one(Marker)
		m.ID = id
		f.Marks = append(f.Marks, m)
	}
	f.Marks = append(f.Marks, one(Concealment), one(Patch))
	less := f.Without(4, []string{"1", "2", "concealment", "patch"})
	require.Len(t, less.Marks, 3)
	assert.Equal(t, "3", less.Marks[0].ID)
	assert.Equal(t, 6, less.Numbers(4)["3"].N, "as it was with the others before it")
	assert.Len(t, Shown{Figure: less}.Covers(), 2)
	assert.Len(t, f.Marks, 5, "the figure itself is as it was")
	assert.Zero(t, f.Marks[2].Start)
}

func TestWhatIsVisibleIsWhatTheCropAndTheFoldsLeave(t *testing.T) {
	f := Figure{ID: "f", Shot: "s", Crop: &scene.Rect{X: 100, Y: 100, W: 800, H: 600}, View: View{Folds: []Fold{{From: 300, To: 500}}}}
	seen := f.Visible(shot)
	require.Len(t, seen, 1)
	bounds := seen[0].Bounds()
	assert.InDelta(t, 100, bounds.X, 1e-6)
	assert.InDelta(t, 800, bounds.W, 1e-6)
	f.Outline = []scene.Point{p(0, 0), p(400, 0), p(0, 400)}
	assert.Len(t, f.Visible(shot), 2, "and what was cut out freehand")
}
