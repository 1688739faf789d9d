package clip_test

import (
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/engines/media"
	"raconte/output/clip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const rate = 10

var secret = color.RGBA{R: 250, G: 20, B: 240, A: 255}

// recording is four seconds: a bar that grows with time at the top, and a striped field with a secret colour in it that
// moves down from the second second to the third, as a page does that is scrolled. It beeps in its second half.
func recording(t *testing.T) string {
	dir := t.TempDir()
	path := filepath.Join(dir, "made.mp4")
	size := image.Pt(640, 360)
	w, err := media.Write(t.Context(), path, media.MP4, size, media.Look{Rate: rate}, "")
	require.NoError(t, err)
	for n := range 4 * rate {
		img := image.NewRGBA(image.Rectangle{Max: size})
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{R: 230, G: 232, B: 236, A: 255}), image.Point{}, draw.Src)
		draw.Draw(img, image.Rect(0, 0, n*16, 20), image.NewUniform(color.RGBA{B: 160, A: 255}), image.Point{}, draw.Src)
		y := fieldAt(n)
		for i := range 12 { // looks of its own, and no other place like it
			c := secret
			if i%3 == 1 {
				c = color.RGBA{R: 10, G: uint8(20 * i), B: 10, A: 255}
			}
			draw.Draw(img, image.Rect(200+i*10, y, 206+i*10, y+24-i), image.NewUniform(c), image.Point{}, draw.Src)
		}
		require.NoError(t, w.Add(img))
	}
	require.NoError(t, w.Close())
	beeping := filepath.Join(dir, "beeping.mp4")
	out, err := exec.Command("ffmpeg", "-v", "error", "-i", path, "-f", "lavfi", "-i", "sine=frequency=880:sample_rate=48000:duration=4", "-af", "volume=0:enable='lt(t,2)'",
		"-map", "0:v", "-map", "1:a", "-c:v", "copy", "-c:a", "aac", beeping).CombinedOutput()
	require.NoError(t, err, string(out))
	return beeping
}

func fieldAt(n int) int {
	switch {
	case n < 20:
		return 100
	case n < 30:
		return 100 + (n-20)*15
	}
	return 250
}

// probed is what ffprobe, which is not asked while clips are made, says of a file.
func probed(t *testing.T, path string) (seconds float64, w, h int) {
	out, err := exec.Command("ffprobe", "-v", "error", "-of", "json", "-show_entries", "format=duration:stream=width,height", path).Output()
	require.NoError(t, err)
	var said struct {
		Format  struct{ Duration string }
		Streams []struct{ Width, Height int }
	}
	require.NoError(t, json.Unmarshal(out, &said))
	seconds, err = strconv.ParseFloat(said.Format.Duration, 64)
	require.NoError(t, err)
	return seconds, said.Streams[0].Width, said.Streams[0].Height
}

// each looks at all pictures of a file.
func each(t *testing.T, path string, do func(ms int, img *image.RGBA)) {
	f, err := media.Open(t.Context(), path, rate, 0, 0)
	require.NoError(t, err)
	defer f.Close()
	for n := 0; ; n++ {
		img, err := f.Next()
		if err != nil {
			return
		}
		do(n*1000/rate, img)
	}
}

// bar is how far the bar has grown, as milliseconds of the recording.
func bar(img *image.RGBA, y int) int {
	x := 0
	for x < img.Rect.Dx() && img.RGBAAt(x, y).R < 120 && img.RGBAAt(x, y).B > 90 {
		x++
	}
	return x * 100 / 16
}

