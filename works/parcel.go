package works

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"raconte/core/access"
	"raconte/core/figure"
	"raconte/core/receiver"
	"raconte/core/refusal"
	"raconte/engines/media"
	"raconte/output/formats"
	"raconte/output/picture"
	"raconte/platform/receivers"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
)

// Parcel is what of a document goes to a receiver, made to fit what that takes.
type Parcel struct {
	receivers.Parcel
	Said   string          // its text as people read it, without the marks of its form
	Over   []receiver.Over // limits that it is beyond all the same: it can't go
	Shares []float64       // of each file: the share of its full width that a picture has; 1 of other files
	Left   string          // what was left out so that the rest fits, for people; "" where nothing was
}

// tightest is how often what a receiver takes is halved where it says that even that is too large.
const tightest = 5

// Parcel makes what of a document goes to a receiver, as a viewer may read it. Tight says how often the receiver has
// found what it takes too large. Clips take long: who does not wait for them hears that they are being made, as
// StillMaking.
func (w *Works) Parcel(ctx context.Context, doc store.Whole, r receiver.Receiver, tight int, v access.Viewer, waits bool) (Parcel, error) {
	ctx = pictures.For(ctx, v.Account)
	t := r.Takes
	p := Parcel{Parcel: receivers.Parcel{Title: doc.Title, Form: t.Text, Link: w.Address + "/d/" + doc.ID}}
	sender, err := w.Store.Identity.Account(ctx, v.Account)
	if err != nil {
		return p, fmt.Errorf("reading who sends: %w", err)
	}
	p.Sender = sender.DisplayName
	if p.Text, err = w.textFor(ctx, doc, t.Text, v); err != nil {
		return p, err
	}
	if p.Said = p.Text; t.Text != receiver.Plain {
		if p.Said, err = w.textFor(ctx, doc, receiver.Plain, v); err != nil {
			return p, err
		}
	}
	if t.Around != "" {
		around := func(text string) string {
			return receiver.Filled(t.Around, "", receiver.Values{"text": text, "title": p.Title, "sender": p.Sender, "link": p.Link})
		}
		p.Text, p.Said = around(p.Text), around(p.Said)
	}
	files, err := w.filesFor(ctx, doc, t, v, waits)
	if err != nil {
		return p, err
	}
	sizes := make([]int64, len(files))
	for i, f := range files {
		sizes[i] = int64(len(f.Data))
	}
	if tight > 0 {
		t = tighter(t, sizes, tight)
	}
	for i, most := range t.Shares(sizes) {
		f := files[i]
		share := 1.0
		if most > 0 && sizes[i] > most {
			smaller, got, err := f.smaller(ctx, most)
			switch {
			case errors.Is(err, picture.ErrTooLarge) && f.spare:
				p.Left = strings.TrimSpace(fmt.Sprintf("%s “%s” stays out: it has %s.", p.Left, f.Name, sizeSaid(sizes[i])))
				continue
			case errors.Is(err, picture.ErrTooLarge): // it is told as what it is over
			case err != nil:
				return p, err
			default:
				f.File, share = smaller, got
			}
		}
		f.Place = i // also where some before it stay out this time
		p.Files, p.Shares = append(p.Files, f.File), append(p.Shares, share)
	}
	apart(p.Files)
	sizes = sizes[:0]
	for _, f := range p.Files {
		sizes = append(sizes, int64(len(f.Data)))
	}
	p.Over = t.Beyond(p.Text, sizes)
	return p, nil
}

// apart gives files of one name different ones, and none that of the text.
func apart(files []receivers.File) {
	seen := map[string]bool{"text.md": true, "text.txt": true, "text.html": true}
	for i, f := range files {
		name := f.Name
		for n := 2; seen[strings.ToLower(name)]; n++ {
			name = fmt.Sprintf("%d-%s", n, f.Name)
		}
		seen[strings.ToLower(name)], files[i].Name = true, name
	}
}

// tighter is what a receiver takes that finds what it said to be too large: halves of what was sent.
func tighter(t receiver.Takes, sizes []int64, tight int) receiver.Takes {
	var largest int64
	for _, n := range sizes {
		largest = max(largest, n)
	}
	if t.LargestFile > 0 {
		largest = min(largest, t.LargestFile)
	}
	t.LargestFile = max(1, largest>>min(tight, tightest))
	return t
}

