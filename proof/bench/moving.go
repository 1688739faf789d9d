package main

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"os"
	"path/filepath"
	"sync"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/engines/media"
	"raconte/engines/voice"
	"raconte/output"
	"raconte/output/clip"
	"raconte/output/film"
)

// moving times what is made of recordings, and a film.
func moving() {
	if !media.Found() {
		say("clips and films", "skipped: ffmpeg is not installed")
		return
	}
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "raconte-bench-*")
	must(err)
	defer os.RemoveAll(dir)
	in := filepath.Join(dir, "in.mp4")
	w, err := media.Write(ctx, in, media.MP4, image.Pt(1280, 720), media.Look{Rate: 15}, "")
	must(err)
	still := screen(1280, 720, "24-0117")
	for n := range 15 * 15 {
		frame := image.NewRGBA(still.Rect)
		copy(frame.Pix, still.Pix)
		for y := range 40 { // something moves, as a pointer does
			at := frame.PixOffset(100+n*4, 200+y)
			for x := range 40 * 4 {
				frame.Pix[at+x] = uint8(x * 5)
			}
		}
		must(w.Add(frame))
	}
	must(w.Close())
	f := figure.Figure{ID: "f", Shot: "s", Marks: marks(6, 1280, 720), Clip: &figure.Clip{Ms: 15_000, Parts: []figure.Stretch{{Span: figure.Span{From: 1000, To: 13_000}}}}}
	r := clip.Request{Figure: f, First: 1, Recording: in}
	for _, form := range media.Forms {
		made := filepath.Join(dir, "out."+form.Extension)
		took := median(1, func() { must(r.Make(ctx, made, form, media.Look{})) })
		info, err := os.Stat(made)
		must(err)
		say(fmt.Sprintf("a clip of 15 s, 1280×720, trimmed to 12, 6 marks, as %s", form.Name), "%.1f s, %.2f MB", took.Seconds(), float64(info.Size())/1e6)
	}
	filmed(ctx)
}

// filmed times a film of 12 steps, made anew and with one step changed.
func filmed(ctx context.Context) {
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Receive a lot"}}
	sizes := map[string]figure.Size{}
	shots := map[string]*image.RGBA{}
	for i := range 12 {
		id := fmt.Sprint("shot", i)
		shots[id], sizes[id] = screen(1600, 900, fmt.Sprintf("24-%04d", i)), figure.Size{W: 1600, H: 900}
		box := figure.Mark{ID: "b", Kind: figure.Box, Style: figure.Box.Usual(), Points: []scene.Point{{X: 200, Y: 200}, {X: 500, Y: 330}}}
		d.Blocks = append(d.Blocks, document.NewStep(fmt.Sprint(i), words.Plain("Scan the bin card. Lot, grower and variety fill in by themselves."), figure.Figure{ID: fmt.Sprint("f", i), Shot: id, Marks: []figure.Mark{box}}))
	}
	parts := &kept{}
	engine := voice.Find("")
	make1 := func() int {
		told := story.Of(d, nil, nil)
		in := output.Input{Story: told, Edition: output.Edition{Style: style.Default()}, Progress: func(int, int) {}, Film: output.Film{Sizes: sizes, Parts: parts,
			Drawn: func(_ context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
				return flat(f, shots[f.Shot], first, width), nil
			}}}
		if engine != nil {
			in.Film.Speak = func(ctx context.Context, text string, language style.Language, pace int) ([]byte, error) {
				return voice.Speak(ctx, engine, text, string(language), pace)
			}
		}
		var out bytes.Buffer
		must(film.Format{Kind: film.MP4}.Write(ctx, &out, in, output.Options{}))
		path := filepath.Join(os.TempDir(), "raconte-bench-film.mp4")
		defer os.Remove(path)
		must(os.WriteFile(path, out.Bytes(), 0o600))
		info, err := media.Probe(ctx, path)
		must(err)
		return info.Ms
	}
	length := 0
	took := median(1, func() { length = make1() })
	say("a film of 12 steps, 1920×1080, with movement and voice", "%.1f s for %.1f s of film: %.2f times as long as it lasts (wanted: 1)", took.Seconds(), float64(length)/1000, took.Seconds()/(float64(length)/1000))
	d.Blocks[4].Words = words.Plain("Scan the bin card, twice.")
	again := median(1, func() { make1() })
	say("  with one step changed", "%.1f s", again.Seconds())
}

// kept are the parts of a film in memory, which are made at the same time.
type kept struct{ sync.Map }

func (k *kept) Fetch(_ context.Context, name, path string) (bool, error) {
	data, there := k.Load(name)
	if !there {
		return false, nil
	}
	return true, os.WriteFile(path, data.([]byte), 0o600)
}

func (k *kept) KeepPart(_ context.Context, name, path string) error {
	data, err := os.ReadFile(path)
	k.Store(name, data)
	return err
}
