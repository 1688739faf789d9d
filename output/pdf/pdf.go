// Package pdf writes computed pages as a tagged PDF. It places what core/page has laid out, measures nothing itself,
// and keeps the structure that the pages carry: what is read out, searched and copied comes in its order. Sections that
// are named are those of ISO 32000-1.
package pdf

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"runtime"
	"strings"

	"raconte/core/page"
	"raconte/core/style"
	"raconte/output"
	"raconte/output/flow"
	"raconte/output/picture"
	"raconte/platform/together"
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
	d := &drawing{file: newFile(w), structure: newStructure(), pictures: map[string]int{}, fonts: map[string]*font{}, states: map[string]int{}}
	if o.PDF.Seal.Closes() {
		if d.sealed, err = seal(o.PDF.Seal); err != nil {
			return err
		}
	}
	if err := d.fetch(ctx, pages, in, o.Quality); err != nil {
		return err
	}
	d.folded = folds(len(pages.Sheets), o.PDF.Booklet)
	for range d.folded.sides {
		d.sides = append(d.sides, &side{id: d.reserve()})
	}
	all := d.reserve()
	for i, sheet := range pages.Sheets {
		if err := ctx.Err(); err != nil {
			return fmt.Errorf("writing the PDF: %w", err)
		}
		d.sheet(i, sheet)
		if !o.PDF.Booklet {
			d.page(d.sides[i], i, all)
		}
	}
	kids := ""
	for i, s := range d.sides {
		if o.PDF.Booklet {
			d.page(s, i, all)
		}
		kids += fmt.Sprintf("%d 0 R ", s.id)
	}
	d.object(all, fmt.Sprintf("<</Type/Pages/Count %d/Kids[%s]>>", len(d.sides), kids))
	for i := range len(d.fonts) { // in the order of their first use
		for _, f := range d.fonts {
			if f.res == fmt.Sprint("F", i) && d.failed == nil {
				d.failed = f.write(d.file)
			}
		}
	}
	if d.failed != nil {
		return d.failed
	}
	attached := ""
	if o.PDF.Attached {
		if attached, err = d.attach(ctx, in); err != nil {
			return err
		}
	}
	language := in.Edition.Style.Language
	if language == "" {
		language = style.English
	}
	err = d.catalog(all, d.outline(pages.Places, pages.Sheets), about{
		title: flow.Clean(in.Story.Title), author: flow.Clean(in.Story.Control.Author), keywords: flow.Clean(strings.Join(in.Story.Control.Keywords, ", ")),
		language: string(language), made: in.Made, attached: attached,
	})
	if err != nil {
		return fmt.Errorf("writing the PDF: %w", err)
	}
	return nil
}

// wanted is a picture that the pages show.
type wanted struct {
	ref   string
	width int // in pixels, that its widest use needs
	made  chan struct{}
	file  picture.File
	err   error
}

// fetch makes all pictures, several at a time, and writes them in the order of the pages as they come: no more than a
// few are in memory at once. They are most of the work.
func (d *drawing) fetch(ctx context.Context, pages page.Pages, in output.Input, q style.Quality) error {
	var all []*wanted
	seen := map[string]*wanted{}
	for _, sheet := range pages.Sheets {
		for _, item := range sheet.Items {
			p := item.Picture
			if p == nil {
				continue
			}
			if seen[p.Ref] == nil {
				seen[p.Ref] = &wanted{ref: p.Ref, made: make(chan struct{})}
				all = append(all, seen[p.Ref])
			}
			seen[p.Ref].width = max(seen[p.Ref].width, q.Pixels(p.Stretched().W))
		}
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	places := make(chan struct{}, runtime.NumCPU()+1) // for pictures that are made and not written yet
	go func() {
		for _, one := range all {
			select {
			case places <- struct{}{}:
			case <-ctx.Done():
				one.err = ctx.Err()
				close(one.made)
				continue
			}
			go func() {
				defer close(one.made)
				one.err = together.Guarded(func() (err error) {
					if err = ctx.Err(); err == nil {
						one.file, err = made(ctx, in, one.ref, one.width)
					}
					return err
				})
			}()
		}
	}()
	for i, one := range all {
		<-one.made
		if one.err != nil {
			return fmt.Errorf("making the picture %s: %w", one.ref, one.err)
		}
		if len(one.file.Data) > 0 {
			d.pictures[one.ref] = d.reserve()
			if err := d.image(d.pictures[one.ref], one.file); err != nil {
				return err
			}
		}
		one.file = picture.File{}
		<-places
		if d.err != nil {
			return fmt.Errorf("writing the PDF: %w", d.err)
		}
		in.Progress(i+1, len(all))
	}
	return nil
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
