// Package film makes films of documents: what core/film plans is drawn, spoken and joined. Each stretch is a part of
// its own, kept by all that went into it, so that changing one step makes that step anew.
package film

import (
	"context"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"slices"

	"raconte/core/film"
	"raconte/core/refusal"
	"raconte/engines/media"
	"raconte/output"
)

// Format is a film, or a part of one.
type Format struct{ Kind string }

// The kinds, in the order in which they are offered.
const (
	MP4        = "mp4"
	WebM       = "webm"
	Captions   = "vtt"
	Transcript = "transcript"
	Sound      = "sound"
)

// About names it.
func (f Format) About() output.About {
	about := map[string]output.About{
		MP4:        {Title: "Film, MP4 with chapters and captions", Extension: "mp4", MediaType: "video/mp4"},
		WebM:       {Title: "Film, WebM", Extension: "webm", MediaType: "video/webm"},
		Captions:   {Title: "Captions of the film, WebVTT", Extension: "vtt", MediaType: "text/vtt; charset=utf-8"},
		Transcript: {Title: "Transcript of the film", Extension: "txt", MediaType: "text/plain; charset=utf-8"},
		Sound:      {Title: "Sound of the film, M4A", Extension: "m4a", MediaType: "audio/mp4"},
	}[f.Kind]
	about.Name, about.Plays, about.Slow = f.Kind, true, true
	return about
}

// Makes tells whether a format is a film, or a part of one, by its name.
func Makes(name string) bool {
	return slices.Contains([]string{MP4, WebM, Captions, Transcript, Sound}, name)
}

// mostLength is how long a film may be, in milliseconds.
const mostLength = 2 * 60 * 60 * 1000

var errTooLong = refusal.New("The film would be longer than two hours. Choose fewer steps.")

// Write makes it.
func (f Format) Write(ctx context.Context, w io.Writer, in output.Input, _ output.Options) error {
	if !media.Found() {
		return media.ErrMissing
	}
	dir, err := os.MkdirTemp("", "raconte-film-*")
	if err != nil {
		return fmt.Errorf("making a film: %w", err)
	}
	defer os.RemoveAll(dir)
	m := &maker{in: in, dir: dir, style: in.Edition.Style, told: in.Story.Film}
	if err := m.speak(ctx); err != nil {
		return err
	}
	switch f.Kind {
	case Captions:
		_, err := io.WriteString(w, m.plan.VTT())
		return err
	case Transcript:
		_, err := io.WriteString(w, in.Story.Title+"\n\n"+m.plan.Transcript())
		return err
	}
	sound, err := m.sound(ctx)
	if err != nil {
		return err
	}
	out := filepath.Join(dir, "film."+f.About().Extension)
	if f.Kind == Sound {
		err = media.Encode(ctx, sound, out)
	} else {
		err = m.film(ctx, f.Kind, sound, out)
	}
	if err != nil {
		return err
	}
	made, err := os.Open(out)
	if err != nil {
		return fmt.Errorf("making a film: %w", err)
	}
	defer made.Close()
	_, err = io.Copy(w, made)
	return err
}

// film draws the stretches and joins them.
func (m *maker) film(ctx context.Context, kind, sound, out string) error {
	parts, err := m.draw(ctx)
	if err != nil {
		return err
	}
	captions := ""
	if m.told.Captions == "" || m.told.Captions == "both" {
		captions = filepath.Join(m.dir, "captions.vtt")
		if err := os.WriteFile(captions, []byte(m.plan.VTT()), 0o600); err != nil {
			return fmt.Errorf("making a film: %w", err)
		}
	}
	var chapters []media.Chapter
	for _, c := range m.plan.Chapters() {
		chapters = append(chapters, media.Chapter{Start: c.Start, End: c.End, Name: c.Name})
	}
	form := media.MP4
	if kind == WebM {
		form = media.WebM
	}
	return media.Join(ctx, media.Joined{
		Parts: parts, Sound: sound, Captions: captions, Chapters: chapters, Title: m.in.Story.Title, Language: string(m.style.Language), Form: form, Length: m.plan.Length,
	}, out)
}

// Plan is how the story of an input is told, with the lengths that are known of what is said.
func Plan(in output.Input, lengths film.Lengths) film.Plan {
	return film.Of(in.Story, in.Story.Film, in.Film.Sizes, lengths)
}

// size is a picture's own, for the frame that it is seen in.
func size(img *image.RGBA) (w, h float64) {
	return float64(img.Rect.Dx()), float64(img.Rect.Dy())
}
