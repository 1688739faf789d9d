package pictures

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"io"
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/engines/media"
	"raconte/output/picture"
	"raconte/store"
)

// Pictures a second that are looked at to follow something, and to find where nothing moves.
const (
	followRate = 5
	stillRate  = 4
	stillWidth = 480
	leastStill = 2000 // milliseconds
)

// Follow finds where a part of what is seen at a moment of a recording is at every other: its moves, where they change,
// and where it was not found for certain. What it finds is kept.
func (m *Maker) Follow(ctx context.Context, shot store.Shot, part scene.Rect, at int) ([]figure.Place, error) {
	var path []figure.Place
	err := m.found(ctx, followName(shot, part, at), &path, func(ctx context.Context) (any, error) {
		var path []figure.Place
		err := m.with(ctx, shot, func(_, file string) error {
			img, err := media.Frame(ctx, file, at, 0)
			if err != nil {
				return err
			}
			track := sight.NewTrack(img, part.Intersect(scene.Rect{W: float64(img.Rect.Dx()), H: float64(img.Rect.Dy())}))
			return eachFrame(ctx, file, followRate, 0, func(now int, img *image.RGBA, same bool) {
				var by scene.Point
				sure := true
				if n := len(path); same && n > 0 {
					by, sure = path[n-1].By, !path[n-1].Unsure
				} else {
					by, sure = track.In(img)
				}
				path = append(path, figure.Place{At: now, By: by, Unsure: !sure})
			})
		})
		return thinned(path), err
	})
	return path, err
}

func followName(shot store.Shot, part scene.Rect, at int) string {
	return fmt.Sprint("follow ", shot.Recording.SHA256, part, at)
}

func stillsName(shot store.Shot) string { return "stills " + shot.Recording.SHA256 }

// found is what was found in a recording, looked for where it is not kept.
func (m *Maker) found(ctx context.Context, name string, to any, look func(context.Context) (any, error)) error {
	file, err := m.Kept(ctx, name, "application/json", func(ctx context.Context) ([]byte, error) {
		what, err := look(ctx)
		if err != nil {
			return nil, err
		}
		return json.Marshal(what)
	})
	if err == nil {
		err = json.Unmarshal(file.Data, to)
	}
	if err != nil {
		return fmt.Errorf("looking at a recording: %w", err)
	}
	return nil
}

// HasFollowed tells whether it is known where a part of a recording is at every moment.
func (m *Maker) HasFollowed(ctx context.Context, shot store.Shot, part scene.Rect, at int) bool {
	return m.HasMoving(ctx, nameOf(followName(shot, part, at)))
}

// HasStills tells whether it is known where nothing moves in a recording.
func (m *Maker) HasStills(ctx context.Context, shot store.Shot) bool {
	return m.HasMoving(ctx, nameOf(stillsName(shot)))
}

// thinned leaves out places that the ones around them tell.
func thinned(path []figure.Place) []figure.Place {
	var out []figure.Place
	for i, p := range path {
		alike := func(q figure.Place) bool { return p.By == q.By && p.Unsure == q.Unsure }
		if i > 0 && i < len(path)-1 && alike(path[i-1]) && alike(path[i+1]) {
			continue
		}
		out = append(out, p)
	}
	return out
}

// eachFrame looks at the pictures of a recording; same tells that one is the very same as the one before.
func eachFrame(ctx context.Context, file string, rate, width int, do func(at int, img *image.RGBA, same bool)) error {
	from, err := media.Open(ctx, file, rate, 0, width)
	if err != nil {
		return err
	}
	defer from.Close()
	var before []uint8
	for n := 0; ; n++ {
		img, err := from.Next()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		do(n*1000/rate, img, string(before) == string(img.Pix))
		before = append(before[:0], img.Pix...)
	}
}

// Stills are the stretches of a shot's recording in which nothing moves for a while. What it finds is kept.
func (m *Maker) Stills(ctx context.Context, shot store.Shot) ([]figure.Span, error) {
	var all []figure.Span
	err := m.found(ctx, stillsName(shot), &all, func(ctx context.Context) (any, error) {
		spans := []figure.Span{}
		err := m.with(ctx, shot, func(_, path string) error {
			first := &image.RGBA{}
			since := 0
			end := func(at int) {
				if at-since >= leastStill {
					spans = append(spans, figure.Span{From: since, To: at})
				}
			}
			err := eachFrame(ctx, path, stillRate, stillWidth, func(at int, img *image.RGBA, same bool) {
				if same || sight.Stood(first, img) {
					return
				}
				end(at)
				since, first = at, &image.RGBA{Pix: append([]uint8(nil), img.Pix...), Stride: img.Stride, Rect: img.Rect}
			})
			end(shot.Recording.Ms)
			return err
		})
		return spans, err
	})
	return all, err
}

// FitMoving makes a finished clip that has at most so many bytes, in the first of some forms that can: smaller, with
// fewer pictures a second, in fewer colours, then without what stands still. It is picture.ErrTooLarge where none does.
func (m *Maker) FitMoving(ctx context.Context, w Moving, most int64, forms []media.Form) (key string, form media.Form, bytes int64, err error) {
	shot, err := m.store.Captures.Shot(ctx, w.Figure.Shot)
	if err != nil {
		return "", form, 0, err
	}
	frame := w.Figure.Frame(figure.Size{W: shot.Width, H: shot.Height})
	full := math.Min(frame.W, 1920)
	for _, form = range forms {
		for _, l := range looks(form, full) {
			w.Form, w.Look = form, l
			if key, bytes, err = m.sized(ctx, w); err != nil || bytes <= most {
				return key, form, bytes, err
			}
			if bytes > 12*most && l.Rate > 8 { // hopeless without a greater step: the next ones are smaller by half at most
				continue
			}
		}
	}
	return "", form, bytes, picture.ErrTooLarge
}

// looks are the ways to write a clip, each smaller than the one before.
func looks(form media.Form, full float64) []media.Look {
	width := func(share float64) int { return int(math.Max(160, math.Round(full*share/2)*2)) }
	if form == media.GIF || form == media.WebP {
		return []media.Look{{Width: width(math.Min(1, 960/full)), Rate: 10}, {Width: width(math.Min(0.75, 720/full)), Rate: 8, Worse: 2}, {Width: width(0.5), Rate: 6, Worse: 4}, {Width: width(0.35), Rate: 4, Worse: 6}, {Width: width(0.25), Rate: 3, Worse: 8}}
	}
	return []media.Look{{}, {Width: width(1), Rate: 12, Worse: 3}, {Width: width(0.75), Rate: 10, Worse: 5}, {Width: width(0.5), Rate: 8, Worse: 7}, {Width: width(0.35), Rate: 6, Worse: 9}, {Width: width(0.25), Rate: 4, Worse: 12}}
}

func (m *Maker) sized(ctx context.Context, w Moving) (string, int64, error) {
	key, err := m.Moving(ctx, w)
	if err != nil {
		return "", 0, err
	}
	blob, err := m.OpenMoving(ctx, key)
	if err != nil {
		return "", 0, err
	}
	defer blob.Close()
	return key, blob.Size(), nil
}
