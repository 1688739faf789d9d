// Package pdf writes computed pages as a PDF file. It places what core/page has laid out and
// measures nothing itself.
package pdf

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"runtime"
	"strings"

	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/output"
	"raconte/output/picture"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/sync/errgroup"
)

// Format is the PDF.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "pdf", Title: "PDF", Extension: "pdf", MediaType: "application/pdf", Paged: true}
}

// Write makes the PDF.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	pages, err := in.Pages(ctx, o.Layout)
	if err != nil {
		return err
	}
	pictures, err := fetch(ctx, pages, in, o.Quality)
	if err != nil {
		return err
	}
	doc := fpdf.New("P", "pt", "A4", "")
	doc.SetMargins(0, 0, 0)
	doc.SetAutoPageBreak(false, 0)
	doc.SetTitle(in.Story.Title, true)
	doc.SetCreator("Raconte", true)
	doc.SetCreationDate(in.Made)
	doc.SetModificationDate(in.Made)
	doc.SetCatalogSort(true)
	r := &renderer{doc: doc, pictures: pictures, fonts: map[string]bool{}, links: map[scene.Link]int{}}
	places := pages.Places
	for i, sheet := range pages.Sheets {
		if err := ctx.Err(); err != nil {
			return fmt.Errorf("writing the PDF: %w", err)
		}
		doc.AddPageFormat("P", fpdf.SizeType{Wd: sheet.W, Ht: sheet.H})
		for ; len(places) > 0 && places[0].Page == i+1; places = places[1:] {
			if !places[0].Listed() {
				continue
			}
			r.font(text.Regular, 10) // bookmarks are written in the current font's encoding
			doc.Bookmark(places[0].Number+"  "+places[0].Label, places[0].Depth, places[0].Y)
		}
		sheet.Draw(r)
	}
	if err := doc.Output(w); err != nil {
		return fmt.Errorf("writing the PDF: %w", err)
	}
	return nil
}

// fetch makes all pictures, several at a time, each as wide as its widest use needs: they are most of the work.
func fetch(ctx context.Context, pages page.Pages, in output.Input, q style.Quality) (map[string]picture.File, error) {
	type slot struct {
		ref   string
		width int
		file  picture.File
	}
	var slots []*slot
	seen := map[string]*slot{}
	for _, sheet := range pages.Sheets {
		for _, item := range sheet.Items {
			p := item.Picture
			if p == nil {
				continue
			}
			if seen[p.Ref] == nil {
				seen[p.Ref] = &slot{ref: p.Ref}
				slots = append(slots, seen[p.Ref])
			}
			seen[p.Ref].width = max(seen[p.Ref].width, q.Pixels(p.Stretched().W))
		}
	}
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(runtime.NumCPU())
	done := make(chan struct{}, len(slots))
	for _, s := range slots {
		group.Go(func() (err error) {
			if err := ctx.Err(); err != nil {
				return err
			}
			if s.file, err = made(ctx, in, s.ref, s.width); err != nil {
				return fmt.Errorf("making the picture %s: %w", s.ref, err)
			}
			done <- struct{}{}
			in.Progress(len(done), len(slots))
			return nil
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	files := make(map[string]picture.File, len(slots))
	for _, s := range slots {
		files[s.ref] = s.file
	}
	return files, nil
}

// made is what a page shows: a finished picture, or the logo of the house.
func made(ctx context.Context, in output.Input, ref string, width int) (picture.File, error) {
	logo, is := strings.CutPrefix(ref, page.LogoRef(""))
	if !is {
		return in.Picture(ctx, strings.TrimPrefix(ref, page.FigureRef("")), width)
	}
	if in.House == nil { // a style from a file names one that only its house has
		return picture.File{}, nil
	}
	data, err := in.House(ctx, logo)
	return picture.File{Data: data, Type: http.DetectContentType(data)}, err
}

// renderer draws scenes on the current page.
type renderer struct {
	doc      *fpdf.Fpdf
	pictures map[string]picture.File
	fonts    map[string]bool
	links    map[scene.Link]int
}

// font selects a face, embedding it on first use: a document without Chinese does not carry it.
func (r *renderer) font(face string, size float64) {
	if !r.fonts[face] {
		r.doc.AddUTF8FontFromBytes(face, "", text.TTF(face))
		r.fonts[face] = true
	}
	r.doc.SetFont(face, "", size)
}

func (r *renderer) color(c scene.Color) {
	r.doc.SetFillColor(int(c.R), int(c.G), int(c.B))
	r.doc.SetTextColor(int(c.R), int(c.G), int(c.B))
	r.doc.SetAlpha(float64(c.A)/255, "Normal")
}

// Path fills an outline.
func (r *renderer) Path(p scene.Path) {
	r.color(p.Fill)
	for _, s := range p.Outline {
		switch s.Op {
		case 'M':
			r.doc.MoveTo(s.P[0].X, s.P[0].Y)
		case 'L':
			r.doc.LineTo(s.P[0].X, s.P[0].Y)
		case 'Q':
			r.doc.CurveTo(s.P[0].X, s.P[0].Y, s.P[1].X, s.P[1].Y)
		case 'C':
			r.doc.CurveBezierCubicTo(s.P[0].X, s.P[0].Y, s.P[1].X, s.P[1].Y, s.P[2].X, s.P[2].Y)
		case 'Z':
			r.doc.ClosePath()
		}
	}
	r.doc.DrawPath("F")
}

// Words sets text that can be searched and copied.
func (r *renderer) Words(w scene.Words) {
	r.color(w.Fill)
	r.font(w.Face, w.Size)
	r.doc.Text(w.X, w.Baseline, drawable(w.Text))
}

// drawable leaves out characters beyond the basic plane, which the PDF library can't set.
func drawable(s string) string {
	return strings.Map(func(r rune) rune {
		if r > 0xffff {
			return '\ufffd'
		}
		return r
	}, s)
}

// Picture places a finished picture.
func (r *renderer) Picture(p scene.Picture) {
	file, ok := r.pictures[p.Ref]
	if !ok || len(file.Data) == 0 {
		return
	}
	r.doc.SetAlpha(1, "Normal")
	options := fpdf.ImageOptions{ImageType: strings.TrimPrefix(file.Type, "image/")}
	r.doc.RegisterImageOptionsReader(p.Ref, options, bytes.NewReader(file.Data))
	at := p.Stretched()
	if part := at != p.Target; part {
		r.doc.ClipRect(p.Target.X, p.Target.Y, p.Target.W, p.Target.H, false)
		defer r.doc.ClipEnd()
	}
	r.doc.ImageOptions(p.Ref, at.X, at.Y, at.W, at.H, false, options, 0, "")
}

// Clip draws the items whole: pages clip nothing, and pictures come finished.
func (r *renderer) Clip(c scene.Clip) { scene.Scene{Items: c.Items}.Draw(r) }

// Link makes an area lead to an address or a page.
func (r *renderer) Link(l scene.Link) {
	if l.URL != "" {
		r.doc.LinkString(l.Area.X, l.Area.Y, l.Area.W, l.Area.H, l.URL)
		return
	}
	to := scene.Link{Page: l.Page, Y: l.Y}
	id, ok := r.links[to]
	if !ok {
		id = r.doc.AddLink()
		r.doc.SetLink(id, l.Y, l.Page)
		r.links[to] = id
	}
	r.doc.Link(l.Area.X, l.Area.Y, l.Area.W, l.Area.H, id)
}
