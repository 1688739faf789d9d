package works

import (
	"context"
	"encoding/json"
	"strings"

	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/output"
	"raconte/output/formats"
	"raconte/platform/blobs"
	"raconte/store"
)

// Order is what a delivery is told.
type Order struct {
	Document string        `json:"document"`         // "" of a folder
	Folder   string        `json:"folder,omitempty"` // all that is valid in it
	Holds    []string      `json:"holds,omitempty"`  // the documents that a folder's file holds, once it is made
	Title    string        `json:"title"`            // as it was when it was ordered
	Format   string        `json:"format"`
	Number   int           `json:"number,omitempty"` // of an earlier revision that it is made from; 0 is the present one
	Layout   style.Layout  `json:"layout,omitempty"`
	Steps    []string      `json:"steps,omitempty"` // the blocks to take; none is all
	Quality  style.Quality `json:"quality,omitzero"`
	Template string        `json:"template,omitempty"`
	PDF      output.PDF    `json:"pdf,omitzero"`
	Locked   bool          `json:"locked,omitempty"`   // it had a password, which is not kept once the file is made
	Revision string        `json:"revision,omitempty"` // what it was made from, as people read it
	Draft    bool          `json:"draft"`              // it holds what only those who edit may see
	File     string        `json:"file"`               // its name

	Style string            `json:"-"` // the house style of a draft's pages; "" is its own
	Bare  bool              `json:"-"` // text that goes with files: see output.Options
	Fill  map[string]string `json:"-"` // what places in its words are filled in with
	own   *output.Own       // a template that is not kept; of what is only looked at
}

// Order begins a delivery of a document as its owner sees it. The error is a refusal where there is no such
// thing.
func (w *Works) Order(ctx context.Context, doc store.Whole, o Order, owner string) (store.Job, error) {
	about, err := o.check()
	if err == nil {
		_, err = w.templateOf(ctx, about, o.Template)
	}
	if err != nil {
		return store.Job{}, err
	}
	extension := about.Extension
	if about.Main != "" {
		extension = "zip"
	}
	if err := w.room(ctx, owner); err != nil {
		return store.Job{}, err
	}
	o.Locked = o.PDF.Seal.Password != ""
	o.Document, o.Title, o.File = doc.ID, doc.Title, fileName(doc.Title, extension)
	switch {
	case o.Number > 0:
		o.Revision = "Revision " + doc.Facts.SayRevision(o.Number)
	case doc.State == document.Ready:
		o.Revision = "Revision " + doc.Facts.SayRevision(doc.Document.Revision)
	default:
		o.Revision = "Draft"
	}
	payload, err := w.sealedOrder(o)
	if err != nil {
		return store.Job{}, err
	}
	return w.jobs.Add(ctx, store.Job{Kind: deliverJob, Payload: payload, Owner: owner, DocumentID: &doc.ID})
}

// mostOrdered is how many deliveries of one person wait or are made at a time.
const mostOrdered = 50

// room refuses another delivery of who has as many under way as may be.
func (w *Works) room(ctx context.Context, owner string) error {
	n, err := w.Store.Jobs.UnderWay(ctx, deliverJob, owner)
	if err == nil && n >= mostOrdered {
		err = refusal.New("%d of your deliveries are under way already. Wait until some are there, or cancel some.", n)
	}
	return err
}

// Retry begins a delivery again that failed or was cancelled.
func (w *Works) Retry(ctx context.Context, id string) error { return w.jobs.Retry(ctx, id) }

// check tells what is wrong with an order.
func (o Order) check() (output.About, error) {
	f, known := formats.Named(o.Format)
	if !known {
		return output.About{}, refusal.New("There is no format %q.", o.Format)
	}
	about := f.About()
	if o.Layout != style.Own && !o.Layout.Known() {
		return about, refusal.New("There is no layout %q.", o.Layout)
	}
	switch {
	case o.PDF != (output.PDF{}) && !about.Paged:
		return about, refusal.New("Only a PDF can be a booklet, have files attached or be closed.")
	case o.Number > 0 && !o.Draft:
		return about, refusal.New("Your account reads the valid revision alone.")
	case o.Number > 0 && (about.Whole || o.PDF.Attached):
		return about, refusal.New("A bundle is made of the document as it is now.")
	case o.PDF.Attached && !o.Draft:
		return about, refusal.New("Your account may read documents, but not take away the shots they were made from.")
	case o.Locked && o.PDF.Seal.Password == "":
		return about, refusal.New("The file had a password, which is not kept. Make it anew under Other forms.")
	}
	if err := o.Quality.Check(); err != nil {
		return about, refusal.New("The quality is not in order: %s.", err)
	}
	return about, nil
}

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
