package main

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math"
	"slices"
	"strings"
	"time"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/reshoot"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/practice/workstation"
)

// pair is a shot, marks on it, and a new shot of the same program in which it is known where each mark's target is.
type pair struct {
	name          string
	before, after *image.RGBA
	marks         []figure.Mark
	truth         map[string]*scene.Point // the middle of each target in the new shot; nil where it is gone
}

// stand is the front window of a program, put on a screen of 1920×1080, and where its elements are in it.
func stand(script string, scale float64, at image.Point) (*image.RGBA, []capture.Element) {
	p := workstation.NewPlayer()
	must(p.Play(strings.NewReader("sign in\n" + script)))
	img := image.NewRGBA(image.Rect(0, 0, 1920, 1080))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{38, 62, 70, 255}), image.Point{}, draw.Src)
	front := p.Desk.Front(scale)
	draw.Draw(img, front.Rect.Add(at), front, image.Point{}, draw.Over)
	screen := p.Desk.Screen()
	window := screen.Windows[0].Rect
	var elements []capture.Element
	for _, e := range screen.Elements {
		if !window.Contains(e.Rect.Center()) || e.Name == "" {
			continue
		}
		r := e.Rect
		e.Rect = scene.Rect{
			X: (r.X-window.X)*scale + float64(at.X), Y: (r.Y-window.Y)*scale + float64(at.Y), W: r.W * scale, H: r.H * scale,
		}
		if (scene.Rect{W: 1920, H: 1080}).Contains(scene.Point{X: e.Rect.X + e.Rect.W, Y: e.Rect.Y + e.Rect.H}) && e.Role != "window" {
			elements = append(elements, e)
		}
	}
	return img, elements
}

// marksOn are up to ten boxes and markers on elements, spread over them.
func marksOn(elements []capture.Element) []figure.Mark {
	elements = alone(elements)
	var marks []figure.Mark
	step := max(1, len(elements)/10)
	for i := 0; i < len(elements) && len(marks) < 10; i += step {
		e := elements[i]
		m := figure.Mark{ID: e.Name + " " + e.Role, Kind: figure.Box, Points: []scene.Point{
			{X: e.Rect.X, Y: e.Rect.Y}, {X: e.Rect.X + e.Rect.W, Y: e.Rect.Y + e.Rect.H},
		}}
		if i%3 == 2 {
			m.Kind, m.Points = figure.Marker, []scene.Point{e.Rect.Center()}
		}
		marks = append(marks, m)
	}
	return marks
}

// alone are the elements whose name and role no other has, and which every page does not have.
func alone(elements []capture.Element) []capture.Element {
	counts := map[string]int{}
	for _, e := range elements {
		counts[e.Name+" "+e.Role]++
	}
	return slices.DeleteFunc(slices.Clone(elements), func(e capture.Element) bool {
		return counts[e.Name+" "+e.Role] > 1 || strings.HasPrefix(e.Name, "Close ")
	})
}

// recoloured is a screen in other colours: dark where it was light, and another hue.
func recoloured(img *image.RGBA) *image.RGBA {
	out := image.NewRGBA(img.Rect)
	for i := 0; i < len(img.Pix); i += 4 {
		r, g, b := img.Pix[i], img.Pix[i+1], img.Pix[i+2]
		out.Pix[i], out.Pix[i+1], out.Pix[i+2], out.Pix[i+3] = 250-uint8(float64(g)*0.9), 245-uint8(float64(b)*0.85), 255-uint8(float64(r)*0.92), 255
	}
	return out
}

