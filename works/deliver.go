package works

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"raconte/blobs"
	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/page"
	"raconte/core/refusal"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/jobs"
	"raconte/output"
	"raconte/output/formats"
	"raconte/output/picture"
	"raconte/pictures"
	"raconte/store"
)

// Order is what a delivery is told.
type Order struct {
	Document string       `json:"document"`
	Title    string       `json:"title"` // as it was when it was ordered
	Format   string       `json:"format"`
	Layout   style.Layout `json:"layout,omitempty"`
	Draft    bool         `json:"draft"` // it holds what only those who edit may see
	File     string       `json:"file"`  // its name
}

// Order begins a delivery of a document as its owner sees it. The error is a refusal where there is no such format or
// layout.
func (w *Works) Order(ctx context.Context, doc store.Whole, o Order, owner string) (store.Job, error) {
	f, ok := formats.Named(o.Format)
	if !ok {
		return store.Job{}, refusal.New("There is no format %q.", o.Format)
	}
	about := f.About()
	if o.Layout != style.Own && !o.Layout.Known() {
		return store.Job{}, refusal.New("There is no layout %q.", o.Layout)
	}
	extension := about.Extension
	if about.Main != "" {
		extension = "zip"
	}
	o.Document, o.Title, o.File = doc.ID, doc.Title, fileName(doc.Title, extension)
	payload, err := json.Marshal(o)
	if err != nil {
		return store.Job{}, fmt.Errorf("writing an order: %w", err)
	}
	return w.jobs.Add(ctx, store.Job{Kind: deliverJob, Payload: string(payload), Owner: owner, DocumentID: &doc.ID})
}

// Retry begins a delivery again that failed or was cancelled.
func (w *Works) Retry(ctx context.Context, id string) error { return w.jobs.Retry(ctx, id) }

// OrderOf is what a delivery was told; false where the job is no delivery.
func OrderOf(j store.Job) (Order, bool) {
	var o Order
	if j.Kind != deliverJob || json.Unmarshal([]byte(j.Payload), &o) != nil {
		return o, false
	}
	if o.Title == "" { // of a time when the order did not say it
		o.Title = strings.TrimSuffix(o.File, ".pdf")
	}
	return o, true
}

// File opens the file of a finished delivery; the caller closes it.
func (w *Works) File(ctx context.Context, j store.Job) (blobs.Blob, error) {
	if j.State != store.Done {
		return nil, store.ErrNotFound
	}
	return w.Blobs.Open(ctx, j.Result)
}

// deliver is the job that makes files of documents. The file goes to the blobs as it is written.
func (w *Works) deliver(ctx context.Context, j store.Job, progress func(done, all int)) (jobs.Result, error) {
	o, ok := OrderOf(j)
	f, known := formats.Named(o.Format)
	if !ok || !known {
		return jobs.Result{}, refusal.New("This Raconte does not know the format %q.", o.Format)
	}
	ctx = pictures.For(ctx, j.Owner)
	load := w.Store.LastRevision
	if o.Draft {
		load = w.Store.Whole
	}
	doc, err := load(ctx, o.Document)
	if err != nil {
		return jobs.Result{}, fmt.Errorf("reading the document: %w", err)
	}
	owner, err := w.Store.Account(ctx, j.Owner)
	if err == nil {
		owner.Closed, err = w.Store.ClosedTo(ctx, owner)
	}
	if err != nil {
		return jobs.Result{}, fmt.Errorf("reading whose delivery it is: %w", err)
	}
	if folder, ask, err := w.Store.Whereabouts(ctx, doc.ID); err != nil || !access.May(owner.Viewer(), access.Read, access.Thing{Folder: folder}) {
		return jobs.Result{}, errors.Join(err, refusal.New("The document is in a closed folder.%s", asked(ask)))
	}
	read, err := w.Read(ctx, doc, !o.Draft, owner.Viewer())
	if err != nil {
		return jobs.Result{}, err
	}
	in, err := w.input(ctx, read, progress)
	if err != nil {
		return jobs.Result{}, err
	}
	if f.About().Whole {
		if err := w.whole(ctx, &in, doc, read.Around); err != nil {
			return jobs.Result{}, err
		}
	}
	from, to := io.Pipe()
	counted := &counter{to: to}
	go func() { to.CloseWithError(f.Write(ctx, counted, in, output.Options{Layout: o.Layout})) }()
	key := "deliveries/" + j.ID
	err = w.Blobs.Put(ctx, key, from)
	from.CloseWithError(io.ErrClosedPipe) // where keeping it failed, the writer stops
	return jobs.Result{File: key, Bytes: counted.n}, err
}

// input is a document as formats ask for it.
func (w *Works) input(ctx context.Context, doc store.Whole, progress func(done, all int)) (output.Input, error) {
	d := doc.Core()
	told := story.Of(d, doc.Around)
	e, err := w.edition(ctx, doc)
	in := output.Input{
		Story: told, Edition: e, House: w.HouseFile, Made: doc.ChangedAt, Progress: progress,
		Pages: func(ctx context.Context, layout style.Layout) (page.Pages, error) { return w.Pages(ctx, doc, layout) },
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
			return picture.File{Data: file.Data, Type: file.Type}, err
		},
	}
	return in, err
}

// whole gives a format that holds shots the document as it is kept, with its chapters.
func (w *Works) whole(ctx context.Context, in *output.Input, doc store.Whole, around document.Around) error {
	parts := []store.Whole{doc}
	for _, l := range doc.Core().Leads() {
		o := around[l.To]
		if l.How != document.Holds || o.Closed || o.Revision == 0 {
			continue
		}
		chapter, err := w.Store.Revision(ctx, l.To, o.Revision)
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
		return output.Shot{Data: data, Type: shot.MediaType, Name: shot.Name, About: &shot.About}, err
	}
	in.PDF = func(ctx context.Context, sha string) (io.ReadCloser, error) { return w.Blobs.Open(ctx, FileKey(sha)) }
	return nil
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

// fileName is a title as a name that every system takes.
func fileName(title, extension string) string {
	name := strings.Map(func(r rune) rune {
		if r < ' ' || strings.ContainsRune(`\/:*?"<>|`, r) {
			return ' '
		}
		return r
	}, text.Plain(title))
	name = strings.Trim(strings.Join(strings.Fields(name), " "), ". ")
	if r := []rune(name); len(r) > 80 {
		name = strings.TrimSpace(string(r[:80]))
	}
	if name == "" {
		name = "document"
	}
	return name + "." + extension
}