func sizeSaid(n int64) string {
	if n < 1_000_000 {
		return fmt.Sprintf("%d KB", (n+999)/1000)
	}
	return fmt.Sprintf("%.1f MB", float64(n)/1e6)
}

// textFor is a document's text in the form that a receiver takes, without its title, which goes by itself.
func (w *Works) textFor(ctx context.Context, doc store.Whole, form receiver.Form, v access.Viewer) (string, error) {
	as := map[receiver.Form]string{receiver.Plain: "text"}[form]
	if as == "" {
		as = "markdown"
	}
	var out bytes.Buffer
	if err := w.Copy(ctx, &out, as, Order{Document: doc.ID, Draft: true, Bare: true}, v); err != nil {
		return "", err
	}
	text := out.String()
	if form != receiver.HTML {
		return strings.TrimSpace(text) + "\n", nil
	}
	var html bytes.Buffer
	if err := goldmark.New(goldmark.WithExtensions(extension.Table)).Convert([]byte(text), &html); err != nil {
		return "", fmt.Errorf("writing text as HTML: %w", err)
	}
	return html.String(), nil
}

// sent is a file that goes, and how it can be made smaller.
type sent struct {
	receivers.File
	spare   bool // the rest is of use without it
	smaller func(ctx context.Context, most int64) (receivers.File, float64, error)
}

// filesFor are the files of a document for a receiver, as large as they are.
func (w *Works) filesFor(ctx context.Context, doc store.Whole, t receiver.Takes, v access.Viewer, waits bool) ([]sent, error) {
	var all []sent
	if len(t.Pictures) > 0 {
		d := doc.Core()
		n := d.Numbers()
		for _, b := range d.Blocks {
			for _, f := range b.Figures {
				file := w.pictureFor
				if form, moves := clipForm(f, t.Pictures); moves {
					file = w.clipFor(form, v.Account, waits)
				}
				s, err := file(ctx, f, n.Markers[f.ID], len(all)+1, stillTypes(t.Pictures))
				if err != nil {
					return nil, err
				}
				all = append(all, s)
			}
		}
	}
	if len(t.Pictures) > 0 || t.PDF {
		attached, err := w.attachedTo(ctx, doc.ID)
		if err != nil {
			return nil, err
		}
		all = append(all, attached...)
	}
	if t.PDF {
		s, err := w.pdfFor(ctx, doc, t.Style, v)
		if err != nil {
			return nil, err
		}
		all = append(all, s)
	}
	return all, nil
}

func (w *Works) pictureFor(ctx context.Context, f figure.Figure, first, number int, types []string) (sent, error) {
	finished := func(ctx context.Context, most int64) (receivers.File, float64, error) {
		kind := strings.TrimPrefix(types[0], "image/")
		file, _, _, err := w.Pictures.Finish(ctx, pictures.Wanted{Figure: f, First: max(1, first), Type: kind, Quality: 90, Most: int(min(most, math.MaxInt32)), Types: types})
		if err != nil {
			return receivers.File{}, 0, err
		}
		ending := strings.TrimPrefix(file.Type, "image/")
		return receivers.File{Name: fmt.Sprintf("picture-%d.%s", number, ending), Type: file.Type, Data: file.Data}, file.Share, nil
	}
	whole, _, err := finished(ctx, 0)
	return sent{File: whole, smaller: finished}, err
}

// stillTypes are those of pictures that stand still; PNG where only clips are taken.
func stillTypes(types []string) []string {
	still := slices.DeleteFunc(slices.Clone(types), func(t string) bool { return strings.HasPrefix(t, "video/") })
	if len(still) == 0 {
		return []string{"image/png"}
	}
	return still
}

// clipForm is the form in which a clip goes to who takes these types: that which was chosen for it, where they take
// that; false where it goes as a picture.
func clipForm(f figure.Figure, types []string) (media.Form, bool) {
	if f.Clip == nil || !media.Found() {
		return media.Form{}, false
	}
	var best media.Form
	for _, form := range []media.Form{media.MP4, media.WebP, media.GIF, media.WebM} {
		switch {
		case !slices.Contains(types, form.Type):
		case form.Name == f.Clip.Form:
			return form, true
		case best.Name == "":
			best = form
		}
	}
	return best, best.Name != ""
}

