package works

import (
	"context"
	"errors"
	"image"
	"io"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/engines/media"
	"raconte/output"
	"raconte/output/assemble"
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
	f, _ := formats.Named(o.Format) // none is that of what is copied
	r := assemble.Request{
		Document: doc.Core(), Around: doc.Around, Sizes: sizesOf(doc), Edition: e, Form: f, Steps: o.Steps, Fill: o.Fill, Quality: o.Quality,
		Made: doc.ChangedAt, Progress: progress, House: w.HouseFile, Parts: w.Pictures,
	}
	if w.Speaker != nil {
		r.Speak = w.Say
	}
	return assemble.Input(ctx, source{w}, r)
}

// source is the house as documents are assembled from it.
type source struct{ *Works }

func (s source) Finished(ctx context.Context, f figure.Figure, first, width int) (picture.File, error) {
	file, err := s.Pictures.Finished(ctx, f, first, width)
	return picture.File{Data: file.Data, Type: file.Type}, err
}

func (s source) Drawn(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
	return s.Pictures.Drawn(ctx, f, first, width)
}

func (s source) Clip(ctx context.Context, f figure.Figure, first int, form media.Form) (output.Clip, error) {
	key, err := s.Pictures.Moving(ctx, pictures.Moving{Figure: f, First: first, Form: form})
	if err != nil {
		return output.Clip{}, err
	}
	file, err := s.Pictures.OpenMoving(ctx, key)
	if err != nil {
		return output.Clip{}, err
	}
	return output.Clip{Data: file, Bytes: file.Size()}, nil
}

func (s source) Voice(ctx context.Context, sha string) (io.ReadCloser, error) {
	return s.Blobs.Open(ctx, FileKey(sha))
}

func (s source) Revision(ctx context.Context, other document.Other) (document.Document, map[string]figure.Size, bool, error) {
	doc, err := s.Store.Documents.Revision(ctx, other.ID, other.Revision)
	if errors.Is(err, store.ErrNotFound) {
		return document.Document{}, nil, false, nil
	}
	return doc.Core(), sizesOf(doc), err == nil, err
}

// sizesOf are the sizes of a document's shots.
func sizesOf(doc store.Whole) map[string]figure.Size {
	sizes := make(map[string]figure.Size, len(doc.Shots))
	for _, s := range doc.Shots {
		sizes[s.ID] = figure.Size{W: s.Width, H: s.Height}
	}
	return sizes
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
	in.Whole.Document, in.Whole.Chapters = all[0], all[1:]
	in.Whole.Shot = func(ctx context.Context, sha string) (output.Shot, error) {
		shot := bySHA[sha]
		data, err := w.Pictures.Open(ctx, shot)
		out := output.Shot{Data: data, Type: shot.MediaType, Name: shot.Name, About: &shot.About}
		if r := shot.Recording; r.Moves() {
			out.Clip = &output.Recording{SHA256: r.SHA256, Type: r.MediaType, Camera: r.Camera, Ms: r.Ms, Poster: r.Poster, Sounds: r.Sounds}
		}
		return out, err
	}
	in.Whole.Recording, in.Whole.Voice = w.Pictures.OpenRecording, in.Film.Voice
	in.Whole.PDF = func(ctx context.Context, sha string) (io.ReadCloser, error) { return w.Blobs.Open(ctx, FileKey(sha)) }
	return nil
}