// pairs is a generated set: windows moved, shown larger, in other colours, scrolled, and with things gone.
func pairs() []pair {
	var all []pair
	sections := []string{"click Receiving", "click Rooms", "click Alarms", "click Labels", "click Moves"}
	home := image.Pt(60, 40)
	for i, section := range sections {
		before, elements := stand(section, 1, home)
		marks := marksOn(elements)
		add := func(name string, after *image.RGBA, where []capture.Element) {
			p := pair{name: name, before: before, after: after, marks: marks, truth: map[string]*scene.Point{}}
			for _, m := range marks {
				p.truth[m.ID] = nil
				for _, e := range where {
					if e.Name+" "+e.Role == m.ID {
						c := e.Rect.Center()
						p.truth[m.ID] = &c
					}
				}
			}
			all = append(all, p)
		}
		img, where := stand(section, 1, image.Pt(173+31*i, 97+13*i))
		add("moved", img, where)
		img, where = stand(section, 1.25, image.Pt(20, 8))
		add("at 125 %", img, where)
		img, where = stand(section, 1.5, image.Pt(0, 0))
		add("at 150 %", img, where)
		img, where = stand(section, 1, image.Pt(101, 66))
		add("in other colours", recoloured(img), where)
		img, where = stand(sections[(i+1)%len(sections)], 1, home)
		add("another page", img, where)
		// Half of the things are painted over.
		img, where = stand(section, 1, image.Pt(90, 80))
		gone := where[:0:0]
		for j, e := range where {
			marked := false
			for _, m := range marks {
				marked = marked || m.ID == e.Name+" "+e.Role
			}
			if marked && j%2 == 0 {
				r := e.Rect.Grow(2)
				c := img.RGBAAt(int(r.X)-2, int(r.Y)-2)
				draw.Draw(img, image.Rect(int(r.X), int(r.Y), int(r.X+r.W), int(r.Y+r.H)), image.NewUniform(c), image.Point{}, draw.Src)
				continue
			}
			gone = append(gone, e)
		}
		add("absent", img, gone)
	}
	before, elements := stand("click Alarms\nclick Door log", 1, home)
	after, where := stand("click Alarms\nclick Door log\nscroll Door log 130", 1, home)
	p := pair{name: "scrolled", before: before, after: after, marks: marksOn(elements), truth: map[string]*scene.Point{}}
	for _, m := range p.marks {
		p.truth[m.ID] = nil
		for _, e := range where {
			if e.Name+" "+e.Role == m.ID {
				c := e.Rect.Center()
				p.truth[m.ID] = &c
			}
		}
	}
	return append(all, p)
}

// tally counts how a set came out.
type tally struct {
	marks, right, falsely, asked int
	wrong                        []string
}

// judge finds the targets of a pair's marks by their looks alone and counts. Right is found within a sixth of its
// height or 6 pixels, or rightly lost; what is asked of a person counts as right where the offered place is.
func judge(p pair, t *tally) time.Duration {
	began := time.Now()
	found := reshoot.Marks(p.marks, 1, reshoot.Side{Seen: sight.Look(p.before)}, reshoot.Side{Seen: sight.Look(p.after)})
	took := time.Since(began)
	for i, f := range found {
		t.marks++
		truth := p.truth[p.marks[i].ID]
		near := truth != nil && f.Center.Minus(*truth).Length() <= math.Max(6, 9)
		if f.Sure == reshoot.Perhaps {
			t.asked++
		}
		switch {
		case near && f.Sure != reshoot.Lost, truth == nil && f.Sure == reshoot.Lost:
			t.right++
		case f.Sure == reshoot.Yes:
			t.falsely++
			t.wrong = append(t.wrong, fmt.Sprintf("%s: %s found at %.0f, is at %v", p.name, p.marks[i].ID, f.Center, truth))
		default:
			t.wrong = append(t.wrong, fmt.Sprintf("%s: %s %s, is at %v", p.name, p.marks[i].ID, f.Sure, truth))
		}
	}
	return took
}

func reanchor() {
	var all tally
	byName := map[string]*tally{}
	var times []time.Duration
	for _, p := range pairs() {
		if byName[p.name] == nil {
			byName[p.name] = &tally{}
		}
		t := &tally{}
		times = append(times, judge(p, t))
		for _, into := range []*tally{&all, byName[p.name]} {
			into.marks += t.marks
			into.right += t.right
			into.falsely += t.falsely
			into.asked += t.asked
			into.wrong = append(into.wrong, t.wrong...)
		}
	}
	share := func(n, of int) float64 { return 100 * float64(n) / float64(max(1, of)) }
	slowest := time.Duration(0)
	var sum time.Duration
	for _, t := range times {
		slowest, sum = max(slowest, t), sum+t
	}
	say("find the targets of 10 marks again in another 1080p shot", "%s on average, %s at most (wanted: 500 ms)", ms(sum/time.Duration(len(times))), ms(slowest))
	say("  right, of a generated set", "%.1f %% of %d (wanted: 95 %%), falsely found %.1f %% (wanted: 2 %%), asked %.1f %%", share(all.right, all.marks), all.marks, share(all.falsely, all.marks), share(all.asked, all.marks))
	for name, t := range byName {
		say("    "+name, "%.0f %% of %d right, %d falsely found", share(t.right, t.marks), t.marks, t.falsely)
	}
}
