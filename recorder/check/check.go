// Package check goes through a recorded run again in a Chromium that it drives over the DevTools protocol.
package check

import (
	"bytes"
	"context"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math"
	"os"
	"time"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/replay"
	"raconte/core/scene"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
)

//go:embed drive.js
var drive string

// Browser says which Chromium is driven.
type Browser struct {
	Path   string // the program; "" for the one that is found
	Attach string // the address of a running one's DevTools; "" to start one
	Hidden bool   // without a window
}

// Answer is what a person decides about a step.
type Answer int

// The answers.
const (
	Leave Answer = iota // leave the step out
	Do                  // do it
	Done                // it was done by hand
)

// Outcome is what became of a step, with its picture as it is today.
type Outcome struct {
	Step  replay.Step
	Found replay.Found
	About capture.About
	PNG   []byte
}

// Person is asked, and told.
type Person interface {
	// Ask is called where a step may not be done without a person; typed is what is to be typed in a secret field.
	Ask(step replay.Step, found replay.Found) (answer Answer, typed string, err error)
	// Tell is called for each step, before it is done.
	Tell(Outcome) error
}

const (
	patience = 15 * time.Second // for one thing that is asked of a page
	tries    = 4                // to find what a step used: what a page fetches comes late
)

// Run goes through steps, beginning at an address; "" is the page that is open. It ends when ctx does.
func Run(ctx context.Context, b Browser, address string, steps []replay.Step, p Person) error {
	ctx, cancel := b.open(ctx)
	defer cancel()
	if address != "" {
		if err := within(ctx, chromedp.Navigate(address)); err != nil {
			return fmt.Errorf("opening %s: %w", address, err)
		}
	}
	for _, step := range steps {
		if err := one(ctx, step, p); err != nil {
			return fmt.Errorf("%s: %w", step.Words, err)
		}
	}
	return nil
}

// open starts the browser, or joins the one that runs.
func (b Browser) open(ctx context.Context) (context.Context, context.CancelFunc) {
	var stop, end context.CancelFunc
	if b.Attach != "" {
		ctx, stop = chromedp.NewRemoteAllocator(ctx, b.Attach)
	} else {
		options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.Flag("headless", b.Hidden), chromedp.WindowSize(1280, 900))
		if os.Geteuid() == 0 {
			options = append(options, chromedp.NoSandbox) // it does not start as root else
		}
		if b.Path != "" {
			options = append(options, chromedp.ExecPath(b.Path))
		}
		ctx, stop = chromedp.NewExecAllocator(ctx, options...)
	}
	ctx, end = chromedp.NewContext(ctx)
	return ctx, func() { end(); stop() }
}

func within(ctx context.Context, actions ...chromedp.Action) error {
	// The browser is begun with the context that it lives in, not with that of one thing asked.
	if err := chromedp.Run(ctx); err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	return chromedp.Run(ctx, actions...)
}

// call calls a function of drive.js in the page, and brings it there first where a new page has none.
func call(ctx context.Context, out any, function string, args ...any) error {
	list, err := json.Marshal(append([]any{}, args...))
	if err != nil {
		return err
	}
	wait := func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }
	var there bool
	return within(ctx,
		chromedp.Evaluate("typeof raconteDrive === 'object'", &there),
		chromedp.ActionFunc(func(ctx context.Context) error {
			if there {
				return nil
			}
			return chromedp.Evaluate(drive, nil).Do(ctx)
		}),
		chromedp.Evaluate(fmt.Sprintf("raconteDrive.%s(...%s) ?? null", function, list), out, wait),
	)
}

type seen struct {
	replay.Seen
	Ratio   float64 `json:"ratio"`
	Title   string  `json:"title"`
	Address string  `json:"address"`
}

