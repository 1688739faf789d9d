// Bench measures what the product promises to reach, against ImageMagick and headless Chromium where
// they can do the same work. `make bench` runs it; docs/performance.md lays the figures out.
package main

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"time"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/engines/fonts"
	"raconte/engines/raster"
	"raconte/intake"
	"raconte/output"
	"raconte/output/pdf"
	"raconte/output/picture"
	"raconte/practice/workstation"
)

const out = "proof/bench/out"

func main() {
	fonts.Register()
	all := map[string]func(){"flatten": flatten, "compare": compare, "stitch": stitch, "encode": encode, "reshoot": reanchor, "print": print120,
		"search": searching, "moving": moving, "readers": readingTogether}
	must(os.MkdirAll(out, 0o755))
	for _, name := range os.Args[1:] {
		all[name]()
	}
}

func must(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

// median is the middle of n timings.
func median(n int, work func()) time.Duration {
	var all []time.Duration
	for range n {
		began := time.Now()
		work()
		all = append(all, time.Since(began))
	}
	sort.Slice(all, func(i, j int) bool { return all[i] < all[j] })
	return all[n/2]
}

func say(what, format string, args ...any) {
	fmt.Printf("%s\t%s\n", strings.TrimSpace(what), fmt.Sprintf(format, args...))
}

func ms(d time.Duration) string { return fmt.Sprintf("%.1f ms", float64(d.Microseconds())/1000) }

// screen is a shot of the practice workstation, drawn at a size.
func screen(w, h int, lot string) *image.RGBA {
	p := workstation.NewPlayer()
	for _, c := range []string{"sign in", "type " + lot + " into Bin card", "type 18 into Bins"} {
		must(p.Do(c))
	}
	img := p.Desk.Front(float64(w) / 1440)
	full := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		copy(full.Pix[y*full.Stride:(y+1)*full.Stride], img.Pix[y%img.Rect.Dy()*img.Stride:])
	}
	return full
}

func encoded(img *image.RGBA) []byte {
	var buf bytes.Buffer
	must(raster.EncodePNG(&buf, img, raster.Small))
	return buf.Bytes()
}

// marks are n boxes, arrows and markers over a picture.
func marks(n int, w, h float64) []figure.Mark {
	var all []figure.Mark
	for i := range n {
		x, y := w*float64(i%5)/5+w/20, h*float64(i/5%4)/4+h/20
		a, b := scene.Point{X: x, Y: y}, scene.Point{X: x + w/9, Y: y + h/9}
		m := figure.Mark{ID: fmt.Sprint(i), Style: figure.Style{Ink: "red", Weight: figure.Medium}, Turn: i}
		switch i % 3 {
		case 0:
			m.Kind, m.Points = figure.Box, []scene.Point{a, b}
		case 1:
			m.Kind, m.Points = figure.Arrow, []scene.Point{a, b}
		default:
			m.Kind, m.Points = figure.Marker, []scene.Point{a}
		}
		all = append(all, m)
	}
	return all
}

func flatten() {
	data := encoded(screen(3840, 2160, "24-1187"))
	in, ours, theirs := filepath.Join(out, "4k.png"), filepath.Join(out, "ours.png"), filepath.Join(out, "theirs.png")
	must(os.WriteFile(in, data, 0o600))
	must(os.WriteFile(filepath.Join(out, "1080.png"), encoded(screen(1920, 1080, "24-1187")), 0o600)) // for app.mjs
	f := figure.Figure{ID: "f", Shot: "s", Marks: marks(20, 3840, 2160)}
	t := median(7, func() {
		data, err := os.ReadFile(in)
		must(err)
		img, err := intake.Decode(context.Background(), data)
		must(err)
		var buf bytes.Buffer
		must(raster.EncodePNG(&buf, flat(f, img, 1, 0), raster.Quick))
		must(os.WriteFile(ours, buf.Bytes(), 0o600))
	})
	say("flatten 3840×2160 with 20 marks, PNG to PNG", "%s", ms(t))
	convert, err := exec.LookPath("convert-im6.q16") // Debian's own name for it
	if err != nil {
		if convert, err = exec.LookPath("convert"); err != nil {
			return
		}
	}
	args := []string{in}
	for _, p := range f.Still(1).Scene(figure.Size{W: 3840, H: 2160}, 1).Items {
		if p.Path != nil {
			args = append(args, "-fill", p.Path.Fill.String(), "-draw", "path '"+p.Path.Outline.String()+"'")
		}
	}
	args = append(args, theirs)
	im := median(3, func() {
		if msg, err := exec.Command(convert, args...).CombinedOutput(); err != nil {
			must(fmt.Errorf("convert: %w: %s", err, msg))
		}
	})
	say("  ImageMagick drawing the same paths", "%s, ours is %.1f times as fast (wanted: 12)", ms(im), float64(im)/float64(t))
}

