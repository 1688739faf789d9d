package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"testing"

	"raconte/api"
	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAnotherLookOfAPictureIsDrawnOnWhatThePictureShows(t *testing.T) {
	h := start(t)
	ines, adaeze, ruben := h.browser(t, "ines"), h.browser(t, "adaeze"), h.browser(t, "ruben")
	red, green := color.RGBA{200, 0, 0, 255}, color.RGBA{0, 120, 60, 255}
	img := image.NewRGBA(image.Rect(0, 0, 400, 300))
	draw.Draw(img, img.Rect, image.NewUniform(red), image.Point{}, draw.Src)                        // what nobody may see
	draw.Draw(img, image.Rect(100, 50, 300, 200), image.NewUniform(green), image.Point{}, draw.Src) // what the picture shows
	draw.Draw(img, image.Rect(150, 100, 200, 140), image.NewUniform(red), image.Point{}, draw.Src)  // but for this
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, img))
	code, body := ines.do("PUT", "/api/shots/ground-shot?name=x.png", data.Bytes(), "Content-Type", "application/octet-stream")
	require.Less(t, code, 300, body)
	_, body = ines.do("POST", "/api/documents", map[string]string{"title": "Looked at"})
	path := "/api/documents/" + decoded[api.Summary](t, body).Id
	two := func(x, y, w, h float64) []scene.Point { return []scene.Point{{X: x, Y: y}, {X: x + w, Y: y + h}} }
	secret := figure.Mark{ID: "m1", Kind: figure.Concealment, Points: two(150, 100, 50, 40), Style: figure.Style{Ink: "dark", Weight: figure.Fine}}
	f := figure.Figure{ID: "f", Shot: "ground-shot", Marks: []figure.Mark{secret}}
	// Turned by a quarter: the crop is measured in the turned picture, 300 wide, where the shown part begins at 100 and
	// 100.
	f.Quarter, f.Crop = 1, &scene.Rect{X: 100, Y: 100, W: 150, H: 200}
	show := func(base int) {
		code, body := ines.do("POST", path+"/changes", []byte(fmt.Sprintf(`{"id":"c%d","blocks":[{"id":"b","base":%d,"order":"a00000","removed":false,"content":{"type":"step","words":{"type":"doc"},"figures":[%s]}}]}`, base, base, jsonOf(t, f))))
		require.Equal(t, 200, code, body)
	}
	show(0)
	code, body = adaeze.do("GET", path+"/figures/f/ground", nil)
	require.Equal(t, 200, code, body)
	ground, err := png.Decode(bytes.NewReader([]byte(body)))
	require.NoError(t, err)
	require.Equal(t, img.Rect, ground.Bounds(), "as large as the shot, so that marks have its places")
	kept := 0
	for y := range 300 {
		for x := range 400 {
			switch c := color.RGBAModel.Convert(ground.At(x, y)).(color.RGBA); {
			case c == green:
				kept++
			case c.R > 100:
				t.Fatalf("what is concealed or cut off is in it at %d, %d: %v", x, y, c)
			}
		}
	}
	assert.Equal(t, 200*150-50*40, kept, "and all that is shown")
	code, _ = ruben.do("GET", path+"/figures/f/ground", nil)
	assert.Equal(t, 403, code)

	suggest := func(id string, look figure.Figure) (int, string) {
		return adaeze.do("POST", path+"/comments", map[string]any{"id": id, "body": "So?", "place": map[string]any{"block": "b", "figure": "f"}, "figure": look})
	}
	box := figure.Mark{ID: "m2", Kind: figure.Box, Points: two(110, 60, 30, 30), Style: figure.Style{Ink: "dark", Weight: figure.Fine}}
	look := f.Clone()
	look.Marks = []figure.Mark{box}
	code, body = suggest("s0", look)
	assert.Equal(t, 422, code, "what conceals stays")
	assert.Contains(t, body, "stay as they are")
	code, _ = suggest("s0", f)
	assert.Equal(t, 422, code, "the look that it has")
	look.Marks = []figure.Mark{secret, box, {ID: "m3", Kind: figure.Inset, Shot: "another", Points: two(110, 60, 30, 30), Style: figure.Style{Ink: "dark", Weight: figure.Fine}}}
	code, _ = suggest("s0", look)
	assert.Equal(t, 422, code, "nothing is set in that was not")
	look.Marks = []figure.Mark{secret, box}
	look.Crop = nil
	code, body = suggest("s1", look)
	require.Equal(t, 204, code, body)

	// What is concealed in between is concealed in what was suggested before.
	later := figure.Mark{ID: "m9", Kind: figure.Concealment, Points: two(250, 60, 20, 20), Style: figure.Style{Ink: "dark", Weight: figure.Fine}}
	f.Marks = append(f.Marks, later)
	f.Alt = "A room"
	show(1)
	thread := func() api.Thread {
		_, body := ines.do("GET", path+"/comments", nil)
		return decoded[[]api.Thread](t, body)[0]
	}
	got := thread().Suggestion
	require.NotNil(t, got.Figure)
	assert.True(t, got.Changed)
	assert.Equal(t, "A room", got.Figure.Alt)
	assert.Nil(t, got.Figure.Crop)
	ids := []string{}
	for _, m := range got.Figure.Marks {
		ids = append(ids, m.ID)
	}
	assert.ElementsMatch(t, []string{"m1", "m2", "m9"}, ids)
	code, _ = adaeze.do("PATCH", path+"/comments/s1", map[string]any{"outcome": "taken"})
	assert.Equal(t, 403, code)
	f.Shot = "ground-other"
	code, body = ines.do("PUT", "/api/shots/ground-other?name=x.png", data.Bytes(), "Content-Type", "application/octet-stream")
	require.Less(t, code, 300, body)
	show(2)
	assert.Nil(t, thread().Suggestion.Figure, "a look of a shot that is not there any more can't be taken")
	code, _ = ines.do("PATCH", path+"/comments/s1", map[string]any{"outcome": "refused"})
	assert.Equal(t, 204, code)
}

func jsonOf(t *testing.T, v any) string {
	out, err := json.Marshal(v)
	require.NoError(t, err)
	return string(out)
}
