package workstation

import (
	"bufio"
	"errors"
	"fmt"
	"image"
	"io"
	"math"
	"strconv"
	"strings"
	"time"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/engines/raster"
)

// Shot is what a script took.
type Shot struct {
	Image *image.RGBA
	About capture.About
	Words []sight.Word // that it shows
}

// Began is when scripts begin on the computer's clock, unless they say otherwise.
var Began = time.Date(2026, 11, 23, 10, 42, 0, 0, time.UTC)

// Player plays scripts on a computer of its own. A script is one command a line:
//
//	start 10:42                     the computer's clock at the beginning
//	sign in                         what everyone does first
//	click NAME                      also double-click, right-click; NAME is that of an element
//	point at NAME                   moves the pointer there and waits for the tooltip
//	type TEXT into NAME             without NAME, where the keyboard is
//	key F8
//	scroll NAME 300                 by so many pixels
//	move WINDOW 40 -20              drags a window
//	wait 30s
//	pointer in | out | apart        how the next shots show it
//	record clicks | stop recording  a shot before each click takes effect
//	take everything | monitor | window | window with shadow | element NAME |
//	     region X Y W H | band PERCENT | page NAME
//
// Empty lines and lines that begin with # say nothing.
type Player struct {
	Desk    *Desk
	Shots   []Shot
	pointer string
	record  bool
}

// NewPlayer is a player of a computer that was just started.
func NewPlayer() *Player { return &Player{Desk: New(Began), pointer: capture.PointerOut} }

// Play does a script's commands. An error names the line.
func (p *Player) Play(script io.Reader) error {
	lines := bufio.NewScanner(script)
	for n := 1; lines.Scan(); n++ {
		line := strings.TrimSpace(lines.Text())
		if line == "" || line[0] == '#' {
			continue
		}
		if err := p.Do(line); err != nil {
			return fmt.Errorf("line %d, %q: %w", n, line, err)
		}
	}
	return lines.Err()
}

// Do does one command.
func (p *Player) Do(line string) error {
	d := p.Desk
	verb, rest, _ := strings.Cut(line, " ")
	rest = strings.TrimSpace(rest)
	switch verb {
	case "start":
		at, err := time.Parse("15:04", rest)
		if err != nil {
			return fmt.Errorf("%q is no time like 10:42", rest)
		}
		*d = *New(time.Date(Began.Year(), Began.Month(), Began.Day(), at.Hour(), at.Minute(), 0, 0, time.UTC))
		d.program.desk = d
	case "sign":
		for _, c := range []string{"type ines@pellworth.example into E-mail", "type orchard-gate into Password", "click Sign in"} {
			if err := p.Do(c); err != nil {
				return err
			}
		}
	case "click", "double-click", "right-click":
		e, err := p.find(rest)
		if err != nil {
			return err
		}
		return p.click(e, verb)
	case "point":
		e, err := p.find(strings.TrimPrefix(rest, "at "))
		if err != nil {
			return err
		}
		d.Move(e.Rect.Center())
		d.Pass(time.Second)
	case "type":
		text, into, named := cutLast(rest, " into ")
		if named {
			e, err := p.find(into)
			if err != nil {
				return err
			}
			if f, _, ok := d.Focused(); !ok || f.Name != e.Name || f.Window != e.Window {
				if err := p.click(e, "click"); err != nil {
					return err
				}
			}
		}
		for _, r := range text {
			d.Key(string(r))
		}
	case "key":
		if p.record {
			if err := p.shootAll(d.BeforeKey(rest), d.pointer); err != nil {
				return err
			}
		}
		d.Key(rest)
	case "scroll":
		name, by, err := lastNumber(rest)
		if err != nil {
			return err
		}
		e, err := p.find(name)
		if err != nil {
			return err
		}
		d.Wheel(e.Rect.Center(), by)
	case "move":
		name, dy, err := lastNumber(rest)
		if err != nil {
			return err
		}
		name, dx, err := lastNumber(name)
		if err != nil {
			return err
		}
		e, err := p.find(name)
		if err != nil {
			return err
		}
		grip := scene.Point{X: e.Rect.X + e.Rect.W/2, Y: e.Rect.Y + 12}
		d.Press(grip)
		d.Move(grip.Plus(scene.Point{X: dx, Y: dy}))
		d.Release()
	case "wait":
		t, err := time.ParseDuration(rest)
		if err != nil || t < 0 {
			return fmt.Errorf("%q is no time like 30s", rest)
		}
		d.Pass(t)
	case "pointer":
		if rest != capture.PointerIn && rest != capture.PointerOut && rest != capture.PointerApart {
			return fmt.Errorf("the pointer is in, out or apart")
		}
		p.pointer = rest
	case "record":
		p.record = true
	case "stop":
		p.record = false
	case "take":
		return p.take(rest)
	default:
		return fmt.Errorf("there is no command %q", verb)
	}
	return nil
}

