package works

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"slices"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/output/formats"
	"raconte/platform/blobs"
	"raconte/platform/together"
	"raconte/store"
	"raconte/works/jobs"
)

// Place is where standing deliveries go: a folder of the server, or an object store.
type Place struct {
	Name   string
	Bucket *blobs.Bucket
}

func (w *Works) place(name string) *blobs.Bucket {
	for _, p := range w.Places {
		if p.Name == name {
			return p.Bucket
		}
	}
	return nil
}

// Stand keeps a standing delivery: the file is put to its place now, and at each release.
func (w *Works) Stand(ctx context.Context, doc store.Whole, o Order, place, dir, owner string) (store.Standing, error) {
	o.Draft, o.Steps = false, nil // it is of the valid revision, whole
	about, err := o.check()
	if err == nil {
		_, err = w.templateOf(ctx, about, o.Template)
	}
	switch {
	case err != nil:
		return store.Standing{}, err
	case about.Whole:
		return store.Standing{}, refusal.New("A bundle holds shots as they are, and is not put where others read.")
	case o.PDF.Seal.Password != "":
		return store.Standing{}, refusal.New("A password is not kept, so that a file with one can't be made again at each release.")
	case w.place(place) == nil:
		return store.Standing{}, refusal.New("There is no place “%s”.", place)
	}
	dir = strings.Trim(path.Clean("/"+strings.ReplaceAll(dir, `\`, "/")), "/")
	if text.Plain(dir) != dir {
		return store.Standing{}, refusal.New("The folder’s name holds characters that no name has. Type it anew.")
	}
	if len(dir) > 200 {
		return store.Standing{}, refusal.New("The folder's name is too long.")
	}
	o.Document, o.Title = doc.ID, doc.Title
	payload, err := json.Marshal(o)
	if err != nil {
		return store.Standing{}, fmt.Errorf("writing an order: %w", err)
	}
	n, err := w.Store.Exchange.AddStanding(ctx, store.Standing{DocumentID: doc.ID, Payload: string(payload), Place: place, Path: dir, MadeBy: owner})
	if errors.Is(err, store.ErrLimit) {
		return n, refusal.New("The document has as many standing deliveries as it may have.")
	}
	w.Rouse()
	return n, err
}

// Rouse has work that was queued with a change begin at once.
func (w *Works) Rouse() { w.jobs.Rouse() }

// OrderOfStanding is what a standing delivery makes.
func OrderOfStanding(n store.Standing) (o Order) {
	_ = json.Unmarshal([]byte(n.Payload), &o) // it was written by Stand
	return o
}

// publish is the job that makes a standing delivery: what is valid now lies at its place then, and nothing else.
func (w *Works) publish(ctx context.Context, j store.Job, progress func(done, all int)) (jobs.Result, error) {
	n, err := w.Store.Exchange.BeginStanding(ctx, j.Payload)
	if errors.Is(err, store.ErrNotFound) {
		return jobs.Result{}, nil
	}
	if err != nil {
		return jobs.Result{}, err
	}
	files, revision, err := w.put(ctx, n, progress)
	if errors.Is(err, errOvertaken) { // nothing was put: what is valid now is made at once
		return jobs.Result{}, jobs.Later{Err: err}
	}
	if ctx.Err() != nil {
		return jobs.Result{}, ctx.Err() // it is done again
	}
	reason, refused := refusal.Reason(err)
	if err != nil && !refused {
		reason = "Something went wrong at the place. It is tried again."
		w.Log.Error("a standing delivery failed", "standing", n.ID, "place", n.Place, "error", err)
	}
	if err == nil {
		bucket := w.place(n.Place)
		for _, old := range n.Files {
			if !slices.Contains(files, old) {
				err = errors.Join(err, bucket.Delete(ctx, old))
			}
		}
	} else {
		files, revision = n.Files, n.Revision // what lay there still does
	}
	if n.Deleted && err == nil {
		return jobs.Result{}, w.Store.Exchange.ForgetStanding(ctx, n.ID)
	}
	n.Files, n.Revision, n.Error = files, revision, reason
	if failed := w.Store.Exchange.Put(ctx, n); failed != nil || err == nil || refused {
		return jobs.Result{}, errors.Join(err, failed)
	}
	// What lies there may hold what is concealed by now.
	return jobs.Result{}, jobs.Later{After: min(max(w.age(j), placeAgain), longestWait), Err: err}
}

// placeAgain is how long a place that failed is left alone at the least.
const placeAgain = time.Minute

// errOvertaken says that what was made of a document is not what is valid of it any more.
var errOvertaken = errors.New("the document was released again, or something in it concealed, while its file was made")

// put writes the files of a standing delivery, and tells their names and of which revision they are: none where no
// revision is valid.
func (w *Works) put(ctx context.Context, n store.Standing, progress func(done, all int)) ([]string, int, error) {
	bucket := w.place(n.Place)
	if bucket == nil {
		return nil, 0, refusal.New("There is no place “%s” any more.", n.Place)
	}
	composition, err := w.Store.Exchange.Stands(ctx, n.DocumentID)
	if err != nil {
		return nil, 0, err
	}
	doc, err := w.Store.Documents.LastRevision(ctx, n.DocumentID)
	gone := errors.Is(err, store.ErrNotFound) || err == nil && doc.State == document.Retired
	if n.Deleted || gone {
		return []string{}, 0, nil
	}
	if err != nil {
		return nil, 0, err
	}
	o := OrderOfStanding(n)
	f, known := formats.Named(o.Format)
	if !known {
		return nil, 0, refusal.New("This Raconte does not know the format %q.", o.Format)
	}
	owner, err := w.Store.Identity.Account(ctx, n.MadeBy)
	if err == nil {
		owner.Closed, err = w.Store.Setup.ClosedTo(ctx, owner)
	}
	if err != nil {
		return nil, 0, fmt.Errorf("reading whose delivery it is: %w", err)
	}
	// Asked when all of it is made, and before any of it is where others read.
	write := func(to io.Writer) error {
		if err := w.write(ctx, to, f, o, owner.Viewer(), progress); err != nil {
			return err
		}
		stands, err := w.Store.Exchange.StillStands(ctx, n, doc.Revision, composition)
		if err == nil && !stands {
			err = errOvertaken
		}
		return err
	}
	name := path.Join(n.Path, nameOf(doc.Facts.Number, doc.Title, f.About().Extension))
	if f.About().Main != "" {
		files, err := w.putFolder(ctx, bucket, strings.TrimSuffix(name, path.Ext(name)), n, write)
		return files, doc.Revision, err
	}
	if err := w.free(ctx, n, name); err != nil {
		return nil, 0, err
	}
	from, to := io.Pipe()
	go func() { to.CloseWithError(together.Guarded(func() error { return write(to) })) }()
	err = bucket.Put(ctx, name, from)
	from.CloseWithError(io.ErrClosedPipe)
	return []string{name}, doc.Revision, err
}

// free refuses a name that another standing delivery has.
func (w *Works) free(ctx context.Context, n store.Standing, name string) error {
	taken, err := w.Store.Exchange.StandingAt(ctx, n.Place, name, n.ID)
	if err == nil && taken {
		err = refusal.New("Another document already has a file named “%s” there. Give this one a folder of its own.", path.Base(name))
	}
	return err
}

// putFolder puts what comes as a folder: its document last, so that it never leads to what is not there yet.
func (w *Works) putFolder(ctx context.Context, bucket *blobs.Bucket, dir string, n store.Standing, write func(io.Writer) error) ([]string, error) {
	packed, err := os.CreateTemp("", "raconte-*.zip")
	if err != nil {
		return nil, fmt.Errorf("making a folder: %w", err)
	}
	defer os.Remove(packed.Name())
	defer packed.Close()
	if err := write(packed); err != nil {
		return nil, err
	}
	size, err := packed.Seek(0, io.SeekEnd)
	if err != nil {
		return nil, fmt.Errorf("making a folder: %w", err)
	}
	z, err := zip.NewReader(packed, size)
	if err != nil {
		return nil, fmt.Errorf("making a folder: %w", err)
	}
	slices.SortStableFunc(z.File, func(a, b *zip.File) int { return strings.Count(b.Name, "/") - strings.Count(a.Name, "/") })
	files := []string{}
	for _, f := range z.File {
		name := path.Join(dir, f.Name)
		if err := w.free(ctx, n, name); err != nil {
			return nil, err
		}
		r, err := f.Open()
		if err != nil {
			return nil, fmt.Errorf("making a folder: %w", err)
		}
		err = bucket.Put(ctx, name, r)
		if err = errors.Join(err, r.Close()); err != nil {
			return nil, err
		}
		files = append(files, name)
	}
	return files, nil
}

// nameOf is the name of a document's file among those of others: its number, where it has one, and its title.
func nameOf(number, title, extension string) string {
	return fileName(strings.TrimSpace(number+" "+title), extension)
}