// mostClip is how large a clip is that goes to a receiver which names no limit, in bytes.
const mostClip = 50 << 20

// StillMaking says that a clip is not made yet.
type StillMaking struct{ Making }

func (StillMaking) Error() string { return "a clip is being made" }

// clipFor makes clips of a form that go to a receiver: shorter, smaller, with fewer pictures, as its limits want.
func (w *Works) clipFor(form media.Form, account string, waits bool) func(context.Context, figure.Figure, int, int, []string) (sent, error) {
	return func(ctx context.Context, f figure.Figure, first, number int, _ []string) (sent, error) {
		made := func(ctx context.Context, most int64) (receivers.File, float64, error) {
			if most <= 0 {
				most = mostClip
			}
			first := max(1, first)
			var key string
			if waits {
				var err error
				if key, _, _, err = w.Pictures.FitMoving(ctx, pictures.Moving{Figure: f, First: first}, most, []media.Form{form}); err != nil {
					return receivers.File{}, 0, err
				}
			} else {
				m, err := w.Moving(ctx, f, first, form.Name, most, account)
				switch {
				case err != nil:
					return receivers.File{}, 0, err
				case m.Error == tooLargeSaid:
					return receivers.File{}, 0, picture.ErrTooLarge
				case m.Error != "":
					return receivers.File{}, 0, refusal.New("%s", m.Error)
				case m.Key == "":
					return receivers.File{}, 0, StillMaking{m}
				}
				key = m.Key
			}
			file, err := w.Pictures.OpenMoving(ctx, key)
			if err != nil {
				return receivers.File{}, 0, err
			}
			defer file.Close()
			data, err := io.ReadAll(file)
			return receivers.File{Name: fmt.Sprintf("clip-%d.%s", number, form.Extension), Type: form.Type, Data: data}, 1, err
		}
		whole, _, err := made(ctx, 0)
		return sent{File: whole, smaller: made}, err
	}
}

// AttachedKey is where a file beside a report is kept.
func AttachedKey(sha string) string { return "attached/" + sha }

// attachedTo are the files beside a document. They go as they are, or stay out.
func (w *Works) attachedTo(ctx context.Context, document string) ([]sent, error) {
	files, err := w.Store.Documents.Attachments(ctx, document)
	if err != nil {
		return nil, err
	}
	var all []sent
	for _, a := range files {
		data, err := w.Blobs.Get(ctx, AttachedKey(a.SHA256))
		if err != nil {
			return nil, fmt.Errorf("reading an attachment: %w", err)
		}
		all = append(all, sent{
			File: receivers.File{Name: a.Name, Type: "application/octet-stream", Data: data}, spare: true,
			smaller: func(context.Context, int64) (receivers.File, float64, error) {
				return receivers.File{}, 0, picture.ErrTooLarge
			},
		})
	}
	return all, nil
}

// resolutions are those at which pages are tried, in dots to an inch; 0 is the style's.
var resolutions = []int{0, 150, 100, 72}

func (w *Works) pdfFor(ctx context.Context, doc store.Whole, in string, v access.Viewer) (sent, error) {
	f, _ := formats.Named("pdf")
	name := fileName(doc.Title, "pdf")
	write := func(ctx context.Context, dpi int) (receivers.File, error) {
		var out bytes.Buffer
		o := Order{Document: doc.ID, Draft: true, Style: in}
		o.Quality.DPI = dpi
		err := w.write(ctx, &out, f, o, v, func(int, int) {})
		return receivers.File{Name: name, Type: "application/pdf", Data: out.Bytes()}, err
	}
	whole, err := write(ctx, 0)
	return sent{File: whole, spare: true, smaller: func(ctx context.Context, most int64) (receivers.File, float64, error) {
		for _, dpi := range resolutions[1:] {
			file, err := write(ctx, dpi)
			if err != nil || int64(len(file.Data)) <= most {
				return file, 1, err
			}
		}
		return receivers.File{}, 0, picture.ErrTooLarge
	}}, err
}
