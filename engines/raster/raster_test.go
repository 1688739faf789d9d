package raster

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math/rand"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEncodePNGIsReadBackByTheStandardLibrary(t *testing.T) {
	random := rand.New(rand.NewSource(1))
	for name, paint := range map[string]func(x, y int) color.RGBA{
		"one colour":  func(int, int) color.RGBA { return color.RGBA{9, 8, 7, 255} },
		"256 colours": func(x, y int) color.RGBA { return color.RGBA{uint8(x), 0, 0, 255} },
		"257 colours": func(x, y int) color.RGBA { return color.RGBA{uint8(x), uint8(x >> 8), 1, 255} },
		"gradient":    func(x, y int) color.RGBA { return color.RGBA{uint8(x + y), uint8(y), uint8(x * y), 255} },
		"noise": func(x, y int) color.RGBA {
			return color.RGBA{uint8(random.Int()), uint8(random.Int()), uint8(random.Int()), 255}
		},
		// Rows that repeat the one above, a few to many at a time and across where the work is divided.
		"runs":                func(x, y int) color.RGBA { return color.RGBA{uint8(x), uint8(x >> 3), uint8(y * y / 4000), 255} },
		"few colours in runs": func(x, y int) color.RGBA { return color.RGBA{uint8(y * y / 4000), 0, 0, 255} },
		"transparent":         func(x, y int) color.RGBA { a := uint8(x); return color.RGBA{a / 2, a, a / 3, a} },
	} {
		for _, size := range []image.Point{{1, 1}, {257, 3}, {300, 200}, {30, 600}} {
			img := image.NewRGBA(image.Rectangle{Max: size})
			for y := range size.Y {
				for x := range size.X {
					img.SetRGBA(x, y, paint(x, y))
				}
			}
			for _, effort := range []Effort{Quick, Small} {
				var buf bytes.Buffer
				require.NoError(t, EncodePNG(&buf, img, effort), name)
				back, err := png.Decode(&buf)
				require.NoError(t, err, name)
				for y := range size.Y {
					for x := range size.X {
						r, g, b, a := back.At(x, y).RGBA()
						got := color.RGBA{uint8(r >> 8), uint8(g >> 8), uint8(b >> 8), uint8(a >> 8)}
						want := img.RGBAAt(x, y)
						if name == "transparent" { // straight alpha in the file costs a rounding
							require.InDelta(t, want.G, got.G, 1)
							want.R, want.G, want.B = got.R, got.G, got.B
						}
						require.Equal(t, want, got, "%s at %d, %d", name, x, y)
					}
				}
			}
		}
	}
	assert.Error(t, EncodePNG(&bytes.Buffer{}, image.NewRGBA(image.Rect(0, 0, 0, 5)), Quick))
}

func TestPathsFillInsideLeaveHolesAndStayOnTheCanvas(t *testing.T) {
	var s scene.Scene
	s.W, s.H = 100, 60
	red := scene.Hex("#ff0000")
	s.Fill(scene.Frame(scene.Rect{X: 20, Y: 10, W: 40, H: 30}, 0, 4), red)
	s.Fill(scene.Polygon(scene.Point{X: -500, Y: 55}, scene.Point{X: 500, Y: 55}, scene.Point{X: 0, Y: 900}), red)
	img := Draw(s, 2, nil)
	assert.Equal(t, image.Pt(200, 120), img.Bounds().Size())
	is := func(x, y int) bool { return img.RGBAAt(x, y) == color.RGBA{255, 0, 0, 255} }
	assert.True(t, is(40, 40), "the frame's left side")
	assert.False(t, is(80, 50), "its inside")
	assert.True(t, is(0, 118), "a shape larger than the canvas")
	assert.False(t, is(0, 100))
}

func TestPicturesAreCroppedAndScaled(t *testing.T) {
	src := image.NewRGBA(image.Rect(0, 0, 40, 40))
	for i := range src.Pix {
		src.Pix[i] = 255
	}
	for y := 20; y < 40; y++ {
		for x := 20; x < 40; x++ {
			src.SetRGBA(x, y, color.RGBA{0, 0, 255, 255})
		}
	}
	s := scene.Scene{W: 20, H: 20, Items: []scene.Item{{Picture: &scene.Picture{
		Ref: "a", Source: scene.Rect{X: 20, Y: 20, W: 20, H: 20}, Target: scene.Rect{W: 20, H: 20}}}}}
	for _, scale := range []float64{1, 0.5, 3, 0.333, 0.771} {
		img := Draw(s, scale, func(ref string) *image.RGBA { return src })
		assert.Equal(t, color.RGBA{0, 0, 255, 255}, img.RGBAAt(1, 1), "scale %v", scale)
		assert.True(t, img.Opaque(), "scale %v leaves an edge bare", scale)
	}
}

func TestScaleKeepsColoursAndPlaces(t *testing.T) {
	src := image.NewRGBA(image.Rect(0, 0, 200, 120))
	for i := range src.Pix {
		src.Pix[i] = 255
	}
	for y := range 120 {
		for x := range 100 {
			src.SetRGBA(x, y, color.RGBA{40, 90, 200, 255})
		}
	}
	for _, size := range []image.Point{{50, 30}, {77, 41}, {1, 1}, {400, 240}} {
		img := Scale(src, src.Rect, size.X, size.Y)
		assert.Equal(t, size, img.Bounds().Size())
		assert.True(t, img.Opaque())
		if size.X > 1 {
			assert.Equal(t, color.RGBA{40, 90, 200, 255}, img.RGBAAt(size.X/4, size.Y/2), "one colour stays that colour")
			assert.Equal(t, color.RGBA{255, 255, 255, 255}, img.RGBAAt(size.X*3/4, size.Y/2))
		}
	}
	part := Scale(src, image.Rect(100, 0, 999, 999), 10, 10)
	assert.Equal(t, color.RGBA{255, 255, 255, 255}, part.RGBAAt(0, 0), "nothing outside the part bleeds in")
	assert.Zero(t, Scale(src, image.Rect(500, 500, 600, 600), 4, 4).RGBAAt(1, 1).A)
}

