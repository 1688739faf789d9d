package works

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"html"
	"io"
	"net/url"
	"path"
	"slices"
	"strings"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/output"
	"raconte/store"
)

// mostOfFolder bounds how many documents a folder's delivery may have.
const mostOfFolder = 500

// OrderFolder begins a delivery of all that is valid in a folder, and in what lies in it, as its owner may read it.
func (w *Works) OrderFolder(ctx context.Context, folder store.Folder, o Order, v access.Viewer) (store.Job, error) {
	o.Draft, o.Steps = false, nil
	about, err := o.check()
	if err == nil {
		_, err = w.templateOf(ctx, about, o.Template)
	}
	switch {
	case err != nil:
		return store.Job{}, err
	case about.Whole:
		return store.Job{}, refusal.New("Bundles are made one by one.")
	}
	o.Document, o.Folder, o.Title, o.Revision = "", folder.ID, folder.Name, "what is valid"
	o.File, o.Locked = fileName(folder.Name, "zip"), o.PDF.Seal.Password != ""
	if err := w.room(ctx, v.Account); err != nil {
		return store.Job{}, err
	}
	payload, err := w.sealedOrder(o)
	if err != nil {
		return store.Job{}, err
	}
	return w.jobs.Add(ctx, store.Job{Kind: deliverJob, Payload: payload, Owner: v.Account})
}

// writeFolder writes all that is valid in a folder into a zip file: in folders as in the library, with a page that
// leads to all of it. Holds is told of every document that is in it.
func (w *Works) writeFolder(ctx context.Context, to io.Writer, f output.Format, o Order, v access.Viewer, holds func(id string), progress func(done, all int)) error {
	if !access.May(v, access.Read, access.Thing{Folder: o.Folder}) {
		return refusal.New("The folder is closed to you.")
	}
	folders, err := w.Store.Setup.Folders(ctx)
	if err != nil {
		return err
	}
	hits, err := w.Store.Search.Search(ctx, store.Query{Folder: o.Folder, Sort: "title", Most: mostOfFolder + 1}, v)
	if err != nil {
		return err
	}
	if len(hits) > mostOfFolder {
		return refusal.New("The folder has more than %d documents. Take the folders in it one by one.", mostOfFolder)
	}
	slices.SortStableFunc(hits, func(a, b store.Hit) int {
		return strings.Compare(below(folders, o.Folder, of(a.FolderID)), below(folders, o.Folder, of(b.FolderID)))
	})
	z := zip.NewWriter(to)
	list := listing{title: o.Title}
	taken := map[string]bool{}
	for i, h := range hits {
		if err := ctx.Err(); err != nil {
			return err
		}
		progress(i, len(hits))
		dir := below(folders, o.Folder, of(h.FolderID))
		doc, err := w.Store.Documents.LastRevision(ctx, h.ID)
		if errors.Is(err, store.ErrNotFound) || err == nil && doc.State == document.Retired {
			list.leave(dir, h.Title, "no revision of it is valid")
			continue
		}
		if err != nil {
			return err
		}
		extension := f.About().Extension
		if doc.Kind == document.Filed {
			extension = "pdf"
		}
		name := path.Join(dir, nameOf(doc.Facts.Number, doc.Title, extension))
		for n := 2; taken[strings.ToLower(name)]; n++ {
			name = path.Join(dir, nameOf(doc.Facts.Number, fmt.Sprintf("%s (%d)", doc.Title, n), extension))
		}
		taken[strings.ToLower(name)] = true
		holds(h.ID)
		for _, l := range doc.Core().Leads() {
			if l.How == document.Holds {
				holds(l.To)
			}
		}
		one := o
		one.Document, one.Folder = h.ID, ""
		entry, err := z.Create(name)
		if err == nil {
			err = w.writeOne(ctx, entry, f, one, doc, v)
		}
		if reason, refused := refusal.Reason(err); refused {
			return refusal.New("“%s” can't be made: %s", doc.Title, reason)
		}
		if err != nil {
			return err
		}
		list.add(dir, name, strings.TrimSpace(doc.Facts.Number+" "+doc.Title))
	}
	if len(list.rows) == 0 {
		return refusal.New("Nothing in the folder is valid yet: release a document first.")
	}
	progress(len(hits), len(hits))
	page, err := z.Create("index.html")
	if err == nil {
		_, err = io.WriteString(page, list.page())
	}
	if err != nil {
		return fmt.Errorf("writing the list of a folder: %w", err)
	}
	return z.Close()
}

// writeOne writes one document of a folder: a filed one is the PDF that it is.
func (w *Works) writeOne(ctx context.Context, to io.Writer, f output.Format, o Order, doc store.Whole, v access.Viewer) error {
	if doc.Kind != document.Filed || doc.Facts.File == nil {
		return w.write(ctx, to, f, o, v, func(int, int) {})
	}
	blob, err := w.Blobs.Open(ctx, FileKey(doc.Facts.File.SHA256))
	if err != nil {
		return err
	}
	_, err = io.Copy(to, blob)
	return errors.Join(err, blob.Close())
}

// below is the path of a folder from another one that it lies in.
func below(all []store.Folder, top, folder string) string {
	dir := ""
	for range 10 { // folders lie in each other three deep
		if folder == top || folder == "" {
			break
		}
		for _, f := range all {
			if f.ID == folder {
				dir = path.Join(strings.TrimSuffix(fileName(f.Name, ""), "."), dir)
				folder = of(f.ParentID)
				break
			}
		}
	}
	return dir
}

func of(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// listing is the page that leads to what a folder's delivery holds.
type listing struct {
	title string
	rows  []string
	left  []string
	dir   string
}

func (l *listing) add(dir, name, title string) {
	if dir != l.dir {
		l.rows = append(l.rows, "</ul><h2>"+html.EscapeString(dir)+"</h2><ul>")
		l.dir = dir
	}
	parts := strings.Split(name, "/")
	for i, p := range parts {
		parts[i] = url.PathEscape(p)
	}
	l.rows = append(l.rows, `<li><a href="`+html.EscapeString(strings.Join(parts, "/"))+`">`+html.EscapeString(title)+"</a></li>")
}

func (l *listing) leave(dir, title, why string) {
	l.left = append(l.left, "<li>"+html.EscapeString(path.Join(dir, title))+": "+why+"</li>")
}

func (l *listing) page() string {
	left := ""
	if len(l.left) > 0 {
		left = "<h2>Left out</h2><ul>" + strings.Join(l.left, "\n") + "</ul>"
	}
	return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>` + html.EscapeString(l.title) +
		`</title><style>body{font:1.05rem/1.5 system-ui,sans-serif;max-width:48rem;margin:2rem auto;padding:0 1rem}</style></head><body><h1>` + html.EscapeString(l.title) +
		"</h1><ul>\n" + strings.Join(l.rows, "\n") + "</ul>" + left + "</body></html>"
}
