package works

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"raconte/core/access"
	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/formats"
	"raconte/output/html"
	"raconte/output/markdown"
	"raconte/output/text"
	"raconte/platform/together"
	"raconte/store"
	"raconte/works/jobs"
	"raconte/works/pictures"
)

// deliver is the job that makes files of documents. The file goes to the blobs as it is written.
func (w *Works) deliver(ctx context.Context, j store.Job, progress func(done, all int)) (jobs.Result, error) {
	o, ok := OrderOf(j)
	f, known := formats.Named(o.Format)
	if !ok || !known {
		return jobs.Result{}, refusal.New("This Raconte does not know the format %q.", o.Format)
	}
	o, err := w.openOrder(o)
	if err != nil {
		return jobs.Result{}, err
	}
	owner, err := w.Store.Identity.Account(ctx, j.Owner)
	if err == nil {
		owner.Closed, err = w.Store.Setup.ClosedTo(ctx, owner)
	}
	if err != nil {
		return jobs.Result{}, fmt.Errorf("reading whose delivery it is: %w", err)
	}
	from, to := io.Pipe()
	counted := &counter{to: to}
	told := o
	write := func() error { return w.write(ctx, counted, f, o, owner.Viewer(), progress) }
	if o.Folder != "" {
		write = func() error {
			return w.writeFolder(ctx, counted, f, o, owner.Viewer(), func(id string) { told.Holds = append(told.Holds, id) }, progress)
		}
	}
	go func() { to.CloseWithError(together.Guarded(write)) }()
	key := fmt.Sprintf("deliveries/%s.%d", j.ID, j.Token) // of this try alone: another may be under way
	err = w.Blobs.Put(ctx, key, from)
	from.CloseWithError(io.ErrClosedPipe) // where keeping it failed, the writer stops
	if err != nil {
		return jobs.Result{File: key, Bytes: counted.n}, err
	}
	told.PDF.Seal.Password = ""
	payload, err := json.Marshal(told)
	return jobs.Result{File: key, Bytes: counted.n, Payload: string(payload)}, err
}

// Weigh is how many bytes a delivery will have: it is made, and thrown away.
func (w *Works) Weigh(ctx context.Context, o Order, v access.Viewer) (int64, error) {
	if _, err := o.check(); err != nil {
		return 0, err
	}
	f, _ := formats.Named(o.Format)
	counted := &counter{to: io.Discard}
	err := w.write(ctx, counted, f, o, v, func(int, int) {})
	return counted.n, err
}

// clips are the formats that are made for the clipboard.
var clips = map[string]struct {
	format   output.Format
	template string
}{"html": {html.Format{}, "fragment"}, "text": {text.Format{}, ""}, "markdown": {markdown.Words{}, ""}}

// clipped are the dots to an inch of pictures that are copied: enough for a mail, and no burden to it.
const clipped = 110

// Copy writes a document, or some blocks of it, for the clipboard: as "html", "text" or "markdown".
func (w *Works) Copy(ctx context.Context, to io.Writer, as string, o Order, v access.Viewer) error {
	clip, known := clips[as]
	if !known {
		return refusal.New("Nothing is copied as %q.", as)
	}
	o.Template, o.Quality.DPI = clip.template, clipped
	return w.write(ctx, to, clip.format, o, v, func(int, int) {})
}

// write writes a document as it was ordered, as far as a viewer may read it.
func (w *Works) write(ctx context.Context, to io.Writer, f output.Format, o Order, v access.Viewer, progress func(done, all int)) error {
	ctx = pictures.For(ctx, v.Account)
	which := Which{Draft: o.Draft, Revision: o.Number}
	read, err := w.Reading(ctx, v, o.Document, which)
	if o.Number > 0 && errors.Is(err, store.ErrNotFound) {
		return refusal.New("There is no such revision.")
	}
	if err != nil {
		return fmt.Errorf("reading the document: %w", err)
	}
	if o.Style != "" && !read.Revised {
		read.Facts.Style, read.Style = o.Style, nil
	}
	in, err := w.input(ctx, read.Whole, o, progress)
	if err != nil {
		return err
	}
	if f.About().Whole || o.PDF.Attached {
		which.Apart = true
		apart, err := w.Reading(ctx, v, o.Document, which)
		if err == nil {
			err = w.whole(ctx, &in, apart.Whole, read.Around)
		}
		if err != nil {
			return err
		}
	}
	own := o.own
	if own == nil {
		if own, err = w.templateOf(ctx, f.About(), o.Template); err != nil {
			return err
		}
	}
	return f.Write(ctx, to, in, output.Options{Layout: o.Layout, Quality: o.Quality, Template: o.Template, Own: own, PDF: o.PDF, Bare: o.Bare})
}

// FileKey is where a filed PDF is kept.
func FileKey(sha string) string { return "files/" + sha }

// asked is whom to ask, as a sentence.
func asked(ask string) string {
	if ask == "" {
		return ""
	}
	return " Ask " + ask + " for it."
}

// counter counts what goes through it.
type counter struct {
	to io.Writer
	n  int64
}

func (c *counter) Write(p []byte) (int, error) {
	n, err := c.to.Write(p)
	c.n += int64(n)
	return n, err
}

// PDF writes a document that has been read as a PDF in its style.
func (w *Works) PDF(ctx context.Context, to io.Writer, read store.Whole) error {
	f, _ := formats.Named("pdf")
	in, err := w.input(ctx, read, Order{Document: read.ID, Number: read.Document.Revision, Format: "pdf"}, func(int, int) {})
	if err != nil {
		return err
	}
	return f.Write(ctx, to, in, output.Options{})
}