// TestScalingLeavesNothingOut holds what is computed where rows differ against all of it computed: the same, bit by
// bit.
func TestScalingLeavesNothingOut(t *testing.T) {
	random := rand.New(rand.NewSource(3))
	for range 40 {
		src := image.NewRGBA(image.Rect(0, 0, 1+random.Intn(150), 1+random.Intn(120)))
		draw.Draw(src, src.Rect, image.NewUniform(color.RGBA{240, 244, 245, 255}), image.Point{}, draw.Src)
		for range random.Intn(12) {
			at := image.Rect(random.Intn(150), random.Intn(120), random.Intn(150), random.Intn(120))
			a := uint8(255 - 100*random.Intn(2))
			draw.Draw(src, at, image.NewUniform(color.RGBA{uint8(random.Intn(int(a))), uint8(random.Intn(int(a))), 9, a}), image.Point{}, draw.Src)
		}
		for range random.Intn(30) {
			src.SetRGBA(random.Intn(150), random.Intn(120), color.RGBA{uint8(random.Intn(256)), 0, 0, 255})
		}
		from := image.Rect(random.Intn(20), random.Intn(20), 20+random.Intn(130), 20+random.Intn(100))
		w, h := 1+random.Intn(200), 1+random.Intn(200)
		assert.Equal(t, plainly(src, from, w, h).Pix, Scale(src, from, w, h).Pix)
	}
}

// plainly scales as Scale does, with every pixel computed.
func plainly(src *image.RGBA, from image.Rectangle, w, h int) *image.RGBA {
	from = from.Intersect(src.Rect)
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if from.Empty() {
		return out
	}
	wide := image.NewRGBA(image.Rect(0, 0, w, from.Dy()))
	mixed := func(to *image.RGBA, x, y int, k kernel, at func(i int) []byte) {
		var sum pair
		for i, weight := range k.weights {
			p := unpack(at(k.first + i))
			sum.rg += weight * p.rg
			sum.ba += weight * p.ba
		}
		sum.pack(to.Pix[to.PixOffset(x, y):])
	}
	for y := range from.Dy() {
		for x, k := range kernels(from.Dx(), w, 0, w) {
			mixed(wide, x, y, k, func(i int) []byte { return src.Pix[src.PixOffset(from.Min.X+i, from.Min.Y+y):] })
		}
	}
	for y, k := range kernels(from.Dy(), h, 0, h) {
		for x := range w {
			mixed(out, x, y, k, func(i int) []byte { return wide.Pix[wide.PixOffset(x, i):] })
		}
	}
	return out
}

// TestPNGsAreReadAsTheStandardLibraryReadsThem takes pictures of every kind that two writers make, whole and damaged.
func TestPNGsAreReadAsTheStandardLibraryReadsThem(t *testing.T) {
	random := rand.New(rand.NewSource(5))
	standard := func(data []byte) (*image.RGBA, error) {
		img, err := png.Decode(bytes.NewReader(data))
		if err != nil {
			return nil, err
		}
		out := image.NewRGBA(image.Rectangle{Max: img.Bounds().Size()})
		draw.Draw(out, out.Rect, img, img.Bounds().Min, draw.Src)
		return out, nil
	}
	for kind, paint := range map[string]func(x, y int) color.NRGBA{
		"few colours": func(x, y int) color.NRGBA { return color.NRGBA{uint8(x / 9 * 20), 3, 4, 255} },
		"screen":      func(x, y int) color.NRGBA { return color.NRGBA{uint8(x / 7), uint8(y / 5), uint8(x * y / 90), 255} },
		"noise":       func(int, int) color.NRGBA { return color.NRGBA{uint8(random.Int()), uint8(random.Int()), 7, 255} },
		"see through": func(x, y int) color.NRGBA { return color.NRGBA{uint8(x), 200, uint8(y), uint8(x + y)} },
	} {
		src := image.NewNRGBA(image.Rect(0, 0, 1+random.Intn(90), 1+random.Intn(70)))
		for y := range src.Rect.Dy() {
			for x := range src.Rect.Dx() {
				src.SetNRGBA(x, y, paint(x, y))
			}
		}
		var own, theirs bytes.Buffer
		require.NoError(t, png.Encode(&theirs, src))
		plain := image.NewRGBA(src.Rect)
		draw.Draw(plain, plain.Rect, src, image.Point{}, draw.Src)
		require.NoError(t, EncodePNG(&own, plain, Small))
		for _, data := range [][]byte{own.Bytes(), theirs.Bytes()} {
			want, err := standard(data)
			require.NoError(t, err)
			got, err := DecodePNG(bytes.NewReader(data))
			require.NoError(t, err)
			drawn := image.NewRGBA(want.Rect)
			draw.Draw(drawn, drawn.Rect, got, image.Point{}, draw.Src)
			require.Equal(t, want.Pix, drawn.Pix, kind)
			for range 60 {
				bad := bytes.Clone(data)
				bad[8+random.Intn(len(bad)-8)] ^= 1 << random.Intn(8)
				if random.Intn(4) == 0 {
					bad = bad[:random.Intn(len(bad))]
				}
				_, err := standard(bad)
				_, mine := DecodePNG(bytes.NewReader(bad))
				assert.Equal(t, err == nil, mine == nil, "%s: %v, %v", kind, err, mine)
			}
		}
	}
}