func compare() {
	a, b, c := screen(1920, 1080, "24-1187"), screen(1920, 1080, "24-1187"), screen(1920, 1080, "24-1187")
	for y := 500; y < 513; y++ {
		for x := 700; x < 713; x++ {
			b.SetRGBA(x, y, color.RGBA{0, 0, 0, 255})
		}
	}
	for i := range c.Pix {
		c.Pix[i] ^= 1
	}
	say("compare two 1920×1080 shots, one checkbox changed", "%s (wanted: 3)", ms(median(31, func() { sight.Compare(a, b) })))
	say("compare two 1920×1080 shots, all changed", "%s (wanted: 20)", ms(median(31, func() { sight.Compare(a, c) })))
}

// stitch joins twelve screens of the door log, and looks at one screen for windows.
func stitch() {
	d := workstation.New(workstation.Began)
	log := d.Screen().Windows[1].Rect
	c, err := d.Screen().Cut(capture.Wish{What: capture.Area, Region: &log})
	must(err)
	var parts []*image.RGBA
	for range 12 {
		parts = append(parts, workstation.CutOut(d.Image(false), c))
		d.Wheel(log.Center(), 400)
	}
	say("stitch 12 screens of a list, 860×760", "%s (wanted: 2000)", ms(median(3, func() {
		_, err := sight.Stitch(parts)
		must(err)
	})))
	desk := d.Image(false)
	say("guess windows from a picture of 3200×1080", "%s", ms(median(5, func() { sight.GuessWindows(desk) })))
}

func encode() {
	img := screen(3840, 2160, "24-1187")
	size := func(encode func(io.Writer) error) int {
		var buf bytes.Buffer
		must(encode(&buf))
		return buf.Len()
	}
	theirs := func(w io.Writer) error { return png.Encode(w, img) }
	for _, e := range []struct {
		name   string
		effort raster.Effort
	}{{"for someone who waits", raster.Quick}, {"kept or sent", raster.Small}} {
		ours := func(w io.Writer) error { return raster.EncodePNG(w, img, e.effort) }
		var o, t []time.Duration
		for range 7 { // in turns, so that a machine that slows down slows both
			o = append(o, median(1, func() { size(ours) }))
			t = append(t, median(1, func() { size(theirs) }))
		}
		slices.Sort(o)
		slices.Sort(t)
		say("encode a 3840×2160 screen as PNG, "+e.name, "%s, %.1f times as fast as image/png at %.2f of its size (wanted: 4 times, 1.25)", ms(o[3]), float64(t[3])/float64(o[3]), float64(size(ours))/float64(size(theirs)))
	}
}

