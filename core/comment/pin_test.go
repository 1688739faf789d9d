package comment_test

import (
	"testing"

	"raconte/core/comment"
	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
)

func TestAPinStaysAtItsPixelsHoweverThePictureIsShown(t *testing.T) {
	size := figure.Size{W: 800, H: 400}
	whole := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{}}
	pin := comment.PinAt(whole, size, scene.Rect{X: 0.5, Y: 0.25, W: 0.1, H: 0.1})
	assert.Equal(t, comment.Pin{Shot: "s", X: 400, Y: 100, W: 80, H: 40}, pin)
	cropped := whole
	cropped.Crop = &scene.Rect{X: 400, Y: 100, W: 200, H: 100}
	at, inside := pin.Shown(cropped, size)
	assert.True(t, inside)
	assert.Equal(t, scene.Rect{X: 0, Y: 0, W: 0.4, H: 0.4}, at)
	assert.Equal(t, pin, comment.PinAt(cropped, size, at), "and back")
	cropped.Crop = &scene.Rect{X: 0, Y: 0, W: 200, H: 100}
	_, inside = pin.Shown(cropped, size)
	assert.False(t, inside, "it was cut off")

	point := comment.Pin{Shot: "s", X: 400, Y: 100}
	mark := point.Mark()
	for i := range mark.Points {
		mark.Points[i].X += 30
		mark.Points[i].Y -= 10
	}
	assert.Equal(t, comment.Pin{Shot: "t", X: 430, Y: 90}, point.Moved("t", mark))
	assert.Equal(t, "t", point.Moved("t", figure.Mark{}).Lost)
	for _, bad := range []comment.Place{{Block: "b", Pin: &pin}, {Block: "b", Figure: "f", Pin: &comment.Pin{Shot: "s", W: -1}}, {Block: "b", Figure: "f", Pin: &comment.Pin{X: 1e9, Shot: "s"}}} {
		assert.Error(t, bad.Check())
	}
	assert.NoError(t, comment.Place{Block: "b", Figure: "f", Pin: &point}.Check())
}