func TestAClipIsCutHeldAndSpedUpAndItsSoundGoesWithIt(t *testing.T) {
	in := recording(t)
	c := figure.Clip{Ms: 4000, Sounds: true, Parts: []figure.Stretch{{Span: figure.Span{From: 500, To: 1500}}, {Span: figure.Span{From: 2000, To: 4000}, Speed: 2}}, Freezes: []figure.Freeze{{At: 1000, For: 700}}}
	assert.Equal(t, 1000+700+1000, c.Length())
	for _, form := range media.Forms {
		out := filepath.Join(t.TempDir(), "out."+form.Extension)
		r := clip.Request{Figure: figure.Figure{ID: "f", Shot: "s", Clip: &c}, First: 1, Recording: in}
		require.NoError(t, r.Make(t.Context(), out, form, media.Look{}), form.Name)
		if form == media.WebP { // ffmpeg 5.1 writes animated WebP and can't read it
			data, err := os.ReadFile(out)
			require.NoError(t, err)
			assert.Contains(t, string(data[:64]), "ANIM")
			continue
		}
		seconds, w, h := probed(t, out)
		assert.InDelta(t, 2.7, seconds, 0.1, form.Name)
		assert.Equal(t, [2]int{640, 360}, [2]int{w, h})
		each(t, out, func(ms int, img *image.RGBA) {
			if ms < c.Length() { // the reader may give the last one twice
				assert.InDelta(t, c.At(ms), bar(img, 10), 130, "%s at %d ms", form.Name, ms)
			}
		})
		if form.Sounds {
			quiet, err := media.Silences(t.Context(), out, -50, 300)
			require.NoError(t, err)
			require.Len(t, quiet, 1, form.Name)
			assert.InDelta(t, 0, quiet[0].From, 60)
			assert.InDelta(t, 1700, quiet[0].To, 100, "it beeps where the second half begins")
		}
	}
}

func TestEveryPictureOfARecordingIsInItsClip(t *testing.T) {
	for _, rate := range []int{15, 24, 30} {
		path := filepath.Join(t.TempDir(), "moving.mp4")
		size := image.Pt(320, 64)
		w, err := media.Write(t.Context(), path, media.MP4, size, media.Look{Rate: rate}, "")
		require.NoError(t, err)
		for n := range 2 * rate {
			img := image.NewRGBA(image.Rectangle{Max: size})
			draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
			draw.Draw(img, image.Rect(0, 0, 4*(n+1), 64), image.Black, image.Point{}, draw.Src)
			require.NoError(t, w.Add(img))
		}
		require.NoError(t, w.Close())
		wide := func(img *image.RGBA) (n int) {
			for x := range 320 {
				if img.RGBAAt(x, 32).R < 128 {
					n = x + 1
				}
			}
			return n / 4
		}
		for from, c := range map[int]figure.Clip{
			0:  {Ms: 2000},
			37: figure.Clip{Ms: 2000}.Without(figure.Span{From: 0, To: 37}),
		} {
			seen := map[int]bool{}
			r := clip.Request{Figure: figure.Figure{ID: "f", Shot: "s", Clip: &c}, First: 1, Recording: path}
			require.NoError(t, r.Each(t.Context(), func(img *image.RGBA, _ int) error {
				seen[wide(img)] = true
				return nil
			}))
			assert.GreaterOrEqual(t, len(seen), 2*rate-from*rate/1000-2, "of %d a second, from %d ms on", rate, from)
		}
	}
}