// print120 makes a PDF of 120 steps and lets Chromium print the same pictures and words.
func print120() {
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "A manual of 120 steps"}}
	shots := map[string][]byte{}
	sizes := map[string]figure.Size{}
	const text = "Scan the bin card. Lot, grower and variety fill in by themselves. Check them against the card."
	for i := range 120 {
		id := fmt.Sprint("shot", i)
		shots[id] = encoded(screen(1600, 900, fmt.Sprintf("24-%04d", i)))
		sizes[id] = figure.Size{W: 1600, H: 900}
		d.Blocks = append(d.Blocks, document.Block{ID: fmt.Sprint(i), Content: document.Content{Type: document.Step, Words: words.Plain(text), Figures: []figure.Figure{
			{ID: fmt.Sprint("f", i), Shot: id, Marks: marks(4, 1600, 900)}}}})
	}
	told := story.Of(d, nil, nil)
	edition := output.Edition{Style: style.Default(), State: "Ready"}
	pages, err := edition.Pages(context.Background(), told, sizes, style.Running)
	must(err)
	say("lay out 120 steps", "%s", ms(median(3, func() {
		_, err := edition.Pages(context.Background(), told, sizes, style.Running)
		must(err)
	})))
	kept := map[string]picture.File{}
	make1 := func(_ context.Context, id string, width int) (picture.File, error) {
		f, _, _ := told.Figure(id)
		img, err := intake.Decode(context.Background(), shots[f.Shot])
		if err != nil {
			return picture.File{}, err
		}
		return picture.Encode(flat(f.Figure, img, f.First, width), "image/png", raster.Small)
	}
	write := func(get func(context.Context, string, int) (picture.File, error)) []byte {
		var buf bytes.Buffer
		must(pdf.Format{}.Write(context.Background(), &buf, output.Input{
			Story: told, Made: time.Now(), Picture: get, Progress: func(int, int) {},
			Pages: func(context.Context, style.Layout) (page.Pages, error) { return pages, nil },
		}, output.Options{Layout: style.Running}))
		return buf.Bytes()
	}
	var made []byte
	cold := median(1, func() { made = write(make1) })
	for _, s := range d.Blocks {
		id := s.Figures[0].ID
		kept[id], err = make1(context.Background(), id, 950)
		must(err)
	}
	warm := median(3, func() {
		write(func(_ context.Context, id string, _ int) (picture.File, error) { return kept[id], nil })
	})
	must(os.WriteFile(filepath.Join(out, "ours.pdf"), made, 0o600))
	say("PDF of 120 steps with 1600×900 pictures, cold", "%s, %.1f MB (wanted: 6 s)", ms(cold), float64(len(made))/1e6)
	say("  with its pictures flattened before", "%s (wanted: 2 s)", ms(warm))
	chromium(d, shots, cold, len(made))
}

func chromium(d document.Document, shots map[string][]byte, ours time.Duration, size int) {
	browser, err := exec.LookPath("chromium")
	if err != nil {
		return
	}
	var html strings.Builder
	html.WriteString("<meta charset=utf-8><style>@page{size:A4;margin:14mm}.s{display:flex;gap:5mm;break-inside:avoid;height:64mm}.p{position:relative;width:100mm}svg,img{width:100%}svg{position:absolute;left:0;top:0}</style><h1>A manual</h1>")
	for i, s := range d.Blocks {
		f := s.Figures[0]
		must(os.WriteFile(filepath.Join(out, f.Shot+".png"), shots[f.Shot], 0o600))
		fmt.Fprintf(&html, `<div class=s><b>%d</b><div class=p><img src="%s.png"><svg viewBox="0 0 1600 900">`, i+1, f.Shot)
		for _, item := range f.Still(1).Scene(figure.Size{W: 1600, H: 900}, 1).Items {
			if item.Path != nil {
				fmt.Fprintf(&html, `<path d="%s" fill="%s"/>`, item.Path.Outline, item.Path.Fill)
			}
		}
		fmt.Fprintf(&html, `</svg></div><p style="width:60mm">%s</div>`, s.Words.Reading(nil))
	}
	source := filepath.Join(out, "theirs.html")
	must(os.WriteFile(source, []byte(html.String()), 0o600))
	abs, err := filepath.Abs(out)
	must(err)
	profile, err := os.MkdirTemp("", "raconte-bench-*")
	must(err)
	defer os.RemoveAll(profile)
	target := filepath.Join(abs, "theirs.pdf")
	t := median(1, func() {
		msg, err := exec.Command(browser, "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
			"--disable-background-networking", "--disable-component-update", "--disable-sync", "--user-data-dir="+profile,
			"--no-pdf-header-footer", "--print-to-pdf="+target, "file://"+filepath.Join(abs, "theirs.html")).CombinedOutput()
		if err != nil {
			must(fmt.Errorf("chromium: %w: %s", err, msg))
		}
	})
	info, err := os.Stat(target)
	must(err)
	say("  headless Chromium printing the same", "%s, %.1f MB: ours is %.1f times as fast (wanted: 5, 4 on a busy machine), %.2f of the size (wanted: 0.8)",
		ms(t), float64(info.Size())/1e6, float64(t)/float64(ours), float64(size)/float64(info.Size()))
}

func flat(f figure.Figure, shot *image.RGBA, first, width int) *image.RGBA {
	img, err := picture.Flatten(context.Background(), f.Still(first), map[string]*image.RGBA{f.Shot: shot}, first, width)
	must(err)
	return img
}
