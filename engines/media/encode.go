package media

import (
	"context"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strconv"

	"raconte/engines/confined"
)

// Form is a kind of file of moving pictures.
type Form struct {
	Name, Type, Extension string
	Sounds                bool
}

// The forms that are written.
var (
	MP4  = Form{"mp4", "video/mp4", "mp4", true}
	WebM = Form{"webm", "video/webm", "webm", true}
	GIF  = Form{"gif", "image/gif", "gif", false}
	WebP = Form{"webp", "image/webp", "webp", false}
)

// Forms are all of them.
var Forms = []Form{MP4, WebM, GIF, WebP}

// Named is the form with a name; false where there is none.
func Named(name string) (Form, bool) {
	i := slices.IndexFunc(Forms, func(f Form) bool { return f.Name == name })
	if i < 0 {
		return Form{}, false
	}
	return Forms[i], true
}

// Look is how much of a picture is kept: Width 0 is its own, Worse 0 is usual and every step is some 15 % of the bytes
// less.
type Look struct {
	Width, Rate, Worse int
}

// codec are ffmpeg's words for what a form holds.
func (f Form) codec(l Look) []string {
	switch f {
	case WebM:
		return []string{"-c:v", "libvpx-vp9", "-deadline", "realtime", "-cpu-used", "6", "-row-mt", "1", "-b:v", "0", "-crf", strconv.Itoa(min(60, 32+2*l.Worse)), "-g", "150", "-pix_fmt", "yuv420p", "-c:a", "libopus", "-b:a", "96k"}
	case WebP:
		return []string{"-c:v", "libwebp_anim", "-lossless", "0", "-q:v", strconv.Itoa(max(5, 70-6*l.Worse)), "-compression_level", "3", "-loop", "0"}
	}
	return []string{"-c:v", "libx264", "-preset", "veryfast", "-crf", strconv.Itoa(min(48, 22+2*l.Worse)), "-g", "150", "-pix_fmt", "yuv420p", "-c:a", "aac", "-b:a", "128k", "-movflags", "+faststart"}
}

// Writer takes pictures, one after the other, and makes a file of them.
type Writer struct {
	size image.Point
	in   io.WriteCloser
	wait func() error
}

// Write begins a file of pictures of a size at a steady rate. Sound is a file of sound that goes with them; "" is none.
// Odd sizes get a line more, as the codecs want even ones. What is made is complete when Close answers nil.
func Write(ctx context.Context, path string, form Form, size image.Point, look Look, sound string) (*Writer, error) {
	return write(ctx, path, size, look.Rate, sound, append([]string{"-vf", even}, form.codec(look)...))
}

func write(ctx context.Context, path string, size image.Point, rate int, sound string, codec []string) (*Writer, error) {
	if !Found() {
		return nil, ErrMissing
	}
	args := append(quiet(), "-f", "rawvideo", "-pix_fmt", "rgba", "-s", fmt.Sprintf("%dx%d", size.X, size.Y), "-r", strconv.Itoa(rate), "-i", "pipe:0")
	args[0] = "-hide_banner" // it reads what it is given
	if sound != "" {
		args = append(args, "-protocol_whitelist", "file,pipe", "-f", "wav", "-i", "file:"+sound, "-map", "0:v", "-map", "1:a")
	}
	args = append(append(args, codec...), "-fflags", "+bitexact", "-flags:v", "+bitexact", "-map_metadata", "-1", path)
	ctx, cancel := context.WithTimeout(ctx, limits.Longest)
	cmd := confined.Command(ctx, limits, "ffmpeg", args...)
	errs := &confined.Limited{Left: 4096}
	cmd.Stderr = errs
	in, err := cmd.StdinPipe()
	if err == nil {
		err = cmd.Start()
	}
	if err != nil {
		cancel()
		return nil, fmt.Errorf("writing moving pictures: %w", err)
	}
	return &Writer{size: size, in: in, wait: func() error {
		defer cancel()
		if err := cmd.Wait(); err != nil {
			return fmt.Errorf("writing moving pictures: %w", told(ctx, err, errs.String()))
		}
		return nil
	}}, nil
}

// Add adds a picture.
func (w *Writer) Add(img *image.RGBA) error {
	if img.Rect.Size() != w.size {
		return fmt.Errorf("a picture of %v among those of %v", img.Rect.Size(), w.size)
	}
	if _, err := w.in.Write(img.Pix); err != nil {
		if failed := w.wait(); failed != nil {
			return failed
		}
		return fmt.Errorf("writing moving pictures: %w", err)
	}
	return nil
}

// Close ends the file.
func (w *Writer) Close() error {
	if err := w.in.Close(); err != nil {
		_ = w.wait() // what went wrong first is told
		return err
	}
	return w.wait()
}

// Master is how pictures are kept from which files are made: with all their colours.
func Master(ctx context.Context, path string, size image.Point, rate int) (*Writer, error) {
	return write(ctx, path, size, rate, "", []string{"-c:v", "libx264rgb", "-preset", "ultrafast", "-crf", "4", "-g", "60"})
}

// Convert makes a file of a master, with sound where there is some and the form has it.
func Convert(ctx context.Context, master, sound, path string, form Form, look Look) error {
	scale := fmt.Sprintf("fps=%d:eof_action=pass", look.Rate)
	if look.Width > 0 {
		scale += fmt.Sprintf(",scale=%d:-1:flags=lanczos", look.Width)
	}
	in := []string{"-protocol_whitelist", "file,pipe", "-f", "matroska", "-i", "file:" + master}
	if form == GIF {
		return gif(ctx, in, path, scale, look)
	}
	if sound != "" && form.Sounds {
		in = append(in, "-protocol_whitelist", "file,pipe", "-f", "wav", "-i", "file:"+sound, "-map", "0:v", "-map", "1:a")
	}
	if form != WebP {
		scale += "," + even
	}
	return run(ctx, append(append(append(in, "-vf", scale), form.codec(look)...), "-fflags", "+bitexact", "-map_metadata", "-1", path)...)
}

// gif makes one in two passes: first the colours, then the pictures in them.
func gif(ctx context.Context, in []string, path, scale string, look Look) error {
	palette := filepath.Join(filepath.Dir(path), "palette.png")
	defer os.Remove(palette)
	colors := max(16, 256>>(look.Worse/2))
	if err := run(ctx, append(in, "-vf", fmt.Sprintf("%s,palettegen=max_colors=%d:stats_mode=diff", scale, colors), palette)...); err != nil {
		return err
	}
	return run(ctx, append(in, "-protocol_whitelist", "file,pipe", "-f", "png_pipe", "-i", "file:"+palette, "-lavfi", scale+"[a];[a][1:v]paletteuse=dither=bayer:bayer_scale=4:diff_mode=rectangle", "-loop", "0", path)...)
}