func TestWhatIsConcealedInAClipIsInNoneOfItsPictures(t *testing.T) {
	in := recording(t)
	var path []figure.Place
	first, err := media.Frame(t.Context(), in, 500, 0)
	require.NoError(t, err)
	part := scene.Rect{X: 190, Y: 90, W: 130, H: 44}
	track := sight.NewTrack(first, part)
	each(t, in, func(ms int, img *image.RGBA) {
		by, sure := track.In(img)
		path = append(path, figure.Place{At: ms, By: by, Unsure: !sure})
	})
	for _, p := range path {
		assert.False(t, p.Unsure, "at %d ms", p.At)
		assert.InDelta(t, fieldAt(p.At*rate/1000)-100, p.By.Y, 2, "at %d ms", p.At)
	}
	// Only some places are known, and not where the move begins and ends: all of the way between is covered.
	var known []figure.Place
	for i, p := range path {
		if i%10 == 5 || i == 0 || i == len(path)-1 {
			known = append(known, p)
		}
	}
	cover := figure.Mark{ID: "c", Kind: figure.Concealment, Style: figure.Style{Ink: "dark"}, Points: []scene.Point{{X: part.X, Y: part.Y}, {X: part.X + part.W, Y: part.Y + part.H}}, Path: known}
	f := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{cover}, Clip: &figure.Clip{Ms: 4000}}
	for _, form := range []media.Form{media.MP4, media.WebM, media.GIF} {
		out := filepath.Join(t.TempDir(), "out."+form.Extension)
		require.NoError(t, clip.Request{Figure: f, First: 1, Recording: in}.Make(t.Context(), out, form, media.Look{}))
		n := 0
		each(t, out, func(ms int, img *image.RGBA) {
			n++
			assert.Zero(t, secrets(img), "%s at %d ms", form.Name, ms)
		})
		assert.Greater(t, n, 35)
	}
	f.Marks = nil
	out := filepath.Join(t.TempDir(), "out.mp4")
	require.NoError(t, clip.Request{Figure: f, First: 1, Recording: in}.Make(t.Context(), out, media.MP4, media.Look{}))
	seen := 0
	each(t, out, func(_ int, img *image.RGBA) { seen += secrets(img) })
	assert.Greater(t, seen, 1000, "without it the secret is there to see")
}

// A page that is scrolled, and whatever jumps, is at its new place from one picture to the next. Places are looked for
// five times a second, pictures are made at any rate, and the secret is covered in each of them.
func TestWhatIsConcealedStaysSoWhereItJumps(t *testing.T) {
	const made = 30
	jumps := []int{430, 1110, 1790, 2370, 2950, 3510} // milliseconds
	size := image.Pt(320, 400)
	place := func(ms int) int {
		n := 0
		for _, j := range jumps {
			if ms >= j {
				n++
			}
		}
		return 20 + n*55
	}
	in := filepath.Join(t.TempDir(), "jumping.mp4")
	w, err := media.Write(t.Context(), in, media.MP4, size, media.Look{Rate: made}, "")
	require.NoError(t, err)
	for n := range 4 * made {
		img := image.NewRGBA(image.Rectangle{Max: size})
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{R: 230, G: 232, B: 236, A: 255}), image.Point{}, draw.Src)
		y := place(n * 1000 / made)
		draw.Draw(img, image.Rect(100, y, 200, y+24), image.NewUniform(secret), image.Point{}, draw.Src)
		require.NoError(t, w.Add(img))
	}
	require.NoError(t, w.Close())
	cover := figure.Mark{ID: "c", Kind: figure.Concealment, Style: figure.Style{Ink: "dark"}, Points: []scene.Point{{X: 96, Y: 16}, {X: 204, Y: 48}}}
	looked, err := media.Open(t.Context(), in, 5, 0, 0) // as it is looked for
	require.NoError(t, err)
	for n := 0; ; n++ {
		img, err := looked.Next()
		if err != nil {
			break
		}
		for y := range size.Y {
			if c := img.RGBAAt(150, y); c.R > 190 && c.G < 110 {
				cover.Path = append(cover.Path, figure.Place{At: n * 200, By: scene.Point{Y: float64(y - 20)}})
				break
			}
		}
	}
	looked.Close()
	f := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{cover}, Clip: &figure.Clip{Ms: 4000}}
	for _, rate := range []int{30, 25, 12} {
		n := 0
		err := clip.Request{Figure: f, First: 1, Recording: in, Rate: rate}.Each(t.Context(), func(img *image.RGBA, _ int) error {
			assert.Zero(t, secrets(img), "picture %d at %d a second", n, rate)
			n++
			return nil
		})
		require.NoError(t, err)
		assert.Equal(t, 4*rate, n)
	}
	// And in the one picture that stands for it, whichever moment that is.
	for at := 0; at < 4000; at += 50 {
		f.Clip.Poster = at
		require.True(t, f.Still(1).Hides(scene.Rect{X: 100, Y: float64(place(at)), W: 100, H: 24}), "at %d ms", at)
	}
}

