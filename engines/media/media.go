// Package media reads and writes moving pictures and sound by ffmpeg, in processes that are limited. It knows nothing
// of figures: it hands out frames as pixels and takes frames as pixels. Where ffmpeg is not installed, ErrMissing says
// so.
package media

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/engines/confined"
)

// Limits of a recording.
const (
	MostBytes  = 500 << 20
	LongestMs  = figure.LongestClip
	mostPixels = 3840 * 2160
	mostRate   = 30 // pictures a second
	leastRate  = 5
)

// limits of one process: what it takes to unpack and encode 4K, and some more time than 10 minutes of it need.
var limits = confined.Limits{Memory: 6 << 30, Longest: 20 * time.Minute, Output: 64 << 20}

// ErrMissing says that ffmpeg is not there.
var ErrMissing = refusal.New("Moving pictures need ffmpeg on the server, which is not installed there. Everything else works; an administrator can install it (Debian's package ffmpeg).")

var refuse = refusal.New

// Found tells whether ffmpeg is there.
func Found() bool {
	for _, name := range []string{"ffmpeg", "ffprobe", "prlimit"} {
		if _, err := exec.LookPath(name); err != nil {
			return false
		}
	}
	return true
}

// Info is what a file of moving pictures is.
type Info struct {
	Width, Height int
	Ms            int     // how long it is, in milliseconds
	Rate          float64 // pictures a second, on average
	Sounds        bool    // whether it has sound
	Type          string  // media type

	codec, sound, pixels string
	turned               bool
}

// container is a kind of file that is taken: what it begins with, and what ffmpeg calls it.
type container struct {
	demuxer string
	is      func([]byte) bool
}

var containers = []container{
	{"mov", func(b []byte) bool {
		return len(b) > 12 && (string(b[4:8]) == "ftyp" || string(b[4:8]) == "moov" || string(b[4:8]) == "wide" || string(b[4:8]) == "mdat")
	}},
	{"matroska", func(b []byte) bool { return bytes.HasPrefix(b, []byte("\x1a\x45\xdf\xa3")) }},
	{"gif", func(b []byte) bool { return bytes.HasPrefix(b, []byte("GIF8")) }},
}

// Moving tells by its first bytes whether a file is one of moving pictures: MP4, MOV, WebM. A GIF may be one: see
// Animated.
func Moving(head []byte) bool {
	return containers[0].is(head) || containers[1].is(head)
}

// Animated tells whether a GIF has more than one picture: whether a second image descriptor follows the first, as
// GIF89a has it.
func Animated(data []byte) bool {
	if !containers[2].is(data) || len(data) < 13 {
		return false
	}
	at := 13
	if data[10]&0x80 != 0 {
		at += 3 << (data[10]&7 + 1)
	}
	seen := 0
	for at < len(data) {
		switch data[at] {
		case 0x21: // an extension: its label, then blocks
			at += 2
		case 0x2c:
			if seen++; seen > 1 {
				return true
			}
			if at+10 >= len(data) {
				return false
			}
			flags := data[at+9]
			at += 10
			if flags&0x80 != 0 {
				at += 3 << (flags&7 + 1)
			}
			at++ // the size of the smallest code
		default:
			return false
		}
		for at < len(data) && data[at] != 0 {
			at += int(data[at]) + 1
		}
		at++
	}
	return false
}

// sniffed is the name of the demuxer for a file. No other is ever used: playlists and the like lead elsewhere.
func sniffed(path string) (string, error) {
	f, err := os.Open(path)
	if err != nil {
		return "", fmt.Errorf("reading a recording: %w", err)
	}
	defer f.Close()
	head := make([]byte, 64)
	n, err := io.ReadFull(f, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return "", fmt.Errorf("reading a recording: %w", err)
	}
	for _, c := range containers {
		if c.is(head[:n]) {
			return c.demuxer, nil
		}
	}
	return "", refuse("This is no moving picture that can be read: MP4, WebM, MOV and GIF can.")
}

// input are ffmpeg's words for a file that is read: by its own kind, and nothing that it may lead to.
func input(path string) ([]string, error) {
	demuxer, err := sniffed(path)
	return []string{"-protocol_whitelist", "file,pipe", "-f", demuxer, "-i", "file:" + path}, err
}

