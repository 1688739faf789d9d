package film

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"io"
	"path/filepath"
	"runtime"
	"sync"

	"raconte/core/film"
	"raconte/core/scene"
	"raconte/engines/media"
	"raconte/engines/raster"
	"raconte/platform/together"

	"golang.org/x/image/draw"
	"golang.org/x/sync/errgroup"
)

// look changes whenever films are drawn differently, so that kept parts are made anew.
const look = "2"

// Pictures a second: of what stands still, and of what moves.
const (
	stillRate  = 1000 / film.Beat
	movingRate = 25
)

// stretch is a segment of a scene, and the file that it becomes.
type stretch struct {
	scene   film.Scene
	segment film.Segment
	path    string
}

// draw makes the parts of the film, on as many processors as there are; the answer is their files in order.
func (m *maker) draw(ctx context.Context) ([]string, error) {
	var all []stretch
	total := 0
	for _, s := range m.plan.Scenes {
		for _, one := range s.Segments {
			all = append(all, stretch{s, one, filepath.Join(m.dir, fmt.Sprintf("part%05d.mp4", len(all)))})
			total += cost(one)
		}
	}
	files := make([]string, len(all))
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(max(1, runtime.NumCPU()))
	var progress sync.Mutex
	done := 0
	for i, one := range all {
		files[i] = one.path
		group.Go(together.Safe(func() error {
			if err := m.part(ctx, one); err != nil {
				return err
			}
			progress.Lock()
			defer progress.Unlock()
			done += cost(one.segment)
			m.in.Progress(done, total)
			return nil
		}))
	}
	return files, group.Wait()
}

// cost is how much work a stretch is, in pictures.
func cost(s film.Segment) int {
	if s.To != nil || s.Clip {
		return 1 + s.Length*movingRate/1000
	}
	return 1 + s.Length*stillRate/1000/4
}

// part makes a stretch, or fetches it where it was made before.
func (m *maker) part(ctx context.Context, one stretch) error {
	name, err := m.name(one)
	if err != nil {
		return err
	}
	if m.in.Film.Parts != nil {
		if there, err := m.in.Film.Parts.Fetch(ctx, name, one.path); err != nil || there {
			return err
		}
	}
	if err := m.make(ctx, one); err != nil {
		return err
	}
	if m.in.Film.Parts != nil {
		return m.in.Film.Parts.KeepPart(ctx, name, one.path)
	}
	return nil
}

// name tells all that a stretch is made of.
func (m *maker) name(one stretch) (string, error) {
	s := one.scene
	s.Segments, s.Captions, s.Start, s.Length, s.Speaks, s.Spoken, s.Voice, s.Missing, s.Said = nil, nil, 0, 0, 0, 0, nil, "", ""
	seg := one.segment
	seg.Start = 0
	f, _, _ := m.in.Story.Figure(seg.Figure)
	drawn := f.Figure
	drawn.Alt = ""
	raw, err := json.Marshal([]any{look, m.plan.W, m.plan.H, s, seg, drawn, f.First, m.style, m.meta(), m.in.Edition.House})
	if err != nil {
		return "", fmt.Errorf("naming a part of a film: %w", err)
	}
	return fileName("film part", string(raw)), nil
}

func (m *maker) meta() string { return m.in.Edition.Meta(m.in.Story) }

func (m *maker) looks() film.Look {
	return film.Look{Style: m.style, House: m.in.Edition.House, Meta: m.meta(), W: float64(m.plan.W), H: float64(m.plan.H)}
}

