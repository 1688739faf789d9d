//go:build js && wasm

// Corewasm is the core compiled for the browser: the drawing and the rules that the server prints
// with, answering as people type and drag. It passes JSON in and out and decides nothing.
package main

import (
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"image"
	"runtime/debug"
	"strings"
	"syscall/js"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/readiness"
	"raconte/core/scene"
	"raconte/core/secrets"
	"raconte/core/stage"
	"raconte/core/text"
	"raconte/core/words"
)

var open = stage.Stage{NewID: newID}

func newID() string {
	var b [12]byte
	_, _ = rand.Read(b[:]) // never fails: Go 1.24 and newer
	return hex.EncodeToString(b[:])
}

// call is a function of the core: JSON of its arguments in, its answer out.
type call func(args json.RawMessage) (any, error)

// takes reads the arguments into a value of type A before the work.
func takes[A any](work func(A) (any, error)) call {
	return func(raw json.RawMessage) (any, error) {
		var a A
		if err := json.Unmarshal(raw, &a); err != nil {
			return nil, fmt.Errorf("reading the arguments: %w", err)
		}
		return work(a)
	}
}

// shows is a function of the stage: it answers with a view.
func shows[A any](work func(A) stage.View) call {
	return takes(func(a A) (any, error) { return work(a), nil })
}

type nothing struct{}

type figureArgs struct {
	Figure figure.Figure `json:"figure"`
	Shot   figure.Size   `json:"shot"`
	First  int           `json:"first"`
}

type rectArgs struct {
	Rect  scene.Rect `json:"rect"`
	Ratio float64    `json:"ratio"`
}

var calls = map[string]call{
	"open":   shows(func(a figureArgs) stage.View { return open.Open(a.Figure, a.Shot, a.First) }),
	"redraw": shows(func(nothing) stage.View { return open.Redraw() }),
	"choose": shows(func(a struct {
		Tool figure.Kind `json:"tool"`
		Keep bool        `json:"keep"`
	}) stage.View {
		return open.Choose(a.Tool, a.Keep)
	}),
	"select": shows(func(a struct {
		ID   string `json:"id"`
		More bool   `json:"more"`
	}) stage.View {
		return open.Select(a.ID, a.More)
	}),
	"selectAll": shows(func(nothing) stage.View { return open.SelectAll() }),
	"cancel":    shows(func(nothing) stage.View { return open.Cancel() }),
	"done":      shows(func(nothing) stage.View { return open.Done() }),
	"down":      shows(open.Down),
	"move":      shows(open.Move),
	"up":        shows(open.Up),
	"cursor":    takes(func(p stage.Pointer) (any, error) { return open.Cursor(p), nil }),
	"nudge": shows(func(a struct {
		By      scene.Point `json:"by"`
		Reshape bool        `json:"reshape"`
	}) stage.View {
		return open.Nudge(a.By, a.Reshape)
	}),
	"place":      shows(func(nothing) stage.View { return open.Place() }),
	"put":        shows(open.Put),
	"setCrop":    shows(func(a rectArgs) stage.View { return open.SetCrop(a.Rect, a.Ratio) }),
	"applyCrop":  shows(func(nothing) stage.View { return open.ApplyCrop() }),
	"wholeShot":  shows(func(nothing) stage.View { return open.WholeShot() }),
	"look":       takes(func(a json.RawMessage) (any, error) { return open.Look(a) }),
	"delete":     shows(func(nothing) stage.View { return open.Delete() }),
	"patch":      takes(func(a json.RawMessage) (any, error) { return open.Patch(a) }),
	"text":       shows(open.SetText),
	"raise":      shows(open.Raise),
	"align":      shows(open.Align),
	"distribute": shows(open.Distribute),
	"sameSize":   shows(func(nothing) stage.View { return open.SameSize() }),
	"group":      shows(open.Group),
	"position":   shows(open.Position),
	"duplicate":  shows(func(nothing) stage.View { return open.Duplicate() }),
	"paste":      shows(open.Paste),
	"copied":     takes(func(nothing) (any, error) { return open.Copied(), nil }),
	"inkSaid": takes(func(nothing) (any, error) {
		name, contrast := open.InkSaid()
		return struct {
			Ink      string  `json:"ink"`
			Contrast float64 `json:"contrast"`
		}{name, contrast}, nil
	}),
	"manners":    takes(func(nothing) (any, error) { return open.Manners(), nil }),
	"setManners": takes(func(m map[figure.Kind]figure.Style) (any, error) { open.SetManners(m); return nil, nil }),
	"restyle": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		Kind   figure.Kind   `json:"kind"`
		Style  figure.Style  `json:"style"`
	}) (any, error) {
		return a.Figure.Restyled(a.Kind, a.Style), nil
	}),

	"figure": takes(func(a figureArgs) (any, error) {
		return struct {
			Frame  scene.Rect    `json:"frame"`
			Shapes []stage.Shape `json:"shapes"`
		}{a.Figure.Frame(a.Shot), stage.Shapes(a.Figure, a.Shot, a.First)}, nil
	}),
	"counts":  takes(func(b document.Block) (any, error) { return b.Counts(), nil }),
	"numbers": takes(func(blocks []document.Counted) (any, error) { return document.Count(blocks), nil }),
	"tags": takes(func(a struct {
		Figures []figure.Figure `json:"figures"`
		Firsts  map[string]int  `json:"firsts"`
	}) (any, error) {
		return figure.Tags(a.Figures, a.Firsts), nil
	}),
	"empty": takes(func(w words.Node) (any, error) { return w.Empty(), nil }),
	"inks":  takes(func(nothing) (any, error) { return figure.Inks, nil }),
	"check": takes(func(d document.Document) (any, error) { return readiness.Check(d), nil }),
	"upgrade": takes(func(a struct {
		Content document.Content `json:"content"`
		From    int              `json:"from"`
	}) (any, error) {
		return document.Upgraded(document.Block{Content: a.Content}, a.From).Content, nil
	}),
	"secretsLeft": takes(func(a struct {
		Figure figure.Figure        `json:"figure"`
		Found  []secrets.Suggestion `json:"found"`
	}) (any, error) {
		return secrets.Left(a.Found, a.Figure), nil
	}),
	"label": takes(func(c document.Content) (any, error) { return c.Label(), nil }),
	"order": takes(func(files []capture.File) (any, error) { return capture.Order(files), nil }),
	"arrange": takes(func(a struct {
		Keys []string `json:"keys"`
		At   int      `json:"at"`
		N    int      `json:"n"`
	}) (any, error) {
		return document.Arrange(a.Keys, a.At, a.N), nil
	}),
	"cut": takes(func(a struct {
		Screen capture.Screen `json:"screen"`
		Wish   capture.Wish   `json:"wish"`
	}) (any, error) {
		return a.Screen.Cut(a.Wish)
	}),
	"again": takes(func(a struct {
		Screen capture.Screen `json:"screen"`
		Region capture.Region `json:"region"`
	}) (any, error) {
		r, note := a.Screen.Again(a.Region)
		return struct {
			Rect scene.Rect `json:"rect"`
			Note string     `json:"note"`
		}{r, note}, nil
	}),
	"dragRegion": takes(func(a struct {
		Drag   capture.Drag `json:"drag"`
		Screen scene.Rect   `json:"screen"`
	}) (any, error) {
		return a.Drag.Rect(a.Screen), nil
	}),
	"reshapeRegion": takes(func(a struct {
		Rect   scene.Rect  `json:"rect"`
		Handle string      `json:"handle"`
		By     scene.Point `json:"by"`
		Screen scene.Rect  `json:"screen"`
	}) (any, error) {
		return capture.Reshape(a.Rect, a.Handle, a.By, a.Screen), nil
	}),
	"actionWords": takes(func(a capture.About) (any, error) { return a.Words().Label(), nil }),
	"stepsOf":     takes(func(a []capture.Taken) (any, error) { return capture.Steps(a, newID), nil }),
	"shotName": takes(func(a struct {
		capture.Naming
		Used []string `json:"used"`
	}) (any, error) {
		used := map[string]bool{}
		for _, name := range a.Used {
			used[strings.ToLower(name)] = true
		}
		return capture.Unique(a.Name(), func(folded string) bool { return used[folded] }), nil
	}),
	"checkPattern": takes(func(a string) (any, error) { return capture.CheckPattern(a), nil }),
	"safeLink":     takes(func(href string) (any, error) { return words.SafeLink(href), nil }),
	"missing": takes(func(a string) (any, error) {
		names := text.Missing(text.Bold, a)
		if names == nil {
			names = []string{}
		}
		return names, nil
	}),
	"width": takes(func(a struct {
		Face string  `json:"face"`
		Size float64 `json:"size"`
		Text string  `json:"text"`
	}) (any, error) {
		return text.Width(a.Face, a.Size, a.Text), nil
	}),
}

