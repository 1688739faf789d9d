package media

import (
	"context"
	"fmt"
	"image"
	"os"
	"path/filepath"
	"strconv"
	"strings"
)

// Part begins a stretch of a film, to be joined with others: all are coded alike.
func Part(ctx context.Context, path string, size image.Point, rate int) (*Writer, error) {
	return write(ctx, path, size, rate, "", []string{
		"-c:v", "libx264", "-preset", "veryfast", "-tune", "stillimage", "-crf", "20", "-bf", "0", "-pix_fmt", "yuv420p", "-threads", "1", "-video_track_timescale", "90000",
	})
}

// Chapter is a place in a film that can be gone to, in milliseconds.
type Chapter struct {
	Start, End int
	Name       string
}

// Joined is what a film is joined of. Captions are a file of WebVTT, "" where there are none.
type Joined struct {
	Parts           []string
	Sound, Captions string
	Chapters        []Chapter
	Title, Language string
	Form            Form
	Length          int // milliseconds
}

// Join makes a film: its pictures are taken as they are, for WebM they are coded anew.
func Join(ctx context.Context, j Joined, out string) error {
	dir := filepath.Dir(out)
	var list strings.Builder
	for _, p := range j.Parts {
		fmt.Fprintf(&list, "file 'file:%s'\n", strings.ReplaceAll(p, "'", `'\''`))
	}
	parts, about := filepath.Join(dir, "parts.txt"), filepath.Join(dir, "about.txt")
	if err := os.WriteFile(parts, []byte(list.String()), 0o600); err != nil {
		return fmt.Errorf("joining a film: %w", err)
	}
	if err := os.WriteFile(about, []byte(j.about()), 0o600); err != nil {
		return fmt.Errorf("joining a film: %w", err)
	}
	args := []string{"-protocol_whitelist", "file,pipe", "-f", "concat", "-safe", "0", "-i", parts, "-protocol_whitelist", "file,pipe", "-f", "wav", "-i", "file:" + j.Sound, "-f", "ffmetadata", "-i", about}
	if j.Captions != "" {
		args = append(args, "-f", "webvtt", "-i", "file:"+j.Captions)
	}
	args = append(args, "-map", "0:v", "-map", "1:a", "-map_metadata", "2", "-map_chapters", "2")
	captions := "mov_text"
	if j.Form == WebM {
		captions = "webvtt"
		args = append(args, "-c:v", "libvpx-vp9", "-deadline", "realtime", "-cpu-used", "8", "-row-mt", "1", "-b:v", "0", "-crf", "34", "-g", "250", "-fps_mode", "vfr", "-c:a", "libopus", "-b:a", "64k")
	} else {
		args = append(args, "-c:v", "copy", "-c:a", "aac", "-b:a", "96k", "-movflags", "+faststart")
	}
	if j.Captions != "" {
		args = append(args, "-map", "3:s", "-c:s", captions, "-metadata:s:s:0", "language="+three(j.Language))
	}
	args = append(args, "-metadata:s:a:0", "language="+three(j.Language), "-t", seconds(j.Length), "-fflags", "+bitexact", out)
	return run(ctx, args...)
}

// three is a language by the three letters of ISO 639-2, as files of films name it.
func three(language string) string {
	if code := map[string]string{"en": "eng", "de": "deu", "fr": "fra", "es": "spa"}[language]; code != "" {
		return code
	}
	return "und"
}

// about is the title and the chapters, as ffmpeg reads them.
func (j Joined) about() string {
	escape := strings.NewReplacer("\\", `\\`, "=", `\=`, ";", `\;`, "#", `\#`, "\n", " ", "\r", " ")
	var b strings.Builder
	b.WriteString(";FFMETADATA1\ntitle=" + escape.Replace(j.Title) + "\n")
	for _, c := range j.Chapters {
		fmt.Fprintf(&b, "[CHAPTER]\nTIMEBASE=1/1000\nSTART=%d\nEND=%d\ntitle=%s\n", c.Start, c.End, escape.Replace(c.Name))
	}
	return b.String()
}

// Encode makes a file of sound alone (AAC in MPEG-4) of a WAV file.
func Encode(ctx context.Context, sound, out string) error {
	return run(ctx, "-protocol_whitelist", "file,pipe", "-f", "wav", "-i", "file:"+sound, "-vn", "-c:a", "aac", "-b:a", "96k", "-map_metadata", "-1", "-movflags", "+faststart", "-fflags", "+bitexact", "-f", "ipod", out)
}

// Mono is the sound of a file as a WAV file of one channel.
func Mono(ctx context.Context, path, out string) error {
	in, err := soundInput(ctx, path)
	if err != nil {
		return err
	}
	return run(ctx, append(in, "-vn", "-ac", "1", "-ar", strconv.Itoa(soundRate), "-c:a", "pcm_s16le", out)...)
}