func (p *Player) find(name string) (capture.Element, error) {
	s := p.Desk.Screen()
	for i := len(s.Elements) - 1; i >= 0; i-- {
		if s.Elements[i].Name == name {
			return s.Elements[i], nil
		}
	}
	return capture.Element{}, fmt.Errorf("nothing on the screen is called %q", name)
}

func (p *Player) click(e capture.Element, kind string) error {
	at := e.Rect.Center()
	p.Desk.Move(at)
	if p.record {
		if err := p.shootAll(p.Desk.Before(at, kind), at); err != nil {
			return err
		}
	}
	p.Desk.Press(at)
	p.Desk.Release()
	p.Desk.Pass(time.Second)
	return nil
}

// shootAll takes the window at a point once for each action.
func (p *Player) shootAll(acts []capture.Action, at scene.Point) error {
	for _, act := range acts {
		if err := p.shoot(capture.Wish{What: capture.OneWindow, At: at, Pointer: p.pointer}, &act); err != nil {
			return err
		}
	}
	return nil
}

func (p *Player) take(what string) error {
	w := capture.Wish{At: p.Desk.pointer, Pointer: p.pointer}
	kind, rest, _ := strings.Cut(what, " ")
	w.What = capture.What(kind)
	switch w.What {
	case capture.Everything, capture.OneMonitor:
	case capture.OneWindow:
		w.Shadow = rest == "with shadow"
		if f := p.Desk.front(); f != nil && !f.rect.Contains(w.At) {
			w.At = f.rect.Center()
		}
	case capture.OneElement, capture.Page:
		e, err := p.find(rest)
		if err != nil {
			return err
		}
		w.At = e.Rect.Center()
		if w.What == capture.Page {
			return p.page(e)
		}
	case capture.Area:
		n, err := numbers(rest, 4)
		if err != nil {
			return err
		}
		w.Region = &scene.Rect{X: n[0], Y: n[1], W: n[2], H: n[3]}
	case capture.WindowBand:
		n, err := numbers(rest, 1)
		if err != nil {
			return err
		}
		w.Share = n[0] / 100
	default:
		return fmt.Errorf("%q can't be taken", kind)
	}
	return p.shoot(w, nil)
}

func (p *Player) shoot(w capture.Wish, act *capture.Action) error {
	c, img, err := p.Desk.Take(w, act)
	if err != nil {
		return err
	}
	p.Shots = append(p.Shots, Shot{img, c.About.Trimmed(), p.Desk.Words(c)})
	p.Desk.Pass(time.Second)
	return nil
}