// Probe tells what a file is. The error is a refusal where it can't be used.
func Probe(ctx context.Context, path string) (Info, error) {
	if !Found() {
		return Info{}, ErrMissing
	}
	in, err := input(path)
	if err != nil {
		return Info{}, err
	}
	quick := limits
	quick.Longest = 30 * time.Second
	out, said, err := confined.Run(ctx, quick, "ffprobe", append([]string{
		"-v", "error", "-of", "json", "-show_entries",
		"format=duration,format_name:stream=codec_type,codec_name,pix_fmt,width,height,avg_frame_rate,duration,nb_frames:stream_side_data=rotation:stream_disposition=attached_pic",
	}, in...)...)
	if err != nil {
		return Info{}, told(ctx, err, said)
	}
	var holds struct {
		Format struct {
			Duration string `json:"duration"`
			Name     string `json:"format_name"`
		}
		Streams []struct {
			Type   string `json:"codec_type"`
			Codec  string `json:"codec_name"`
			Pixels string `json:"pix_fmt"`
			Width  int
			Height int
			Rate   string `json:"avg_frame_rate"`
			Turned []struct {
				Rotation float64
			} `json:"side_data_list"`
			Disposition struct {
				Cover int `json:"attached_pic"`
			}
		}
	}
	if err := json.Unmarshal(out, &holds); err != nil {
		return Info{}, refuse("The recording is broken: it does not say what it holds.")
	}
	var info Info
	for _, s := range holds.Streams {
		switch {
		case s.Type == "video" && info.codec == "" && s.Disposition.Cover == 0:
			info.codec, info.pixels, info.Width, info.Height, info.Rate = s.Codec, s.Pixels, s.Width, s.Height, rate(s.Rate)
			for _, t := range s.Turned {
				info.turned = info.turned || t.Rotation != 0
			}
		case s.Type == "audio" && info.sound == "":
			info.sound, info.Sounds = s.Codec, true
		}
	}
	seconds, _ := strconv.ParseFloat(holds.Format.Duration, 64) // 0 where it is not told
	info.Ms = int(math.Round(seconds * 1000))
	info.Type = "video/mp4"
	if strings.Contains(holds.Format.Name, "webm") || strings.Contains(holds.Format.Name, "matroska") {
		info.Type = "video/webm"
	}
	switch {
	case info.codec == "" || info.Width < 1 || info.Height < 1:
		return info, refuse("There are no moving pictures in this file.")
	case info.Width*info.Height > mostPixels:
		return info, refuse("The recording is %d × %d pixels; at most 3840 × 2160 are taken.", info.Width, info.Height)
	case info.Ms > LongestMs+2000:
		return info, refuse("The recording is longer than 10 minutes. Cut it and bring it in again.")
	}
	return info, nil
}

func rate(s string) float64 {
	a, b, _ := strings.Cut(s, "/")
	n, _ := strconv.ParseFloat(a, 64)
	d, _ := strconv.ParseFloat(b, 64)
	if d == 0 || n <= 0 {
		return 0
	}
	return n / d
}

// Steady is how many pictures a second are made of a recording.
func (i Info) Steady() int {
	return int(math.Max(leastRate, math.Min(mostRate, math.Ceil(i.Rate-0.05))))
}

// run runs ffmpeg to its end.
func run(ctx context.Context, args ...string) error {
	_, err := output(ctx, args...)
	return err
}

func output(ctx context.Context, args ...string) ([]byte, error) {
	if !Found() {
		return nil, ErrMissing
	}
	out, said, err := confined.Run(ctx, limits, "ffmpeg", append(quiet(), args...)...)
	if err != nil {
		return nil, told(ctx, err, said)
	}
	return out, nil
}

func quiet() []string {
	return []string{"-nostdin", "-hide_banner", "-v", "error", "-y", "-threads", "2", "-filter_threads", "2"}
}

// told is what went wrong, in words for people where it is the recording's fault.
func told(ctx context.Context, err error, said string) error {
	var exit *exec.ExitError
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case strings.Contains(said, "No space left on device"):
		return refuse("The server’s disk is full. What there was before is kept; tell your administrator, and try again.")
	case errors.As(err, &exit) && (strings.Contains(said, "Broken pipe") || strings.Contains(said, "Conversion failed")):
		return fmt.Errorf("ffmpeg: %s: %w", said, err)
	case errors.Is(err, confined.ErrTooMuch), errors.As(err, &exit):
		return refuse("The recording is broken, or takes too long to read.")
	}
	return fmt.Errorf("running ffmpeg: %w", err)
}

func seconds(ms int) string { return strconv.FormatFloat(float64(ms)/1000, 'f', 3, 64) }
