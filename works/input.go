package works

import (
	"context"
	"fmt"
	"io"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/refusal"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/engines/media"
	"raconte/output"
	films "raconte/output/film"
	"raconte/output/formats"
	"raconte/output/picture"
	"raconte/store"
	"raconte/works/pictures"
)

// input is a document as formats ask for it.
func (w *Works) input(ctx context.Context, doc store.Whole, o Order, progress func(done, all int)) (output.Input, error) {
	e, err := w.edition(ctx, doc)
	if err != nil {
		return output.Input{}, err
	}
	told := told(doc, e.Style).Filled(o.Fill)
	if len(o.Steps) > 0 {
		if told = told.Only(o.Steps); len(told.Blocks) == 0 {
			return output.Input{}, refusal.New("None of the steps that were chosen is in the document any more.")
		}
	}
	sizes := map[string]figure.Size{}
	for _, shot := range doc.Shots {
		sizes[shot.ID] = figure.Size{W: shot.Width, H: shot.Height}
	}
	if told.Film.Within && films.Makes(o.Format) {
		if told, err = w.within(ctx, told, sizes); err != nil {
			return output.Input{}, err
		}
	}
	if f, known := formats.Named(o.Format); !known || !f.About().Plays {
		told = told.Leading(e.Address, e.Style.Said)
	}
	in := output.Input{
		Story: told, Edition: e, House: w.HouseFile, Made: doc.ChangedAt, Progress: progress,
		Pages: func(ctx context.Context, layout style.Layout) (page.Pages, error) {
			return w.pages(ctx, doc, told, e, layout)
		},
		Picture: func(ctx context.Context, id string, width int) (picture.File, error) {
			if err := ctx.Err(); err != nil {
				return picture.File{}, err
			}
			f, in, ok := told.Figure(id)
			if !ok {
				return picture.File{}, fmt.Errorf("the document has no picture %s", id)
			}
			file, err := w.Pictures.Finished(ctx, f.Figure, f.First, width)
			if reason, refused := refusal.Reason(err); refused {
				err = refusal.New("The picture of %s %s can't be made: %s", in.Type, in.Number, reason)
			}
			if err != nil {
				return picture.File{}, err
			}
			return picture.Reduce(picture.File{Data: file.Data, Type: file.Type}, o.Quality.Colors)
		},
	}
	in.Sizes = sizes
	in.Parts = w.Pictures
	in.Drawn = w.Pictures.Drawn
	if w.Speaker != nil {
		in.Speak = w.Say
	}
	in.Voice = func(ctx context.Context, sha string) (io.ReadCloser, error) { return w.Blobs.Open(ctx, FileKey(sha)) }
	if media.Found() {
		in.Clip = func(ctx context.Context, id, form string) (output.Clip, error) { return w.clipOf(ctx, told, id, form) }
	}
	return in, nil
}

// clipOf is a finished clip of a story.
func (w *Works) clipOf(ctx context.Context, told story.Story, id, form string) (output.Clip, error) {
	f, in, ok := told.Figure(id)
	as, known := formNamed(form)
	if !ok || !known {
		return output.Clip{}, fmt.Errorf("the document has no clip %s as %s", id, form)
	}
	key, err := w.Pictures.Moving(ctx, pictures.Moving{Figure: f.Figure, First: f.First, Form: as})
	if reason, refused := refusal.Reason(err); refused {
		err = refusal.New("The clip of %s %s can't be made: %s", in.Type, in.Number, reason)
	}
	if err != nil {
		return output.Clip{}, err
	}
	file, err := w.Pictures.OpenMoving(ctx, key)
	if err != nil {
		return output.Clip{}, err
	}
	return output.Clip{Data: file, Bytes: file.Size()}, nil
}

// whole gives a format that holds shots the document as it is kept, with its chapters.
func (w *Works) whole(ctx context.Context, in *output.Input, doc store.Whole, around document.Around) error {
	parts := []store.Whole{doc}
	for _, l := range doc.Core().Leads() {
		o := around[l.To]
		if l.How != document.Holds || o.Closed || o.Revision == 0 {
			continue
		}
		chapter, err := w.Store.Documents.Revision(ctx, l.To, o.Revision)
		if err != nil {
			return err
		}
		parts = append(parts, chapter)
	}
	bySHA := map[string]store.Shot{}
	var all []document.Document
	for _, p := range parts {
		byID := map[string]store.Shot{}
		for _, shot := range p.Shots {
			byID[shot.ID], bySHA[shot.SHA256] = shot, shot
		}
		all = append(all, p.Core().Apart().WithShots(func(id string) string { return byID[id].SHA256 }))
	}
	in.Document, in.Chapters = all[0], all[1:]
	in.Shot = func(ctx context.Context, sha string) (output.Shot, error) {
		shot := bySHA[sha]
		data, err := w.Pictures.Open(ctx, shot)
		out := output.Shot{Data: data, Type: shot.MediaType, Name: shot.Name, About: &shot.About}
		if r := shot.Recording; r.Moves() {
			out.Clip = &output.Recording{SHA256: r.SHA256, Type: r.MediaType, Camera: r.Camera, Ms: r.Ms, Poster: r.Poster, Sounds: r.Sounds}
		}
		return out, err
	}
	in.Recording = w.Pictures.OpenRecording
	in.PDF = func(ctx context.Context, sha string) (io.ReadCloser, error) { return w.Blobs.Open(ctx, FileKey(sha)) }
	return nil
}
