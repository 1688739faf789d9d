//go:build js && wasm

package main

import (
	"encoding/json"
	"errors"
	"image"
	"syscall/js"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/stage"
)

// Each open picture has a stage of its own, which the page names by a handle.
var (
	stages = map[int]*stage.Stage{}
	last   int
)

const closed = "this picture is not open any more"

// shows is a function of a stage: it answers with a view.
func shows[A any](work func(A) stage.View) call {
	return takes(func(a A) (any, error) { return work(a), nil })
}

func init() {
	calls["newStage"] = takes(func(nothing) (any, error) {
		last++
		stages[last] = &stage.Stage{NewID: newID}
		return last, nil
	})
	calls["closeStage"] = takes(func(handle int) (any, error) { delete(stages, handle); return nil, nil })
}

// stageCalls are the functions of the stage with a handle.
func stageCalls(handle int) map[string]call {
	s := stages[handle]
	if s == nil {
		return nil
	}
	if made := callsOf[s]; made != nil {
		return made
	}
	clear(callsOf) // one stage is used at a time
	callsOf[s] = callsFor(s)
	return callsOf[s]
}

var callsOf = map[*stage.Stage]map[string]call{}

func callsFor(s *stage.Stage) map[string]call {
	return map[string]call{
		"open":   shows(func(a figureArgs) stage.View { return s.Open(a.Figure, a.Shot, a.First) }),
		"redraw": shows(func(nothing) stage.View { return s.Redraw() }),
		"choose": shows(func(a struct {
			Tool figure.Kind `json:"tool"`
			Keep bool        `json:"keep"`
		}) stage.View {
			return s.Choose(a.Tool, a.Keep)
		}),
		"select": shows(func(a struct {
			ID   string `json:"id"`
			More bool   `json:"more"`
		}) stage.View {
			return s.Select(a.ID, a.More)
		}),
		"selectAll": shows(func(nothing) stage.View { return s.SelectAll() }),
		"cancel":    shows(func(nothing) stage.View { return s.Cancel() }),
		"done":      shows(func(nothing) stage.View { return s.Done() }),
		"down":      shows(s.Down),
		"moves":     shows(s.Moves),
		"up":        shows(s.Up),
		"cursor":    takes(func(p stage.Pointer) (any, error) { return s.Cursor(p), nil }),
		"nudge": shows(func(a struct {
			By      scene.Point `json:"by"`
			Reshape bool        `json:"reshape"`
		}) stage.View {
			return s.Nudge(a.By, a.Reshape)
		}),
		"place":      shows(func(nothing) stage.View { return s.Place() }),
		"put":        shows(s.Put),
		"setCrop":    shows(func(a rectArgs) stage.View { return s.SetCrop(a.Rect, a.Ratio) }),
		"applyCrop":  shows(func(nothing) stage.View { return s.ApplyCrop() }),
		"wholeShot":  shows(func(nothing) stage.View { return s.WholeShot() }),
		"look":       takes(func(a json.RawMessage) (any, error) { return s.Look(a) }),
		"delete":     shows(func(nothing) stage.View { return s.Delete() }),
		"patch":      takes(func(a json.RawMessage) (any, error) { return s.Patch(a) }),
		"text":       shows(s.SetText),
		"raise":      shows(s.Raise),
		"align":      shows(s.Align),
		"distribute": shows(s.Distribute),
		"sameSize":   shows(func(nothing) stage.View { return s.SameSize() }),
		"group":      shows(s.Group),
		"position":   shows(s.Position),
		"duplicate":  shows(func(nothing) stage.View { return s.Duplicate() }),
		"paste":      shows(s.Paste),
		"copied":     takes(func(nothing) (any, error) { return s.Copied(), nil }),
		"inkSaid": takes(func(nothing) (any, error) {
			name, contrast := s.InkSaid()
			return struct {
				Ink      string  `json:"ink"`
				Contrast float64 `json:"contrast"`
			}{name, contrast}, nil
		}),
		"manners":     takes(func(nothing) (any, error) { return s.Manners(), nil }),
		"setManners":  takes(func(m map[figure.Kind]figure.Style) (any, error) { s.SetManners(m); return nil, nil }),
		"setStyle":    takes(func(style figure.Style) (any, error) { return s.SetStyle(style) }),
		"boxAround":   shows(s.BoxAround),
		"numberEach":  shows(s.NumberEach),
		"conceal":     shows(s.Conceal),
		"cropTo":      shows(s.CropTo),
		"showPointer": shows(s.ShowPointer),
		"setIn": shows(func(a struct {
			Shot  string      `json:"shot"`
			Size  figure.Size `json:"size"`
			Where string      `json:"where"`
		}) stage.View {
			return s.SetIn(a.Shot, a.Size, a.Where)
		}),
	}
}

// ground gives a stage the pixels of the shot, as RGBA, some wide, so many to one of the shot, and what else is
// known of it in JSON.
func ground(handle int, pixels js.Value, width int, scale float64, told string) string {
	var known stage.Known
	if err := json.Unmarshal([]byte(told), &known); err != nil {
		return encode(map[string]any{"error": err.Error()})
	}
	s := stages[handle]
	if s == nil {
		return encode(map[string]any{"error": closed})
	}
	img := image.NewRGBA(image.Rect(0, 0, width, pixels.Get("length").Int()/4/width))
	js.CopyBytesToGo(img.Pix, pixels)
	return encode(map[string]any{"ok": s.SetGround(stage.Ground{Image: img, Scale: scale}, known)})
}

// warm draws and drags on a stage that nobody sees, so that the first drag of a person finds all paths run before.
func warm() error {
	s := &stage.Stage{NewID: newID}
	f := figure.Figure{ID: "warm", Shot: "warm"}
	for i, kind := range []figure.Kind{figure.Arrow, figure.Box, figure.Marker, figure.Text, figure.Note, figure.Highlight} {
		pts := make([]scene.Point, kind.Points())
		for j := range pts {
			pts[j] = scene.Point{X: float64(100 + 90*i + 60*j), Y: float64(100 + 40*j)}
		}
		f.Marks = append(f.Marks, figure.Mark{ID: string(rune('a' + i)), Kind: kind, Points: pts, Style: kind.Usual(), Text: "Words"})
	}
	s.Open(f, figure.Size{W: 1600, H: 900}, 1)
	for i, m := range f.Marks {
		at := m.Points[0]
		s.Down(stage.Pointer{At: at, Scale: 1})
		for j := range 8 {
			v := s.Move(stage.Pointer{At: at.Plus(scene.Point{X: float64(6 * j), Y: float64(5 * j)}), Scale: 1})
			if _, err := json.Marshal(v); err != nil {
				return errors.New("warming up")
			}
		}
		s.Up(stage.Pointer{At: at.Plus(scene.Point{X: 60, Y: float64(i)}), Scale: 1})
	}
	return nil
}
