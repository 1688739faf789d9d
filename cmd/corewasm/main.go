//go:build js && wasm

// Corewasm is the core compiled for the browser: the drawing and the rules that the server prints
// with, answering as people type and drag. It passes JSON in and out and decides nothing.
package main

import (
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"runtime/debug"
	"slices"
	"strings"
	"syscall/js"

	"raconte/core/capture"
	"raconte/core/comment"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/film"
	"raconte/core/page"
	"raconte/core/readiness"
	"raconte/core/report"
	"raconte/core/reshoot"
	"raconte/core/scene"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/core/stage"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/core/words"
)

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
	"warm": takes(func(nothing) (any, error) { return nil, warm() }),
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
	"filmPlan": takes(func(a struct {
		Document document.Document      `json:"document"`
		Around   document.Around        `json:"around"`
		Sizes    map[string]figure.Size `json:"sizes"`
		Lengths  map[string]int         `json:"lengths"`
	}) (any, error) {
		told := story.Of(a.Document, a.Around, nil)
		return film.Of(told, told.Film, a.Sizes, func(said string) (int, bool) {
			ms, known := a.Lengths[said]
			return ms, known
		}), nil
	}),
	"filmFrame": takes(func(a struct {
		Scene   film.Scene   `json:"scene"`
		Segment film.Segment `json:"segment"`
		T       float64      `json:"t"`
		W       float64      `json:"w"`
		H       float64      `json:"h"`
		Style   style.Style  `json:"style"`
		House   string       `json:"house"`
		Meta    string       `json:"meta"`
		Picture scene.Rect   `json:"picture"`
	}) (any, error) {
		f := film.Look{Style: a.Style, House: a.House, Meta: a.Meta, W: a.W, H: a.H}.At(a.Scene, a.Segment, a.T, a.Picture)
		return struct {
			Items  []scene.Item `json:"items"`
			Area   scene.Rect   `json:"area"`
			Source scene.Rect   `json:"source"`
		}{f.Scene.Items, f.Area, f.Source}, nil
	}),
	"filmFigure": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		First  int           `json:"first"`
		Hidden []string      `json:"hidden"`
	}) (any, error) {
		return a.Figure.Without(a.First, a.Hidden), nil
	}),
	"clipMoment": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		At     int           `json:"at"`
	}) (any, error) {
		return a.Figure.Moment(a.At), nil
	}),
	"clipEdited": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		At     int           `json:"at"`
		Now    figure.Figure `json:"now"`
	}) (any, error) {
		return a.Figure.Edited(a.At, a.Now), nil
	}),
	"clipStands": takes(func(c figure.Clip) (any, error) { return c.Stands(), nil }),
	"clipRuns":   takes(func(c figure.Clip) (any, error) { return c.Runs(), nil }),
	"clipWithout": takes(func(a struct {
		Clip figure.Clip   `json:"clip"`
		Out  []figure.Span `json:"out"`
	}) (any, error) {
		return a.Clip.Without(a.Out...), nil
	}),
	"counts": takes(func(b document.Block) (any, error) { return b.Counts(), nil }),
	"numbers": takes(func(a struct {
		Blocks   []document.Counted `json:"blocks"`
		Counting document.Counting  `json:"counting"`
	}) (any, error) {
		return document.Count(a.Blocks, a.Counting), nil
	}),
	"span": takes(func(a struct {
		Blocks []document.Counted `json:"blocks"`
		At     int                `json:"at"`
	}) (any, error) {
		return document.Span(a.Blocks, a.At), nil
	}),
	"join": takes(func(a struct {
		Above document.Content `json:"above"`
		Below document.Content `json:"below"`
	}) (any, error) {
		c, why := document.Join(a.Above, a.Below)
		return struct {
			Content document.Content `json:"content"`
			Why     string           `json:"why"`
		}{c, why}, nil
	}),
	"eachLine": takes(func(c document.Content) (any, error) { return document.EachLine(c), nil }),
	"lines":    takes(func(w words.Node) (any, error) { return document.StepsOf(w.Lines()), nil }),
	"written":  takes(func(s string) (any, error) { return document.StepsOf(words.Written(s)), nil }),
	"sayTime":  takes(func(seconds int) (any, error) { return document.SayTime(seconds), nil }),
	"readTime": takes(func(s string) (any, error) {
		if n, ok := document.ReadTime(s); ok {
			return n, nil
		}
		return -1, nil
	}),
	"fit": takes(func(a struct {
		Content document.Content       `json:"content"`
		Layout  style.Layout           `json:"layout"`
		Style   style.Style            `json:"style"`
		Sizes   map[string]figure.Size `json:"sizes"`
	}) (any, error) {
		d := document.Document{Kind: document.Procedure, Blocks: []document.Block{{ID: "step", Content: a.Content}}}
		step := story.Of(d, nil, nil).Blocks[0]
		type fit struct {
			Layout style.Layout `json:"layout"`
			Left   int          `json:"left"`
		}
		if a.Layout == style.Own {
			a.Layout = a.Style.Layout
		}
		fits := []fit{{a.Layout, page.FitOf(step, a.Style, a.Layout, a.Sizes).Left}}
		if more := page.Roomier(a.Layout); more != style.Own {
			fits = append(fits, fit{more, page.FitOf(step, a.Style, more, a.Sizes).Left})
		}
		return fits, nil
	}),
	"roomier": takes(func(l style.Layout) (any, error) { return page.Roomier(l), nil }),
	"facts":   takes(func(f document.Facts) (any, error) { return f, nil }),
	"reworded": takes(func(a struct {
		Words words.Node `json:"words"`
		From  string     `json:"from"`
		To    string     `json:"to"`
	}) (any, error) {
		if a.From == "" {
			return a.Words.Naming(a.To), nil
		}
		return a.Words.Reworded(a.From, a.To), nil
	}),
	"evened": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		Shot   figure.Size   `json:"shot"`
		Frame  figure.Size   `json:"frame"`
	}) (any, error) {
		return a.Figure.Evened(a.Shot, a.Frame), nil
	}),
	"sayRevision": takes(func(a struct {
		Facts document.Facts `json:"facts"`
		N     int            `json:"n"`
	}) (any, error) {
		return a.Facts.SayRevision(a.N), nil
	}),
	"names": takes(func(a struct {
		Document document.Document `json:"document"`
		Titles   map[string]string `json:"titles"`
	}) (any, error) {
		return a.Document.Names(a.Titles, nil), nil
	}),
	"tags": takes(func(a struct {
		Figures []figure.Figure `json:"figures"`
		Firsts  map[string]int  `json:"firsts"`
	}) (any, error) {
		return figure.Tags(a.Figures, a.Firsts), nil
	}),
	"empty": takes(func(w words.Node) (any, error) { return w.Empty(), nil }),
	"inks":  takes(func(nothing) (any, error) { return figure.Inks, nil }),
	"check": takes(func(a struct {
		Document document.Document      `json:"document"`
		Sizes    map[string]figure.Size `json:"sizes"`
		Around   document.Around        `json:"around"`
	}) (any, error) {
		return readiness.Check(a.Document, a.Sizes, a.Around), nil
	}),
	"asked": takes(func(f figure.Figure) (any, error) { return reshoot.Asked(f), nil }),
	"reshot": takes(func(a struct {
		Figure figure.Figure   `json:"figure"`
		Shot   string          `json:"shot"`
		Found  []reshoot.Found `json:"found"`
	}) (any, error) {
		return reshoot.Applied(a.Figure, a.Shot, a.Found), nil
	}),
	"concealAlike": takes(func(a struct {
		Figure    figure.Figure   `json:"figure"`
		Concealed []figure.Mark   `json:"concealed"`
		Found     []reshoot.Found `json:"found"`
	}) (any, error) {
		return secrets.Alike(a.Figure, a.Concealed, a.Found, newID), nil
	}),
	"styleOf":  takes(func(m figure.Mark) (any, error) { m.Style.Ground = ""; return m.Style, nil }),
	"looks":    takes(func(m figure.Mark) (any, error) { return m.Looks(), nil }),
	"kindName": takes(func(k figure.Kind) (any, error) { return k.Word(), nil }),
	"upgrade": takes(func(a struct {
		Content document.Content `json:"content"`
		From    int              `json:"from"`
	}) (any, error) {
		return document.Upgraded(document.Block{Content: a.Content}, a.From).Content, nil
	}),
	"read": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		Shot   figure.Size   `json:"shot"`
		Words  []sight.Word  `json:"words"`
		Area   *scene.Rect   `json:"area"`
	}) (any, error) {
		return sight.Text(slices.DeleteFunc(shownWords(a.Figure, a.Shot, a.Words), func(w sight.Word) bool {
			return a.Area != nil && !a.Area.Contains(w.Rect.Center())
		})), nil
	}),
	"secretsLeft": takes(func(a struct {
		Figure figure.Figure        `json:"figure"`
		Found  []secrets.Suggestion `json:"found"`
	}) (any, error) {
		return secrets.Left(a.Found, a.Figure.Still(1)), nil
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
	"actionSaid":  takes(func(a acted) (any, error) { return a.About.Words(a.Language), nil }),
	"actionWords": takes(func(a acted) (any, error) { return a.About.Words(a.Language).Label(), nil }),
	"writeUp": takes(func(a struct {
		Shots []capture.Taken `json:"shots"`
		How   capture.Wording `json:"how"`
	}) (any, error) {
		return capture.WriteUp(a.Shots, a.How, newID), nil
	}),
	"shown": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		Shot   figure.Size   `json:"shot"`
		Show   capture.Show  `json:"show"`
	}) (any, error) {
		return a.Show.Shown(a.Figure, a.Shot), nil
	}),
	"questions": takes(func(nothing) (any, error) {
		type question struct {
			Said    string   `json:"said"`
			Choices []string `json:"choices"`
		}
		all := map[document.Question]question{}
		for _, q := range document.Questions() {
			all[q] = question{q.Said(), append([]string{}, q.Choices()...)}
		}
		return all, nil
	}),
	"faultOf": takes(func(a struct {
		Words   []sight.Word   `json:"words"`
		About   capture.About  `json:"about"`
		Browser []report.Fact  `json:"browser"`
		Figure  *figure.Figure `json:"figure"` // of which only what it shows is said
		Shot    figure.Size    `json:"shot"`
	}) (any, error) {
		if a.Figure != nil {
			a.Words = shownWords(*a.Figure, a.Shot, a.Words)
		}
		return struct {
			Title string     `json:"title"`
			Where words.Node `json:"where"`
		}{report.TitleOf(a.Words, a.About), report.Listed(report.WhereOf(a.About, a.Browser))}, nil
	}),
	"filled": takes(func(a struct {
		Words  words.Node        `json:"words"`
		Values map[string]string `json:"values"`
	}) (any, error) {
		return a.Words.Filled(a.Values), nil
	}),
	"places":  takes(func(all []words.Node) (any, error) { return words.Node{Content: all}.Places(), nil }),
	"titleOf": takes(func(a []capture.Taken) (any, error) { return capture.TitleOf(a), nil }),
	"stepsOf": takes(func(a struct {
		Shots []capture.Taken `json:"shots"`
		How   capture.Wording `json:"how"`
	}) (any, error) {
		return capture.Steps(a.Shots, a.How, newID), nil
	}),
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
	"safeName":     takes(func(a string) (any, error) { return capture.SafeName(a), nil }),
	"checkPattern": takes(func(a string) (any, error) { return capture.CheckPattern(a), nil }),
	"quoteOf": takes(func(a struct {
		Text     string `json:"text"`
		From, To int
	}) (any, error) {
		return comment.QuoteOf(a.Text, a.From, a.To), nil
	}),
	"findQuote": takes(func(a struct {
		Quote comment.Quote `json:"quote"`
		Text  string        `json:"text"`
	}) (any, error) {
		from, to, found := a.Quote.In(a.Text)
		return map[string]any{"from": from, "to": to, "found": found}, nil
	}),
	"pinShown": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		Shot   figure.Size   `json:"shot"`
		Pin    comment.Pin   `json:"pin"`
	}) (any, error) {
		at, inside := a.Pin.Shown(a.Figure, a.Shot)
		return map[string]any{"at": at, "inside": inside}, nil
	}),
	"pinAt": takes(func(a struct {
		Figure figure.Figure `json:"figure"`
		Shot   figure.Size   `json:"shot"`
		At     scene.Rect    `json:"at"`
	}) (any, error) {
		return comment.PinAt(a.Figure, a.Shot, a.At), nil
	}),
	"safeLink": takes(func(href string) (any, error) { return words.SafeLink(href), nil }),
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
		return answered(args[0].String(), args[1].String(), calls)
	}))
	js.Global().Set("raconteFont", js.FuncOf(func(_ js.Value, args []js.Value) any {
		ttf := make([]byte, args[1].Get("length").Int())
		js.CopyBytesToGo(ttf, args[1])
		if err := text.Register(args[0].String(), ttf); err != nil {
			return err.Error()
		}
		return ""
	}))
	js.Global().Set("raconteStage", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return answered(args[1].String(), args[2].String(), stageCalls(args[0].Int()))
	}))
	js.Global().Set("raconteGround", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return ground(args[0].Int(), args[1], args[2].Int(), args[3].Float(), args[4].String())
	}))
	js.Global().Call("raconteReady")
	select {}
}

// answered does one of some calls; the answer is JSON of {"ok": …} or {"error": …}.
func answered(name, args string, of map[string]call) (out string) {
	defer func() {
		if p := recover(); p != nil {
			out = encode(map[string]any{"error": fmt.Sprint("the core failed: ", p)})
		}
	}()
	f := of[name]
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

// acted is a shot's capture, and the language in which it is to be said.
type acted struct {
	About    capture.About    `json:"about"`
	Language capture.Language `json:"language"`
}

// shownWords are the words of a shot that a figure shows.
func shownWords(f figure.Figure, shot figure.Size, all []sight.Word) []sight.Word {
	seen := f.Still(1)
	if f.Clip != nil { // words are those of the picture that stood for it when it was taken
		seen, _ = f.Taken(f.Clip.Poster)
	}
	return slices.DeleteFunc(all, func(w sight.Word) bool { return !seen.Shows(shot, w.Rect) })
}
