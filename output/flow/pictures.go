package flow

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"image"
	_ "image/jpeg" // sizes of finished pictures are read
	_ "image/png"
	"io"
	"runtime"
	"strings"
	"sync"

	"raconte/core/story"
	"raconte/output"
	"raconte/output/picture"
	"raconte/platform/together"
)

// widest is how wide pictures are that flow, in points of print: their share of a page of A4 between its margins.
const widest = 470

// ErrPicture is that a picture could not be made, whatever is written with it.
var ErrPicture = errors.New("making the picture")

// Picture is a finished picture that is made when it is asked for.
type Picture struct {
	ID      string
	Alt     string
	Caption string // "" where pictures bear no number
	Number  int
	Figure  story.Figure

	// Name, where it is set, is the file beside the document that holds the picture; else it stands in the document.
	Name string
	// Film is the file beside the document that holds the clip; "" where there is none, or it stands in the document.
	Film string

	at    int
	maker *maker
}

// Numbered names a picture by its number, as a file that goes with a text, with what its author says of it.
func (p *Picture) Numbered() string {
	name := fmt.Sprintf("picture-%d", p.Number)
	if said := p.Figure.Figure.Alt; said != "" {
		name += ": " + Clean(strings.ReplaceAll(said, "\n", " "))
	}
	return name
}

// maker makes the pictures of a document, a few ahead of the one that is asked for.
type maker struct {
	ctx   context.Context
	in    output.Input
	width int
	all   []*Picture

	mu    sync.Mutex
	begun map[int]*made
	done  int // how many were asked for at least once
}

type made struct {
	ready chan struct{}
	file  picture.File
	err   error
}

func newMaker(ctx context.Context, in output.Input, o output.Options) *maker {
	return &maker{ctx: ctx, in: in, width: o.Quality.Pixels(widest), begun: map[int]*made{}}
}

func (m *maker) add(f story.Figure) *Picture {
	p := &Picture{ID: Anchor(f.ID), Alt: Clean(f.Alt), Number: f.Number, Figure: f, at: len(m.all), maker: m}
	m.all = append(m.all, p)
	return p
}

// begin begins to make a picture, unless that has begun.
func (m *maker) begin(at int) *made {
	m.mu.Lock()
	defer m.mu.Unlock()
	one := m.begun[at]
	if one == nil {
		one = &made{ready: make(chan struct{})}
		m.begun[at] = one
		go func() {
			defer close(one.ready)
			one.err = together.Guarded(func() (err error) {
				if err = m.ctx.Err(); err == nil {
					one.file, err = m.in.Picture(m.ctx, m.all[at].Figure.ID, m.width)
				}
				return err
			})
		}()
	}
	return one
}

// File is the finished picture. Asking for pictures in their order lets the next be made meanwhile; each is kept only
// until it was asked for.
func (p *Picture) File() (picture.File, error) {
	m := p.maker
	for ahead := range min(runtime.NumCPU(), len(m.all)-p.at) {
		m.begin(p.at + ahead)
	}
	one := m.begin(p.at)
	select {
	case <-one.ready:
	case <-m.ctx.Done():
		return picture.File{}, m.ctx.Err()
	}
	m.mu.Lock()
	delete(m.begun, p.at)
	m.done = max(m.done, p.at+1)
	done := m.done
	m.mu.Unlock()
	if one.err != nil {
		return picture.File{}, fmt.Errorf("%w %s: %w", ErrPicture, p.ID, one.err)
	}
	m.in.Progress(done, len(m.all))
	return one.file, nil
}

// Src is the address of the picture for a page: its file, or its data.
func (p *Picture) Src() (template.URL, error) {
	if p.Name != "" {
		return template.URL(p.Name), nil
	}
	file, err := p.File()
	if err != nil {
		return "", err
	}
	return template.URL("data:" + file.Type + ";base64," + base64.StdEncoding.EncodeToString(file.Data)), nil
}

// mostInside is how large a clip may be that stands in a document of one file, in bytes.
const mostInside = 24 << 20

// Moves tells whether a clip can be had of it.
func (p *Picture) Moves() bool { return p.Figure.Moves() && p.maker.in.Clip != nil }

// Clip is the finished clip.
func (p *Picture) Clip() (output.Clip, error) {
	c, err := p.maker.in.Clip(p.maker.ctx, p.Figure.ID, "mp4")
	if err != nil {
		return c, fmt.Errorf("making the clip %s: %w", p.ID, err)
	}
	return c, nil
}

// Movie is the address of the clip for a page: its file, or its data; "" of one that is too large to stand in a page.
func (p *Picture) Movie() (template.URL, error) {
	if p.Film != "" {
		return template.URL(p.Film), nil
	}
	c, err := p.Clip()
	if err != nil {
		return "", err
	}
	defer c.Data.Close()
	if c.Bytes > mostInside {
		return "", nil
	}
	data, err := io.ReadAll(c.Data)
	if err != nil {
		return "", fmt.Errorf("making the clip %s: %w", p.ID, err)
	}
	return template.URL("data:video/mp4;base64," + base64.StdEncoding.EncodeToString(data)), nil
}

// Extension is the ending of the names of files of a type.
func Extension(file picture.File) string {
	return map[string]string{"image/jpeg": "jpg", "image/png": "png", "image/gif": "gif", "image/webp": "webp"}[file.Type]
}

// Measured is the finished picture with its size in pixels.
func (p *Picture) Measured() (file picture.File, w, h int, err error) {
	if file, err = p.File(); err != nil {
		return file, 0, 0, err
	}
	c, _, err := image.DecodeConfig(bytes.NewReader(file.Data))
	if err != nil {
		return file, 0, 0, fmt.Errorf("measuring a finished picture: %w", err)
	}
	return file, c.Width, c.Height, nil
}
