package pictures

import (
	"context"
	"errors"
	"fmt"
	"image"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/platform/together"
	"raconte/store"

	"golang.org/x/sync/errgroup"
)

// compare says how a shot differs from the one before it in its session, and records it.
func (m *Maker) compare(ctx context.Context, shot store.Shot) (sight.Verdict, error) {
	before, err := m.store.Captures.Before(ctx, shot)
	if errors.Is(err, store.ErrNotFound) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	v, err := m.verdict(ctx, before, shot, m.recentPixels)
	if err != nil {
		return "", err
	}
	return v, m.store.Captures.SetVerdict(ctx, shot.ID, v)
}

func (m *Maker) verdict(ctx context.Context, a, b store.Shot, pixels func(context.Context, store.Shot) (*image.RGBA, error)) (sight.Verdict, error) {
	size := figure.Size{W: b.Width, H: b.Height}
	switch {
	case a.Width != b.Width || a.Height != b.Height || capture.Apart(a.About, b.About):
		return sight.Changed, nil
	case a.SHA256 == b.SHA256:
		return sight.Same, nil
	}
	first, err := pixels(ctx, a)
	if err != nil {
		return "", fmt.Errorf("comparing shots: %w", err)
	}
	second, err := pixels(ctx, b)
	if err != nil {
		return "", fmt.Errorf("comparing shots: %w", err)
	}
	return sight.CompareBut(first, second, rectangles(capture.Clocks(a.About, b.About, size)), rectangles(capture.Pointers(a.About, b.About))).Verdict, nil
}

func rectangles(of []scene.Rect) []image.Rectangle {
	out := make([]image.Rectangle, len(of))
	for i, r := range of {
		out[i] = image.Rect(int(r.X), int(r.Y), int(r.X+r.W), int(r.Y+r.H))
	}
	return out
}

// recentPixels are a shot's pixels, from memory where it came in lately.
func (m *Maker) recentPixels(ctx context.Context, shot store.Shot) (*image.RGBA, error) {
	if img, ok := m.recent.Get(shot.SHA256); ok {
		return img, nil
	}
	img, err := m.pixels(ctx, shot)
	if err == nil {
		m.recent.Add(shot.SHA256, img)
	}
	return img, err
}

// atOnce is how many parts of a session are compared at the same time.
const atOnce = 2

// CompareAgain compares all shots of a session, each with the one before it, and records the verdicts.
func (m *Maker) CompareAgain(ctx context.Context, shots []store.Shot) error {
	group, ctx := errgroup.WithContext(ctx)
	part := (len(shots) + atOnce - 1) / atOnce
	for from := 1; part > 0 && from < len(shots); from += part {
		group.Go(together.Safe(func() error {
			// Each part decodes a shot once: the one before is still at hand.
			kept := map[string]*image.RGBA{}
			pixels := func(ctx context.Context, s store.Shot) (*image.RGBA, error) {
				if img := kept[s.SHA256]; img != nil {
					return img, nil
				}
				img, err := m.pixels(ctx, s)
				kept[s.SHA256] = img
				return img, err
			}
			for i := from; i < min(from+part, len(shots)); i++ {
				release, err := m.room.take(ctx, pixelsOf(shots[i]))
				if err != nil {
					return err
				}
				v, err := m.verdict(ctx, shots[i-1], shots[i], pixels)
				release()
				if ctx.Err() != nil {
					return ctx.Err()
				}
				if err != nil {
					m.log.Warn("comparing a shot again", "shot", shots[i].ID, "error", err)
					v = ""
				}
				if shots[i-1].SHA256 != shots[i].SHA256 {
					delete(kept, shots[i-1].SHA256)
				}
				if v != shots[i].Verdict {
					shots[i].Verdict = v
					if err := m.store.Captures.SetVerdict(ctx, shots[i].ID, v); err != nil {
						return err
					}
				}
			}
			return nil
		}))
	}
	return group.Wait()
}