func one(ctx context.Context, step replay.Step, p Person) error {
	var now seen
	var found replay.Found
	for range tries {
		var settled bool
		if err := call(ctx, &settled, "settled"); err != nil {
			return err
		}
		if err := call(ctx, &now, "see"); err != nil {
			return err
		}
		if found = replay.Find(step.Action, step.Size, now.Seen); step.Action.Element == nil || found.At >= 0 {
			break
		}
	}
	out, err := look(ctx, step, found, now)
	if err == nil {
		err = p.Tell(out)
	}
	if err != nil || step.Action.Kind == capture.End {
		return err
	}
	act := step.Action
	if found.Ask != "" {
		answer, typed, err := p.Ask(step, found)
		if err != nil || answer != Do {
			return err
		}
		if act.Element != nil && act.Element.Secret {
			act.Text = typed
		}
	}
	return ignoreGone(call(ctx, nil, "perform", found.At, map[string]string{"kind": act.Kind, "text": act.Text}))
}

// ignoreGone takes it for success that the page went elsewhere while it was told to.
func ignoreGone(err error) error {
	var thrown *runtime.ExceptionDetails
	if err != nil && !errors.As(err, &thrown) && !errors.Is(err, context.DeadlineExceeded) && !errors.Is(err, context.Canceled) {
		return nil
	}
	return err
}

// look takes the picture of a step as it is today.
func look(ctx context.Context, step replay.Step, found replay.Found, now seen) (Outcome, error) {
	act := step.Action
	out := Outcome{Step: step, Found: found}
	if act.Element != nil {
		e := *act.Element
		e.Rect = scene.Rect{}
		var brought capture.Element
		if found.At >= 0 {
			if err := call(ctx, &brought, "bring", found.At); err != nil {
				return out, err
			}
			e.Name, e.Role, e.Rect = brought.Name, brought.Role, scaled(brought.Rect, now.Ratio)
		}
		act.Element = &e
	}
	var secrets []scene.Rect
	if err := call(ctx, &secrets, "secrets"); err != nil {
		return out, err
	}
	var raw []byte
	err := within(ctx, chromedp.ActionFunc(func(ctx context.Context) (err error) {
		raw, err = page.CaptureScreenshot().WithFormat(page.CaptureScreenshotFormatPng).Do(ctx)
		return err
	}))
	if err != nil {
		return out, fmt.Errorf("taking the picture: %w", err)
	}
	var size figure.Size
	if out.PNG, size, err = covered(raw, secrets, now.Ratio); err != nil {
		return out, err
	}
	out.About = capture.About{
		Taken: time.Now().UTC(), Source: "feed", Scale: now.Ratio, Address: now.Address, Action: &act,
		Window: &capture.Window{Title: now.Title, Rect: scene.Rect{W: float64(size.W), H: float64(size.H)}},
		Replay: &capture.Replay{Of: step.Shot, Fit: found.Fit},
	}
	return out, nil
}

func scaled(r scene.Rect, k float64) scene.Rect {
	return scene.Rect{X: r.X * k, Y: r.Y * k, W: r.W * k, H: r.H * k}
}

// covered is a picture with what must not be seen painted over.
func covered(raw []byte, secrets []scene.Rect, k float64) ([]byte, figure.Size, error) {
	seen, err := png.Decode(bytes.NewReader(raw))
	if err != nil {
		return nil, figure.Size{}, fmt.Errorf("reading the picture: %w", err)
	}
	b := seen.Bounds()
	out := image.NewRGBA(b)
	draw.Draw(out, b, seen, b.Min, draw.Src)
	for _, r := range secrets {
		r = scaled(r, k)
		part := image.Rect(int(math.Floor(r.X)), int(math.Floor(r.Y)), int(math.Ceil(r.X+r.W)), int(math.Ceil(r.Y+r.H)))
		draw.Draw(out, part, image.NewUniform(color.RGBA{107, 119, 128, 255}), image.Point{}, draw.Src)
	}
	var file bytes.Buffer
	err = png.Encode(&file, out)
	return file.Bytes(), figure.Size{W: b.Dx(), H: b.Dy()}, err
}
