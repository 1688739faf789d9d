// Package assemble is the one way from a document to what formats are given: of a house, and of a bundle.
package assemble

import (
	"context"
	"fmt"
	"image"
	"io"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/refusal"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/engines/media"
	"raconte/output"
	"raconte/output/film"
	"raconte/output/picture"
)

// Source is where pictures, clips and sounds of documents come from.
type Source interface {
	// Finished is a figure as it is shown, at most width pixels wide (0: its own size); its first marker is first.
	Finished(ctx context.Context, f figure.Figure, first, width int) (picture.File, error)
	// Drawn is the same in pixels.
	Drawn(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error)
	// Clip is a figure that moves, made in a form.
	Clip(ctx context.Context, f figure.Figure, first int, form media.Form) (output.Clip, error)
	// Voice is what someone has said, by its SHA-256.
	Voice(ctx context.Context, sha string) (io.ReadCloser, error)
	// Revision is a valid document that another leads to, with the sizes of its shots; false where it is not there.
	Revision(ctx context.Context, other document.Other) (document.Document, map[string]figure.Size, bool, error)
}

// Request is what is to be made of a document.
type Request struct {
	Document document.Document // as it is read: of a manual with its chapters
	Around   document.Around   // what it leads to
	Sizes    map[string]figure.Size
	Edition  output.Edition
	Form     output.Format     // that it is for; nil: nothing plays in it
	Steps    []string          // ids of those that are told; none: all
	Fill     map[string]string // what the places that it leaves open are filled with
	Quality  style.Quality
	Made     time.Time // when it was last changed
	Progress func(done, all int)
	// House, Speak and Parts are as output.Input has them; nil where there are none.
	House func(ctx context.Context, sha string) ([]byte, error)
	Speak func(ctx context.Context, text string, language style.Language, pace int) ([]byte, error)
	Parts output.Parts
}

// Input is what a format is given of a document. The error is a refusal where nothing is left to tell.
func Input(ctx context.Context, from Source, r Request) (output.Input, error) {
	told := story.Of(r.Document, r.Around, r.Edition.Style.Said).Filled(r.Fill)
	if len(r.Steps) > 0 {
		if told = told.Only(r.Steps); len(told.Blocks) == 0 {
			return output.Input{}, refusal.New("None of the steps that were chosen is in the document any more.")
		}
	}
	var err error
	if told.Film.Within && r.Form != nil && film.Makes(r.Form.About().Name) {
		if told, err = within(ctx, from, told, r.Sizes); err != nil {
			return output.Input{}, err
		}
	}
	if r.Form == nil || !r.Form.About().Plays {
		told = told.Leading(r.Edition.Address, r.Edition.Style.Said)
	}
	in := output.Input{
		Story: told, Edition: r.Edition, House: r.House, Made: r.Made, Progress: r.Progress,
		Pages: func(ctx context.Context, layout style.Layout) (page.Pages, error) {
			if layout == style.Own {
				layout = r.Document.Facts.Layout
			}
			return r.Edition.Pages(ctx, told, r.Sizes, layout)
		},
		Picture: func(ctx context.Context, id string, width int) (picture.File, error) {
			return finished(ctx, from, told, id, width, r.Quality)
		},
		Film: output.Film{Sizes: r.Sizes, Parts: r.Parts, Drawn: from.Drawn, Speak: r.Speak, Voice: from.Voice},
	}
	if media.Found() {
		in.Clip = func(ctx context.Context, id, form string) (output.Clip, error) {
			return moving(ctx, from, told, id, form)
		}
	}
	return in, nil
}

// finished is a finished picture of a story.
func finished(ctx context.Context, from Source, told story.Story, id string, width int, q style.Quality) (picture.File, error) {
	if err := ctx.Err(); err != nil {
		return picture.File{}, err
	}
	f, in, ok := told.Figure(id)
	if !ok {
		return picture.File{}, fmt.Errorf("the document has no picture %s", id)
	}
	file, err := from.Finished(ctx, f.Figure, f.First, width)
	if err != nil {
		return picture.File{}, said("picture", in, err)
	}
	return picture.Reduce(file, q.Colors)
}

// moving is a finished clip of a story.
func moving(ctx context.Context, from Source, told story.Story, id, form string) (output.Clip, error) {
	f, in, ok := told.Figure(id)
	as, known := media.Named(form)
	if !ok || !known {
		return output.Clip{}, fmt.Errorf("the document has no clip %s as %s", id, form)
	}
	made, err := from.Clip(ctx, f.Figure, f.First, as)
	if err != nil {
		return output.Clip{}, said("clip", in, err)
	}
	return made, nil
}

// said tells a refusal with the block that it concerns.
func said(what string, in story.Block, err error) error {
	if reason, refused := refusal.Reason(err); refused {
		return refusal.New("The %s of %s %s can't be made: %s", what, in.Type, in.Number, reason)
	}
	return err
}

// within is a story with the procedures that its steps hand over to told after those steps, as far as whoever asked may
// read them; what those hand over to is named. Sizes come to hold those of their shots.
func within(ctx context.Context, from Source, told story.Story, sizes map[string]figure.Size) (story.Story, error) {
	var blocks []story.Block
	for _, b := range told.Blocks {
		blocks = append(blocks, b)
		if b.Does == nil || b.Does.Closed || b.Does.Revision == 0 {
			continue
		}
		other, shots, there, err := from.Revision(ctx, *b.Does)
		if err != nil {
			return told, err
		}
		if !there {
			continue
		}
		for id, size := range shots {
			sizes[id] = size
		}
		for _, inner := range story.Of(other, nil, nil).Blocks {
			if inner.Number != "" {
				inner.Number = b.Number + "." + inner.Number
			}
			blocks = append(blocks, inner)
		}
	}
	told.Blocks = blocks
	return told, nil
}