// Take takes what is wished for from the desktop as it is now. What was done is told with it, if anything; where
// there is no window or element to take for it, it is the monitor.
func (d *Desk) Take(w capture.Wish, act *capture.Action) (capture.Cut, *image.RGBA, error) {
	s := d.Screen()
	c, err := s.Cut(w)
	if err != nil && act != nil {
		w.What = capture.OneMonitor
		c, err = s.Cut(w)
	}
	if err != nil {
		return c, nil, err
	}
	if act != nil {
		c.Did(*act)
	}
	c.About.Taken, c.About.Source = d.now, "practice"
	return c, CutOut(d.Image(w.Pointer == capture.PointerIn), c), nil
}

func (p *Player) page(e capture.Element) error {
	c, img, err := p.Desk.Page(e.Rect.Center())
	if err != nil {
		return err
	}
	p.Shots = append(p.Shots, Shot{img, c.About.Trimmed(), nil})
	return nil
}

// Page takes the list under a point from top to end, by scrolling it.
func (d *Desk) Page(at scene.Point) (capture.Cut, *image.RGBA, error) {
	var list *capture.Element
	s := d.Screen()
	for i := range s.Elements {
		if s.Elements[i].Role == roleList && s.Elements[i].Rect.Contains(at) {
			list = &s.Elements[i]
		}
	}
	if list == nil {
		return capture.Cut{}, nil, ErrNoList
	}
	c, err := s.Cut(capture.Wish{What: capture.Page, Region: &list.Rect, Pointer: capture.PointerOut})
	if err != nil {
		return c, nil, err
	}
	d.Wheel(list.Rect.Center(), math.Inf(-1))
	var parts []*image.RGBA
	for range 400 {
		part := CutOut(d.Image(false), c)
		if len(parts) > 0 && sight.Compare(parts[len(parts)-1], part).Verdict == sight.Same {
			break
		}
		parts = append(parts, part)
		d.Wheel(list.Rect.Center(), math.Floor(list.Rect.H*0.7))
	}
	img, err := sight.Stitch(parts)
	c.About.Taken, c.About.Source, c.About.Elements, c.About.Pointer = d.now, "practice", nil, nil
	return c, img, err
}

// ErrNoList says that nothing under the pointer can be scrolled.
var ErrNoList = errors.New("nothing here can be scrolled: point at a list that is longer than its window")

const roleList = "list"

// CutOut is the part of a picture that a cut means; outside an outline it is transparent.
func CutOut(img *image.RGBA, c capture.Cut) *image.RGBA {
	r := image.Rect(int(c.Rect.X), int(c.Rect.Y), int(c.Rect.X+c.Rect.W), int(c.Rect.Y+c.Rect.H)).Intersect(img.Rect)
	out := image.NewRGBA(image.Rect(0, 0, r.Dx(), r.Dy()))
	for y := range r.Dy() {
		copy(out.Pix[y*out.Stride:(y+1)*out.Stride], img.Pix[img.PixOffset(r.Min.X, r.Min.Y+y):])
	}
	if len(c.Outline) > 0 {
		raster.KeepInside(out, scene.Polygon(c.Outline...).Moved(1, scene.Point{X: -c.Rect.X, Y: -c.Rect.Y}))
	}
	return out
}

func cutLast(s, sep string) (before, after string, ok bool) {
	i := strings.LastIndex(s, sep)
	if i < 0 {
		return s, "", false
	}
	return s[:i], s[i+len(sep):], true
}

func lastNumber(s string) (rest string, n float64, err error) {
	rest, last, ok := cutLast(s, " ")
	if n, err = strconv.ParseFloat(last, 64); !ok || err != nil {
		return "", 0, fmt.Errorf("%q should end with a number", s)
	}
	return strings.TrimSpace(rest), n, nil
}

func numbers(s string, want int) ([]float64, error) {
	fields := strings.Fields(s)
	if len(fields) != want {
		return nil, fmt.Errorf("%q should be %d numbers", s, want)
	}
	out := make([]float64, want)
	for i, f := range fields {
		var err error
		if out[i], err = strconv.ParseFloat(f, 64); err != nil {
			return nil, fmt.Errorf("%q is no number", f)
		}
	}
	return out, nil
}
