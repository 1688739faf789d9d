package workstation

import (
	"hash/maphash"
	"image"
	"image/draw"
	"math"
	"time"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/text"
	"raconte/engines/raster"
)

// layer is a part of the desktop drawn as one: the ground, a window, an open list or a tooltip.
type layer struct {
	id       string
	window   *window // nil for all but windows
	popup    bool
	tip      bool
	rect     scene.Rect
	drawn    scene.Scene // in the layer's own pixels
	controls []control   // in pixels of the desktop
	scroll   func(by float64)
}

const (
	titleBar    = 38.0
	stripHeight = 44.0 // of the strip along the foot of the main monitor
	shadowReach = 22.0
	stripLayer  = "strip"
	tipDelay    = 700 * time.Millisecond
	blink       = 530 * time.Millisecond
)

// layers are what the desktop shows now, back to front.
func (d *Desk) layers() []layer {
	all := []layer{ground(), d.strip()}
	var popups []layer
	for _, w := range d.windows {
		u := &ui{desk: d, owner: w.id, rect: w.rect, name: w.title}
		u.drawn = scene.Scene{W: w.rect.W, H: w.rect.H}
		u.controls = append(u.controls, control{Element: capture.Element{Name: w.title, Role: capture.RoleWindow, Rect: w.rect, Window: w.title}})
		d.chrome(u, w)
		w.draw(u)
		all = append(all, layer{id: w.id, window: w, rect: w.rect, drawn: u.drawn, controls: u.controls, scroll: u.scroll})
		popups = append(popups, u.popups...)
	}
	all = append(all, popups...)
	if d.now.Sub(d.rested) >= tipDelay {
		if _, c := under(all, d.pointer); c != nil && c.tip != "" {
			all = append(all, d.tooltip(c))
		}
	}
	return all
}

func ground() layer {
	s := scene.Scene{W: Both.W, H: Both.H}
	s.Fill(scene.Polygon(scene.Point{}, scene.Point{X: Both.W}, scene.Point{X: Both.W, Y: Both.H}, scene.Point{Y: Both.H}), scene.Hex("#000000"))
	for _, m := range []scene.Rect{Main, Side} {
		s.Fill(scene.Rounded(m, 0), sky)
		hill := func(base, rise, shift float64, c scene.Color) {
			pts := []scene.Point{{X: m.X, Y: m.H}}
			for i := range 41 {
				x := m.X + m.W*float64(i)/40
				pts = append(pts, scene.Point{X: x, Y: m.H*base - rise*math.Sin((x+shift)/310)})
			}
			s.Fill(scene.Polygon(append(pts, scene.Point{X: m.X + m.W, Y: m.H})...), c)
		}
		hill(0.70, 60, 0, hillFar)
		hill(0.84, 46, 700, hillNear)
	}
	return layer{id: "ground", rect: Both, drawn: s}
}

// strip is along the foot of the main monitor: the open windows and the clock.
func (d *Desk) strip() layer {
	rect := scene.Rect{Y: Main.H - stripHeight, W: Main.W, H: stripHeight}
	u := &ui{desk: d, owner: stripLayer, rect: rect}
	u.drawn = scene.Scene{W: rect.W, H: rect.H}
	u.box(scene.Rect{W: rect.W, H: rect.H}, 0, dark)
	x := 20.0
	for _, w := range d.program.known {
		open := d.find(w.id)
		if open == nil {
			continue
		}
		r := scene.Rect{X: x, Y: 6, W: text.Width(text.Regular, 15, w.title) + 32, H: 32}
		if open == d.front() {
			u.box(r, 3, scene.Hex("#3b4d45"))
		}
		u.sayCenter(text.Regular, 15, r, w.title, white)
		u.element(capture.RoleButton, w.title, r, func() { d.raise(open) })
		x += r.W + 8
	}
	clock := d.now.Format("15:04")
	r := scene.Rect{X: Main.W - 92, Y: 6, W: 76, H: 32}
	u.sayCenter(text.Bold, 16, r, clock, white)
	u.element(capture.RoleClock, "Clock", r, nil)
	u.sayRight(text.Regular, 14, r.X-14, 27, d.now.Format("Monday 2 January"), scene.Hex("#b8c4be"))
	return layer{id: stripLayer, rect: rect, drawn: u.drawn, controls: u.controls}
}

// chrome draws a window's frame and title bar.
func (d *Desk) chrome(u *ui, w *window) {
	whole := scene.Rect{W: w.rect.W, H: w.rect.H}
	u.box(whole, 6, edge)
	u.box(whole.Grow(-1), 5, white)
	bar, ink := scene.Hex("#e4e9e6"), gray
	if w == d.front() {
		bar, ink = scene.Hex("#cfdad4"), dark
	}
	u.box(scene.Rect{X: 1, Y: 1, W: w.rect.W - 2, H: titleBar - 1}, 5, bar)
	u.box(scene.Rect{X: 1, Y: titleBar - 6, W: w.rect.W - 2, H: 6}, 0, bar)
	u.box(scene.Rect{X: 14, Y: 11, W: 16, H: 16}, 3, green)
	u.box(scene.Rect{X: 19, Y: 16, W: 6, H: 6}, 3, scene.Hex("#f0c46a"))
	u.say(text.Bold, 15, 40, 25, w.title, ink)
	if w.id == signInDialog {
		return
	}
	r := scene.Rect{X: w.rect.W - 40, Y: 6, W: 30, H: 26}
	c := r.Center()
	for _, s := range []float64{-1, 1} {
		u.drawn.Fill(scene.Stroke([]scene.Point{{X: c.X - 5, Y: c.Y - 5*s}, {X: c.X + 5, Y: c.Y + 5*s}}, 1.8, false), ink)
	}
	u.element(capture.RoleButton, "Close "+w.title, r, func() { d.close(w.id) })
}

