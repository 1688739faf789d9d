//go:build js && wasm

// Studiowasm is what capture needs of pixels, compiled for a worker of the browser: the practice workstation, and
// the rules that look at whole pictures. It passes JSON and pixels in and out and decides nothing.
package main

import (
	"context"
	"encoding/json"
	"fmt"
	"image"
	"runtime/debug"
	"syscall/js"
	"time"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/core/text"
	"raconte/engines/raster"
	"raconte/practice/workstation"
)

// studio is what lasts between calls.
type studio struct {
	desk   *workstation.Desk
	frame  *image.RGBA // what the desk shows now
	bare   bool        // without its pointer
	settle capture.Settle
	parts  []*image.RGBA // of a page that is being taken
}

// frameThickness is how broad, in pixels, the ground under a box is looked at.
const frameThickness = 8

// answer is JSON and, of calls that make a picture, its pixels.
type answer struct {
	value  any
	pixels *image.RGBA
}

type point struct {
	scene.Point
	Kind string       `json:"kind"` // of a press: click, double-click or right-click
	By   float64      `json:"by"`
	Wish capture.Wish `json:"wish"`
}

func (s *studio) call(name string, args json.RawMessage, given *image.RGBA) (answer, error) {
	var p point
	read := func(into any) error {
		if err := json.Unmarshal(args, into); err != nil {
			return fmt.Errorf("reading the arguments: %w", err)
		}
		return nil
	}
	switch name {
	case "start":
		var now time.Time
		if err := read(&now); err != nil {
			return answer{}, err
		}
		s.desk = workstation.New(now)
		s.frame = image.NewRGBA(image.Rect(0, 0, int(workstation.Both.W), int(workstation.Both.H)))
	case "draw":
		if s.desk.Draw(s.frame, !s.bare) {
			return answer{pixels: s.frame}, nil
		}
	case "screen":
		return answer{value: s.desk.Screen()}, nil
	case "pointer":
		shown := true
		if err := read(&shown); err != nil {
			return answer{}, err
		}
		s.bare = !shown
	case "move", "press", "wheel", "before":
		if err := read(&p); err != nil {
			return answer{}, err
		}
		switch name {
		case "move":
			s.desk.Move(p.Point)
		case "press":
			s.desk.Press(p.Point)
		case "wheel":
			s.desk.Wheel(p.Point, p.By)
		case "before":
			acts := s.desk.Before(p.Point, p.Kind)
			if acts == nil {
				acts = []capture.Action{}
			}
			return answer{value: acts}, nil
		}
	case "beforeKey":
		var key string
		if err := read(&key); err != nil {
			return answer{}, err
		}
		return answer{value: append([]capture.Action{}, s.desk.BeforeKey(key)...)}, nil
	case "typing":
		if act, ok := s.desk.Typing(); ok {
			return answer{value: act}, nil
		}
	case "release":
		s.desk.Release()
	case "key":
		var key string
		if err := read(&key); err != nil {
			return answer{}, err
		}
		s.desk.Key(key)
	case "pass":
		var ms float64
		if err := read(&ms); err != nil {
			return answer{}, err
		}
		s.desk.Pass(time.Duration(ms) * time.Millisecond)
	case "take":
		return s.take(args)
	case "page":
		return s.page(args)
	case "print":
		return answer{value: fmt.Sprint(s.desk.Print())}, nil
	case "watch":
		var quiet float64
		if err := read(&quiet); err != nil {
			return answer{}, err
		}
		s.settle = capture.Settle{Quiet: time.Duration(quiet) * time.Millisecond}
	case "look":
		var seen uint64
		if err := read(&seen); err != nil {
			return answer{}, err
		}
		return answer{value: s.settle.Look(time.Now(), seen)}, nil
	case "inside":
		var outline []scene.Point
		if err := read(&outline); err != nil {
			return answer{}, err
		}
		raster.KeepInside(given, scene.Polygon(outline...))
		return answer{pixels: given}, nil
	case "recolour":
		var a struct {
			Figure figure.Figure `json:"figure"`
			Scale  float64       `json:"scale"` // pixels that are given to one of the shot
		}
		if err := read(&a); err != nil {
			return answer{}, err
		}
		img, err := raster.Recoloured(context.Background(), given, a.Figure.Recolours, a.Figure.Still(1).Hidden(), a.Scale)
		return answer{pixels: img}, err
	case "part":
		s.parts = append(s.parts, given)
		return answer{value: len(s.parts)}, nil
	case "stitch":
		parts := s.parts
		s.parts = nil
		if len(parts) == 0 {
			return answer{}, fmt.Errorf("there is nothing to join")
		}
		img, err := sight.Stitch(parts)
		return answer{pixels: img}, err
	case "forget":
		s.parts = nil
	case "ink":
		var frame scene.Rect
		if err := read(&frame); err != nil {
			return answer{}, err
		}
		inks := figure.AutoInks()
		colors := make([]scene.Color, len(inks))
		for i, ink := range inks {
			colors[i] = ink.Color
		}
		return answer{value: inks[sight.Ink(given, frame, frameThickness, colors)].Name}, nil
	case "windows":
		return answer{value: rects(sight.GuessWindows(given))}, nil
	case "monitors":
		return answer{value: rects(sight.Monitors(given))}, nil
	default:
		return answer{}, fmt.Errorf("the studio has no function %s", name)
	}
	return answer{}, nil
}

