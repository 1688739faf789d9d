package film_test

import (
	"testing"

	"raconte/core/document"
	"raconte/core/film"
	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/style"

	"github.com/stretchr/testify/assert"
)

var look = film.Look{Style: style.Default(), House: "Pellworth", Meta: "Revision 3", W: 1920, H: 1080}

// bounds is where all that has a colour lies.
func bounds(s scene.Scene, fill scene.Color) (all scene.Rect) {
	for _, item := range s.Items {
		if item.Path != nil && item.Path.Fill == fill {
			all = all.Union(item.Path.Outline.Bounds())
		}
	}
	return all
}

func inside(outer, inner scene.Rect) bool {
	return inner.X >= outer.X-1 && inner.Y >= outer.Y-1 && inner.X+inner.W <= outer.X+outer.W+1 && inner.Y+inner.H <= outer.Y+outer.H+1
}

func TestAPictureIsAsLargeAsItFitsBetweenTheBarAndTheCaption(t *testing.T) {
	whole := scene.Rect{W: 1920, H: 1080}
	step := film.Scene{Kind: film.Step, Number: "3", Heading: "At the dock"}
	shown := film.Segment{Figure: "f", From: scene.Rect{W: 1, H: 1}}
	said := shown
	said.Caption = "Press Receive, and wait until all of the lamps have gone green, which takes a moment on a busy day."
	for name, picture := range map[string]scene.Rect{"wide": {W: 3840, H: 1000}, "tall": {W: 400, H: 4000}, "small": {W: 100, H: 80}} {
		plain, captioned := look.At(step, shown, 0, picture), look.At(step, said, 0, picture)
		assert.True(t, inside(whole, plain.Area), name)
		assert.InDelta(t, picture.W/picture.H, plain.Area.W/plain.Area.H, picture.W/picture.H*0.02, "%s keeps its shape", name)
		assert.LessOrEqual(t, plain.Area.W, 2*picture.W, "%s is blown up no more than twice", name)
		foot := captioned.Area.Y + captioned.Area.H
		band := scene.Hex(look.Style.Colors.Text)
		assert.Greater(t, bounds(captioned.Scene, band).Y, foot, "%s does not lie under its caption", name)
		assert.True(t, bounds(plain.Scene, band).Empty(), "nothing is said below")
	}
	bare := look.At(film.Scene{Kind: film.Step, Words: "Wait."}, film.Segment{}, 0, scene.Rect{})
	assert.True(t, bare.Area.Empty(), "a step without a picture is told by its words")
}

func TestASignalIsSeenInItsColoursAndWhatIsTooLongStaysInTheFrame(t *testing.T) {
	whole := scene.Rect{W: look.W, H: look.H}
	long := "Receive a lot that has come by night without papers and without anybody who could say whose it is and where it belongs "
	for range 4 {
		long += long
	}
	for _, kind := range []string{film.Title, film.Section, film.Step, film.Card} {
		s := film.Scene{Kind: kind, Number: "12", Heading: long, Words: long, Signal: document.Danger}
		f := look.At(s, film.Segment{Caption: long}, 0.5, scene.Rect{})
		for _, item := range f.Scene.Items {
			assert.True(t, inside(whole, item.Path.Outline.Bounds()), "%s: %v", kind, item.Path.Outline.Bounds())
		}
		signal := bounds(f.Scene, page.SignalColors[document.Danger][0])
		if kind == film.Step || kind == film.Card {
			assert.False(t, signal.Empty(), kind)
			assert.Greater(t, signal.X, look.W/2, "it stands at the end of the bar")
		}
	}
}

func TestAPictureIsGoneCloserToGently(t *testing.T) {
	one := film.Segment{Figure: "f", From: scene.Rect{W: 1, H: 1}, To: &scene.Rect{X: 0.4, Y: 0.2, W: 0.5, H: 0.5}, Ended: 1}
	assert.Equal(t, one.From, one.Between(0))
	assert.Equal(t, *one.To, one.Between(1))
	half := one.Between(0.5)
	assert.InDelta(t, 0.2, half.X, 1e-9)
	assert.Less(t, one.Between(0.1).X, 0.1*one.To.X, "it begins slowly")
	assert.Greater(t, one.Between(0.9).X, 0.9*one.To.X, "and ends so")
	first, second := one, one
	first.Ended, second.Began = 0.4, 0.4
	assert.Equal(t, first.Between(1), second.Between(0), "a way that is divided has no jump")
	still := film.Segment{From: scene.Rect{X: 0.1, W: 0.5, H: 0.5}}
	assert.Equal(t, still.From, still.Between(0.7))
}