func (d *Desk) tooltip(c *control) layer {
	w := text.Width(text.Regular, 15, c.tip) + 24
	r := scene.Rect{X: min(c.Rect.X+8, Both.W-w-8), Y: c.Rect.Y + c.Rect.H + 8, W: w, H: 32}
	u := &ui{desk: d, rect: r}
	u.drawn = scene.Scene{W: r.W, H: r.H}
	own := scene.Rect{W: r.W, H: r.H}
	u.box(own, 4, dark)
	u.sayCenter(text.Regular, 15, own, c.tip, white)
	return layer{id: "tip", tip: true, rect: r, drawn: u.drawn}
}

// drawn is a layer's picture, kept for as long as the layer looks the same.
type drawn struct {
	print uint64
	img   *image.RGBA
}

var seed = maphash.MakeSeed()

// fingerprint changes when a scene does.
func fingerprint(s scene.Scene) uint64 {
	var h maphash.Hash
	h.SetSeed(seed)
	for _, item := range s.Items {
		if w := item.Words; w != nil {
			h.WriteString(w.Text)
			maphash.WriteComparable(&h, [3]float64{w.X, w.Baseline, w.Size})
			maphash.WriteComparable(&h, w.Fill)
		}
		if p := item.Path; p != nil {
			maphash.WriteComparable(&h, p.Fill)
			for _, seg := range p.Outline {
				maphash.WriteComparable(&h, seg)
			}
		}
	}
	return h.Sum64()
}

// Image is the whole desktop in pixels, with the pointer or without.
func (d *Desk) Image(pointer bool) *image.RGBA {
	out := image.NewRGBA(image.Rect(0, 0, int(Both.W), int(Both.H)))
	d.Draw(out, pointer)
	return out
}

// Draw draws the whole desktop on an image of its size. Layers that look as they did are not drawn again; where
// the image itself is the one drawn on last and nothing at all has changed, it tells false.
func (d *Desk) Draw(out *image.RGBA, pointer bool) bool {
	layers := d.layers()
	look := look{on: out}
	if pointer {
		look.pointer = d.pointer
	}
	for _, l := range layers {
		look.print = look.print*31 + fingerprint(l.drawn) + maphash.Comparable(seed, l.rect)
	}
	if look == d.last {
		return false
	}
	d.last = look
	next := map[string]drawn{}
	for _, l := range layers {
		print := fingerprint(l.drawn)
		shot, ok := d.shots[l.id]
		if !ok || shot.print != print || shot.img.Rect.Dx() != int(l.rect.W) {
			img := image.NewRGBA(image.Rect(0, 0, int(l.rect.W), int(l.rect.H)))
			l.drawn.Draw(&raster.Canvas{Image: img, Scale: 1})
			shot = drawn{print, img}
		}
		next[l.id] = shot
		at := image.Pt(int(math.Round(l.rect.X)), int(math.Round(l.rect.Y)))
		if l.window != nil || l.popup {
			shadow(out, shot.img.Rect.Add(at))
		}
		put(out, shot.img, at)
	}
	d.shots = next
	if pointer {
		drawPointer(out, d.pointer)
	}
	return true
}

// look is all that decides what a drawing of the desktop looks like.
type look struct {
	on      *image.RGBA
	pointer scene.Point
	print   uint64
}

// Front is the front window alone, at scale pixels to a pixel of the desktop, as a screen of high density shows it.
func (d *Desk) Front(scale float64) *image.RGBA {
	front := d.front()
	for _, l := range d.layers() {
		if l.window == front && front != nil {
			return raster.Draw(l.drawn, scale, nil)
		}
	}
	return image.NewRGBA(image.Rect(0, 0, 1, 1))
}

func drawPointer(out *image.RGBA, at scene.Point) {
	s := scene.Scene{}
	for i, shape := range figure.PointerShape(at, 22) {
		s.Fill(shape, []scene.Color{scene.Hex("#101418"), white}[i])
	}
	s.Draw(&raster.Canvas{Image: out, Scale: 1})
}

// put copies a layer's picture; only the rows with round corners need blending.
func put(out, img *image.RGBA, at image.Point) {
	const round = 6
	r := img.Rect.Add(at)
	for _, part := range []struct {
		y0, y1 int
		op     draw.Op
	}{{0, round, draw.Over}, {round, r.Dy() - round, draw.Src}, {r.Dy() - round, r.Dy(), draw.Over}} {
		to := image.Rect(r.Min.X, r.Min.Y+part.y0, r.Max.X, r.Min.Y+part.y1)
		draw.Draw(out, to, img, image.Pt(0, part.y0), part.op)
	}
}

// shadow darkens the pixels around a rectangle, less with the distance and a little lower than it.
func shadow(out *image.RGBA, r image.Rectangle) {
	around := r.Inset(-int(shadowReach)).Intersect(out.Rect)
	low := r.Add(image.Pt(0, 5))
	for y := around.Min.Y; y < around.Max.Y; y++ {
		for x := around.Min.X; x < around.Max.X; x++ {
			if x >= r.Min.X && x < r.Max.X && y >= r.Min.Y && y < r.Max.Y {
				x = r.Max.X - 1
				continue
			}
			dx := float64(max(low.Min.X-x, x-low.Max.X+1, 0))
			dy := float64(max(low.Min.Y-y, y-low.Max.Y+1, 0))
			k := 1 - math.Hypot(dx, dy)/shadowReach
			if k <= 0 {
				continue
			}
			keep := 256 - int(74*k*k)
			i := out.PixOffset(x, y)
			for c := range 3 {
				out.Pix[i+c] = uint8(int(out.Pix[i+c]) * keep >> 8)
			}
		}
	}
}
