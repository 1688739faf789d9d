// Package clip makes finished clips: a figure's cuts, crop and marks on its recording, in one file. Every picture is
// drawn as a still one is, so that what is concealed is in none of them.
package clip

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"reflect"

	"raconte/core/figure"
	"raconte/engines/media"
	"raconte/output/picture"

	"golang.org/x/image/draw"
)

// Request says what is made: a figure of a recording. First is the number of its first marker, Insets are the other
// shots that are set into it, by the names that the figure has for them. Camera and Voice are files; "" is none.
type Request struct {
	Figure    figure.Figure
	First     int
	Recording string
	Camera    string
	Voice     string
	Insets    map[string]*image.RGBA
	Width     int // at most; 0 is its own
	Rate      int // pictures a second, at most; 0 is that of the recording
	Progress  func(done, all int)
}

// Most is how wide a clip is at most, in pixels, where nothing else is asked for.
const Most = 1920

// Make writes a finished clip to a file.
func (r Request) Make(ctx context.Context, path string, form media.Form, look media.Look) error {
	dir := filepath.Dir(path)
	sound := ""
	if form.Sounds {
		var err error
		if sound, err = media.Sound(ctx, r.Recording, r.Voice, *r.Figure.Clip, dir); err != nil {
			return err
		}
		if sound != "" {
			defer os.Remove(sound)
		}
	}
	if form != media.GIF && look.Width == 0 {
		return r.draw(ctx, func(size image.Point, rate int) (*media.Writer, error) {
			look.Rate = rate
			return media.Write(ctx, path, form, size, look, sound)
		})
	}
	master := filepath.Join(dir, "master.mkv")
	defer os.Remove(master)
	rate, err := r.Master(ctx, master)
	if err != nil {
		return err
	}
	if look.Rate == 0 || look.Rate > rate {
		look.Rate = rate
	}
	return media.Convert(ctx, master, sound, path, form, look)
}

// Master writes what files of every form can be made from, and tells its pictures a second.
func (r Request) Master(ctx context.Context, path string) (rate int, err error) {
	err = r.draw(ctx, func(size image.Point, of int) (*media.Writer, error) {
		rate = of
		return media.Master(ctx, path, size, of)
	})
	return rate, err
}

func (r Request) draw(ctx context.Context, open func(size image.Point, rate int) (*media.Writer, error)) error {
	var to *media.Writer
	err := r.Each(ctx, func(img *image.RGBA, rate int) (err error) {
		if to == nil {
			if to, err = open(img.Rect.Size(), rate); err != nil {
				return err
			}
		}
		return to.Add(img)
	})
	if to == nil {
		return err
	}
	return errors.Join(err, to.Close())
}

// Each draws the pictures of the finished clip, one after the other, so many a second. They must not be changed.
func (r Request) Each(ctx context.Context, do func(img *image.RGBA, rate int) error) error {
	info, err := media.Probe(ctx, r.Recording)
	if err != nil {
		return err
	}
	rate := info.Steady()
	if r.Rate > 0 {
		rate = min(rate, r.Rate)
	}
	from, err := media.Open(ctx, r.Recording, rate, 0, 0)
	if err != nil {
		return err
	}
	defer from.Close()
	var camera *media.Frames
	if r.Camera != "" && r.Figure.Clip.Camera != nil {
		if camera, err = media.Open(ctx, r.Camera, rate, 0, 480); err != nil {
			return err
		}
		defer camera.Close()
	}
	width := r.Width
	if width == 0 {
		width = Most
	}
	c := *r.Figure.Clip
	all := c.Length() * rate / 1000
	d := drawing{request: r, width: width}
	for n := range max(1, all) {
		at := c.Exactly(float64(n) * 1000 / float64(rate))
		if err := d.seek(from, camera, int(at*float64(rate)/1000+1e-6)); err != nil {
			return err
		}
		img, err := d.picture(ctx, int(at), 1+1000/rate)
		if err != nil {
			return err
		}
		if err := do(img, rate); err != nil {
			return err
		}
		if r.Progress != nil {
			r.Progress(n+1, all)
		}
	}
	return nil
}

// drawing keeps the last picture: much of a recording stands still.
type drawing struct {
	request Request
	width   int
	read    int // pictures of the recording so far
	ended   bool
	frame   *image.RGBA
	face    *image.RGBA // of the camera

	drawn  *image.RGBA
	before []byte // what was drawn: the recording's pixels
	marks  []figure.Mark
	shown  *image.RGBA // with the camera
}

// seek reads on to a picture of the recording; past its end the last one stays.
func (d *drawing) seek(from, camera *media.Frames, n int) error {
	for d.read <= n && !d.ended {
		img, err := from.Next()
		if errors.Is(err, io.EOF) && d.read > 0 {
			d.ended = true
			break
		}
		if errors.Is(err, io.EOF) {
			return errors.New("the recording has no pictures")
		}
		if err != nil {
			return err
		}
		d.frame = img
		d.read++
		if camera == nil {
			continue
		}
		if face, err := camera.Next(); err == nil {
			d.face = face
		} else if !errors.Is(err, io.EOF) {
			return err
		}
	}
	return nil
}

func (d *drawing) picture(ctx context.Context, at, within int) (*image.RGBA, error) {
	now := d.request.Figure.Shown(at, within, d.request.First)
	if d.drawn == nil || !bytes.Equal(d.before, d.frame.Pix) || !reflect.DeepEqual(d.marks, now.Marks) {
		shots := map[string]*image.RGBA{now.Shot: d.frame}
		for name, img := range d.request.Insets {
			if name != now.Shot {
				shots[name] = img
			}
		}
		img, err := picture.Flatten(ctx, now, shots, d.request.First, d.width)
		if err != nil {
			return nil, fmt.Errorf("at %d ms: %w", at, err)
		}
		if !img.Opaque() { // what is left out shows paper
			draw.Draw(img, img.Rect, paper(img), img.Rect.Min, draw.Src)
		}
		d.drawn, d.marks = img, now.Marks
		d.before = append(d.before[:0], d.frame.Pix...)
	}
	if d.face == nil {
		return d.drawn, nil
	}
	if d.shown == nil || d.shown.Rect != d.drawn.Rect {
		d.shown = image.NewRGBA(d.drawn.Rect)
	}
	copy(d.shown.Pix, d.drawn.Pix)
	corner(d.shown, d.face, *d.request.Figure.Clip.Camera)
	return d.shown, nil
}

// paper is a picture on white.
func paper(img *image.RGBA) *image.RGBA {
	out := image.NewRGBA(img.Rect)
	draw.Draw(out, out.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(out, out.Rect, img, img.Rect.Min, draw.Over)
	return out
}

// corner draws the speaker's camera where it stands.
func corner(on, face *image.RGBA, k figure.Corner) {
	w, h := float64(on.Rect.Dx()), float64(on.Rect.Dy())
	size := face.Rect.Size()
	area := image.Rect(int(k.X*w), int(k.Y*h), int((k.X+k.W)*w), int(k.Y*h+k.W*w*float64(size.Y)/float64(size.X)))
	draw.ApproxBiLinear.Scale(on, area, face, face.Rect, draw.Src, nil)
}