// make draws a stretch.
func (m *maker) make(ctx context.Context, one stretch) error {
	size := image.Pt(m.plan.W, m.plan.H)
	rate := stillRate
	if one.segment.To != nil || one.segment.Clip {
		rate = movingRate
	}
	pictures := one.segment.Length * rate / 1000
	if one.segment.Clip {
		return m.play(ctx, one, size, pictures)
	}
	img, rect, err := m.picture(ctx, one.segment)
	if err != nil {
		return err
	}
	to, err := media.Part(ctx, one.path, size, rate)
	if err != nil {
		return err
	}
	var frame *image.RGBA
	for n := range pictures {
		if frame == nil || one.segment.To != nil {
			f := m.looks().At(one.scene, one.segment, (float64(n)+0.5)/float64(pictures), rect)
			if frame, err = paint(ctx, f, img); err != nil {
				return errors.Join(err, to.Close())
			}
		}
		if err := to.Add(frame); err != nil {
			return err
		}
	}
	return to.Close()
}

// picture is the finished picture of a stretch with the marks that are there, and how large it is; nothing of a card.
func (m *maker) picture(ctx context.Context, s film.Segment) (*image.RGBA, scene.Rect, error) {
	if s.Figure == "" {
		return nil, scene.Rect{}, nil
	}
	f, _, ok := m.in.Story.Figure(s.Figure)
	if !ok {
		return nil, scene.Rect{}, fmt.Errorf("the story has no picture %s", s.Figure)
	}
	// As wide as the closest look at it needs.
	width := m.plan.W
	if s.From != film.Whole || s.To != nil {
		width *= 2
	}
	img, err := m.in.Film.Drawn(ctx, f.Figure.Without(f.First, s.Hidden), f.First, width)
	if err != nil {
		return nil, scene.Rect{}, err
	}
	own := f.Figure.Frame(m.in.Film.Sizes[f.Shot])
	return img, scene.Rect{W: own.W, H: own.H}, nil
}

// paint makes pixels of a frame.
func paint(ctx context.Context, f film.Frame, picture *image.RGBA) (*image.RGBA, error) {
	if picture != nil {
		w, h := size(picture)
		part := scene.Rect{X: f.Source.X * w, Y: f.Source.Y * h, W: f.Source.W * w, H: f.Source.H * h}
		f.Scene.Items = append(f.Scene.Items, scene.Item{Picture: &scene.Picture{Ref: "picture", Source: part, Target: f.Area}})
	}
	img, err := raster.DrawWithin(ctx, f.Scene, 1, func(string) *image.RGBA { return picture })
	if err != nil {
		return nil, fmt.Errorf("drawing a film: %w", err)
	}
	return img, nil
}

// play draws a stretch in which a clip plays; past its end its last picture stands.
func (m *maker) play(ctx context.Context, one stretch, size image.Point, pictures int) error {
	f, _, ok := m.in.Story.Figure(one.segment.Figure)
	if !ok || m.in.Clip == nil {
		return media.ErrMissing
	}
	path, err := m.clipOnce(ctx, f.ID)
	if err != nil {
		return err
	}
	own := f.Figure.Frame(m.in.Film.Sizes[f.Shot])
	drawn := m.looks().At(one.scene, one.segment, 0, scene.Rect{W: own.W, H: own.H})
	base, err := paint(ctx, drawn, nil)
	if err != nil {
		return err
	}
	area := image.Rect(int(drawn.Area.X), int(drawn.Area.Y), int(drawn.Area.X+drawn.Area.W), int(drawn.Area.Y+drawn.Area.H))
	from, err := media.Open(ctx, path, movingRate, one.segment.At, min(area.Dx(), size.X))
	if err != nil {
		return err
	}
	defer from.Close()
	to, err := media.Part(ctx, one.path, size, movingRate)
	if err != nil {
		return err
	}
	ended := false
	for range pictures {
		if !ended {
			img, err := from.Next()
			switch {
			case errors.Is(err, io.EOF):
				ended = true
			case err != nil:
				return errors.Join(err, to.Close())
			default:
				draw.ApproxBiLinear.Scale(base, area, img, img.Rect, draw.Src, nil)
			}
		}
		if err := to.Add(base); err != nil {
			return err
		}
	}
	return to.Close()
}

// clipOnce is clip, for stretches that are drawn at the same time.
func (m *maker) clipOnce(ctx context.Context, id string) (string, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.clip(ctx, id)
}