func rects(all []image.Rectangle) []scene.Rect {
	out := []scene.Rect{}
	for _, r := range all {
		out = append(out, scene.Rect{X: float64(r.Min.X), Y: float64(r.Min.Y), W: float64(r.Dx()), H: float64(r.Dy())})
	}
	return out
}

type takeArgs struct {
	Wish   capture.Wish    `json:"wish"`
	Action *capture.Action `json:"action"`
}

// take cuts what is wished for from the desk as it is now.
func (s *studio) take(raw json.RawMessage) (answer, error) {
	var a takeArgs
	if err := json.Unmarshal(raw, &a); err != nil {
		return answer{}, fmt.Errorf("reading the arguments: %w", err)
	}
	c, img, err := s.desk.Take(a.Wish, a.Action)
	return answer{c, img}, err
}

// page takes what can be scrolled under a point, from top to end.
func (s *studio) page(raw json.RawMessage) (answer, error) {
	var a takeArgs
	if err := json.Unmarshal(raw, &a); err != nil {
		return answer{}, fmt.Errorf("reading the arguments: %w", err)
	}
	c, img, err := s.desk.Page(a.Wish.At)
	return answer{c, img}, err
}

func main() {
	debug.SetGCPercent(50) // frames are large: collect early
	var s studio
	js.Global().Set("raconteStudio", js.FuncOf(func(_ js.Value, args []js.Value) any {
		var given *image.RGBA
		if pixels := args[2]; pixels.Truthy() {
			given = image.NewRGBA(image.Rect(0, 0, args[3].Int(), args[4].Int()))
			js.CopyBytesToGo(given.Pix, pixels)
		}
		return s.answer(args[0].String(), args[1].String(), given)
	}))
	js.Global().Set("raconteFont", js.FuncOf(func(_ js.Value, args []js.Value) any {
		ttf := make([]byte, args[1].Get("length").Int())
		js.CopyBytesToGo(ttf, args[1])
		if err := text.Register(args[0].String(), ttf); err != nil {
			return err.Error()
		}
		return ""
	}))
	js.Global().Call("raconteStudioReady")
	select {}
}

func (s *studio) answer(name, args string, given *image.RGBA) (out map[string]any) {
	defer func() {
		if p := recover(); p != nil {
			out = map[string]any{"error": fmt.Sprint("the studio failed: ", p)}
		}
	}()
	a, err := s.call(name, json.RawMessage(args), given)
	if err != nil {
		return map[string]any{"error": err.Error()}
	}
	out = map[string]any{}
	if a.value != nil {
		b, err := json.Marshal(a.value)
		if err != nil {
			return map[string]any{"error": err.Error()}
		}
		out["value"] = string(b)
	}
	if a.pixels != nil {
		data := js.Global().Get("Uint8ClampedArray").New(len(a.pixels.Pix))
		js.CopyBytesToJS(data, straight(a.pixels))
		out["pixels"], out["width"], out["height"] = data, a.pixels.Rect.Dx(), a.pixels.Rect.Dy()
	}
	return out
}

// straight is an image's pixels with straight alpha, as canvases want them.
func straight(img *image.RGBA) []byte {
	if img.Opaque() {
		return img.Pix
	}
	out := append([]byte(nil), img.Pix...)
	for i := 0; i < len(out); i += 4 {
		if a := int(out[i+3]); a > 0 && a < 255 {
			for k := range 3 {
				out[i+k] = uint8(min(255, int(out[i+k])*255/a))
			}
		}
	}
	return out
}