func main() {
	debug.SetGCPercent(800) // a drag makes much that is soon forgotten; pauses would cost frames
	js.Global().Set("raconteCore", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return answer(args[0].String(), args[1].String())
	}))
	js.Global().Set("raconteFont", js.FuncOf(func(_ js.Value, args []js.Value) any {
		ttf := make([]byte, args[1].Get("length").Int())
		js.CopyBytesToGo(ttf, args[1])
		if err := text.Register(args[0].String(), ttf); err != nil {
			return err.Error()
		}
		return ""
	}))
	js.Global().Set("raconteGround", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return ground(args[0], args[1].Int(), args[2].Float(), args[3].String())
	}))
	js.Global().Call("raconteReady")
	select {}
}

// ground gives the stage the pixels of the shot, as RGBA, some wide, so many to one of the shot, and what else is
// known of it in JSON.
func ground(pixels js.Value, width int, scale float64, told string) string {
	var known stage.Known
	if err := json.Unmarshal([]byte(told), &known); err != nil {
		return encode(map[string]any{"error": err.Error()})
	}
	img := image.NewRGBA(image.Rect(0, 0, width, pixels.Get("length").Int()/4/width))
	js.CopyBytesToGo(img.Pix, pixels)
	return encode(map[string]any{"ok": open.SetGround(stage.Ground{Image: img, Scale: scale}, known)})
}

// answer does a call; the answer is JSON of {"ok": …} or {"error": …}.
func answer(name, args string) (out string) {
	defer func() {
		if p := recover(); p != nil {
			out = encode(map[string]any{"error": fmt.Sprint("the core failed: ", p)})
		}
	}()
	f := calls[name]
	if f == nil {
		return encode(map[string]any{"error": "the core has no function " + name})
	}
	v, err := f(json.RawMessage(args))
	if err != nil {
		return encode(map[string]any{"error": err.Error()})
	}
	return encode(map[string]any{"ok": v})
}

func encode(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		b, _ = json.Marshal(map[string]string{"error": err.Error()})
	}
	return string(b)
}
