package works

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"slices"

	"raconte/core/access"
	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/formats"
	"raconte/output/html"
	"raconte/store"
)

// CheckTemplate says what is to be said of a template of a kind; a refusal where it can't be one.
func (w *Works) CheckTemplate(ctx context.Context, kind string, own output.Own) ([]output.Note, error) {
	f, known := formats.Taking(kind)
	if !known {
		return nil, refusal.New("There are no templates of the kind %q.", kind)
	}
	return f.Check(ctx, own)
}

// KeepTemplate keeps the file of a template, and tells its SHA-256.
func (w *Works) KeepTemplate(ctx context.Context, data []byte) (string, error) {
	sha, _, err := w.Blobs.PutSum(ctx, HouseKey(""), bytes.NewReader(data))
	return sha, err
}

// templateOf takes what an order names as its template: one of the format's, or one of the house.
func (w *Works) templateOf(ctx context.Context, about output.About, name string) (*output.Own, error) {
	if name == "" || slices.ContainsFunc(about.Templates, func(t output.Template) bool { return t.Name == name }) {
		return nil, nil
	}
	t, err := w.Store.Setup.Template(ctx, name)
	if errors.Is(err, store.ErrNotFound) || err == nil && (about.Own == "" || t.Kind != about.Own) {
		return nil, refusal.New("%s has no template %q.", about.Title, name)
	}
	if err != nil {
		return nil, fmt.Errorf("reading a template: %w", err)
	}
	data, err := w.HouseFile(ctx, t.SHA256)
	return &output.Own{Data: data, Script: t.Script}, err
}

// previewed are how many blocks a template is tried with.
const previewed = 30

// Preview writes the beginning of a document through a template for web pages that is being made.
func (w *Works) Preview(ctx context.Context, to io.Writer, doc store.Whole, own output.Own, v access.Viewer) error {
	o := Order{Document: doc.ID, Draft: true}
	o.Quality.DPI = 72
	for i, b := range doc.Core().Blocks {
		if i == previewed {
			break
		}
		o.Steps = append(o.Steps, b.ID)
	}
	o.own = &own
	return w.write(ctx, to, html.Format{}, o, v, func(int, int) {})
}
