package media

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"math"
	"sync"
	"time"

	"raconte/engines/confined"
	"raconte/platform/together"

	"golang.org/x/image/draw"
	"golang.org/x/sync/errgroup"
)

// Frames are the pictures of a recording, one after the other.
type Frames struct {
	Size   image.Point
	Rate   int // pictures a second
	out    io.Reader
	img    *image.RGBA
	wait   func() error
	cancel context.CancelFunc
}

// Open begins to read a recording's pictures, at a steady rate, from a moment on (in milliseconds) and scaled to a
// width; 0 is its own. The caller closes it.
func Open(ctx context.Context, path string, rate, from, width int) (*Frames, error) {
	info, err := Probe(ctx, path)
	if err != nil {
		return nil, err
	}
	return info.open(ctx, path, rate, from, width)
}

func (info Info) open(ctx context.Context, path string, rate, from, width int) (*Frames, error) {
	size := image.Pt(info.Width, info.Height)
	if info.turned {
		size = image.Pt(size.Y, size.X)
	}
	if width > 0 && width < size.X {
		size = image.Pt(width, max(1, int(math.Round(float64(size.Y)*float64(width)/float64(size.X)))))
	}
	in, err := input(path)
	if err != nil {
		return nil, err
	}
	args := quiet()
	if from > 0 {
		args = append(args, "-ss", seconds(from))
	}
	args = append(append(args, in...), "-map", "0:v:0", "-an", "-sn", "-dn",
		"-vf", fmt.Sprintf("fps=%d:start_time=0:eof_action=pass,scale=%d:%d:flags=bicubic", rate, size.X, size.Y), "-f", "rawvideo", "-pix_fmt", "rgba", "pipe:1")
	ctx, cancel := context.WithTimeout(ctx, limits.Longest)
	cmd := confined.Command(ctx, limits, "ffmpeg", args...)
	errs := &confined.Limited{Left: 4096}
	cmd.Stderr = errs
	out, err := cmd.StdoutPipe()
	if err == nil {
		err = cmd.Start()
	}
	if err != nil {
		cancel()
		return nil, fmt.Errorf("reading a recording: %w", err)
	}
	return &Frames{Size: size, Rate: rate, out: out, cancel: cancel, wait: sync.OnceValue(func() error {
		if err := cmd.Wait(); err != nil {
			return told(ctx, err, errs.String())
		}
		return nil
	})}, nil
}

// Next is the next picture; io.EOF after the last. Its pixels are written over by the one after it.
func (f *Frames) Next() (*image.RGBA, error) {
	if f.img == nil {
		f.img = image.NewRGBA(image.Rectangle{Max: f.Size})
	}
	if _, err := io.ReadFull(f.out, f.img.Pix); err != nil {
		if failed := f.wait(); failed != nil { // also where it died between two pictures
			return nil, failed
		}
		return nil, io.EOF
	}
	return f.img, nil
}

// Close ends the reading.
func (f *Frames) Close() {
	f.cancel()
	_ = f.wait() // it was told to end
}

// Frame is what is seen at a moment of a recording, in milliseconds.
func Frame(ctx context.Context, path string, at, width int) (*image.RGBA, error) {
	info, err := Probe(ctx, path)
	if err != nil {
		return nil, err
	}
	return info.frame(ctx, path, at, width)
}

func (info Info) frame(ctx context.Context, path string, at, width int) (*image.RGBA, error) {
	ctx, cancel := context.WithTimeout(ctx, 30*time.Second)
	defer cancel()
	for {
		f, err := info.open(ctx, path, mostRate, at, width)
		if err != nil {
			return nil, err
		}
		img, err := f.Next()
		f.Close()
		switch {
		case err == nil:
			return img, nil
		case !errors.Is(err, io.EOF):
			return nil, err
		case at <= 0:
			return nil, refuse("The recording is broken: none of its pictures can be read.")
		}
		at = max(0, at-500) // past the last picture there is none
	}
}

// Strip is one picture of so many moments of a recording, evenly apart, beside each other, each so high, as a JPEG. It
// asks for one after the other, so that a long recording takes no longer than a short one.
func Strip(ctx context.Context, path string, ms, n, height int) ([]byte, error) {
	info, err := Probe(ctx, path)
	if err != nil {
		return nil, err
	}
	width := max(2, info.Width*height/max(1, info.Height))
	strip := image.NewRGBA(image.Rect(0, 0, n*width, height))
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(2)
	for i := range n {
		group.Go(together.Safe(func() error {
			img, err := info.frame(ctx, path, (2*i+1)*ms/(2*n), width)
			if err != nil {
				return err
			}
			draw.ApproxBiLinear.Scale(strip, image.Rect(i*width, 0, (i+1)*width, height), img, img.Rect, draw.Src, nil)
			return nil
		}))
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, strip, &jpeg.Options{Quality: 80}); err != nil {
		return nil, fmt.Errorf("drawing a strip: %w", err)
	}
	return out.Bytes(), nil
}