// secrets counts the pixels that have the secret colour, or nearly.
func secrets(img *image.RGBA) (n int) {
	for i := 0; i < len(img.Pix); i += 4 {
		if math.Abs(float64(img.Pix[i])-250) < 60 && img.Pix[i+1] < 110 && math.Abs(float64(img.Pix[i+2])-240) < 60 {
			n++
		}
	}
	return n
}

func TestMarksComeAndGoAndKeepTheirNumbers(t *testing.T) {
	in := recording(t)
	at := func(id string, x float64, during *figure.Span) figure.Mark {
		return figure.Mark{ID: id, Kind: figure.Patch, Color: "#00ff00", Style: figure.Style{Ink: "dark"}, Points: []scene.Point{{X: x, Y: 40}, {X: x + 40, Y: 80}}, During: during}
	}
	f := figure.Figure{ID: "f", Shot: "s", Clip: &figure.Clip{Ms: 4000}, Marks: []figure.Mark{at("a", 400, nil), at("b", 500, &figure.Span{From: 1000, To: 2000})}}
	out := filepath.Join(t.TempDir(), "out.mp4")
	require.NoError(t, clip.Request{Figure: f, First: 1, Recording: in}.Make(t.Context(), out, media.MP4, media.Look{}))
	green := func(img *image.RGBA, x int) bool { c := img.RGBAAt(x, 60); return c.G > 180 && c.R < 90 }
	each(t, out, func(ms int, img *image.RGBA) {
		assert.True(t, green(img, 420), "at %d ms", ms)
		if ms < 900 || ms > 1000 && ms < 2000 || ms > 2400 { // what covers begins a picture early, and ends late
			assert.Equal(t, ms >= 1000 && ms < 2000, green(img, 520), "at %d ms", ms)
		}
	})
	marker := func(id string, during *figure.Span) figure.Mark {
		return figure.Mark{ID: id, Kind: figure.Marker, Points: []scene.Point{{X: 9, Y: 9}}, During: during}
	}
	f.Marks = []figure.Mark{marker("one", &figure.Span{From: 0, To: 10}), marker("two", nil)}
	assert.Equal(t, 5, f.Shown(3000, 0, 4).Numbers(4)["two"].N, "the first is away and counts all the same")
}

func TestWithoutFfmpegThatIsSaid(t *testing.T) {
	in := recording(t)
	t.Setenv("PATH", "")
	_, _, err := media.Take(t.Context(), in, t.TempDir())
	assert.ErrorIs(t, err, media.ErrMissing)
	err = clip.Request{Figure: figure.Figure{ID: "f", Shot: "s", Clip: &figure.Clip{Ms: 4000}}, Recording: in}.Make(t.Context(), filepath.Join(t.TempDir(), "out.mp4"), media.MP4, media.Look{})
	assert.ErrorIs(t, err, media.ErrMissing)
}

func TestHostileRecordingsAreRefused(t *testing.T) {
	good, err := os.ReadFile(recording(t))
	require.NoError(t, err)
	dir := t.TempDir()
	for name, data := range map[string][]byte{
		"a playlist":          []byte("#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n"),
		"a list of files":     []byte("ffconcat version 1.0\nfile /etc/passwd\n"),
		"cut off":             good[:len(good)/3],
		"nothing":             {},
		"a head and no body":  good[:40],
		"noise behind a head": append(append([]byte{}, good[:32]...), make([]byte, 5000)...),
		"no picture":          []byte("\x1a\x45\xdf\xa3" + fmt.Sprint(make([]byte, 400))),
	} {
		path := filepath.Join(dir, "in")
		require.NoError(t, os.WriteFile(path, data, 0o600))
		_, _, err := media.Take(t.Context(), path, dir)
		assert.Error(t, err, name)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "in"), good, 0o600))
	_, _, err = media.Take(ctx, filepath.Join(dir, "in"), dir)
	assert.ErrorIs(t, err, context.Canceled)
}
