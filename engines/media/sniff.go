package media

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strconv"
	"time"

	"raconte/engines/confined"
)

// sounds are the kinds of files of sound that are taken besides those of moving pictures.
var sounds = []container{
	{"wav", func(b []byte) bool { return len(b) > 12 && string(b[:4]) == "RIFF" && string(b[8:12]) == "WAVE" }},
	{"ogg", func(b []byte) bool { return bytes.HasPrefix(b, []byte("OggS")) }},
	{"flac", func(b []byte) bool { return bytes.HasPrefix(b, []byte("fLaC")) }},
	{"mp3", func(b []byte) bool {
		return bytes.HasPrefix(b, []byte("ID3")) || len(b) > 2 && b[0] == 0xff && b[1]&0xe6 == 0xe2
	}},
	{"aac", func(b []byte) bool { return len(b) > 2 && b[0] == 0xff && b[1]&0xf6 == 0xf0 }},
}

// What is taken of a sound: samples a second, channels, and how long it is.
const (
	leastSamples = 4_000
	mostSamples  = 384_000
	mostChannels = 8
)

// soundInput are ffmpeg's words for a file of sound: read as the kind that its bytes say, and as nothing that it may
// lead to, as playlists do. What it says of itself is looked at first.
func soundInput(ctx context.Context, path string) ([]string, error) {
	if !Found() {
		return nil, ErrMissing
	}
	f, err := os.Open(path)
	if err != nil {
		return nil, fmt.Errorf("reading a sound: %w", err)
	}
	head := make([]byte, 64)
	n, err := io.ReadFull(f, head)
	f.Close()
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return nil, fmt.Errorf("reading a sound: %w", err)
	}
	demuxer := ""
	for _, c := range append(sounds, containers[:2]...) {
		if c.is(head[:n]) {
			demuxer = c.demuxer
			break
		}
	}
	if demuxer == "" {
		return nil, refuse("This is no sound that can be read: WAV, MP3, Ogg, FLAC, AAC, MP4 and WebM can.")
	}
	in := []string{"-protocol_whitelist", "file,pipe", "-f", demuxer, "-i", "file:" + path}
	return in, checkSound(ctx, in)
}

// checkSound refuses a sound by what it says of itself.
func checkSound(ctx context.Context, in []string) error {
	quick := confined.Limits{Memory: 1 << 30, Longest: 15 * time.Second, Output: 1 << 20}
	out, said, err := confined.Run(ctx, quick, "ffprobe", append([]string{"-v", "error", "-of", "json", "-select_streams", "a:0", "-show_entries", "stream=sample_rate,channels:format=duration"}, in...)...)
	if err != nil {
		return told(ctx, err, said)
	}
	var holds struct {
		Streams []struct {
			Rate     string `json:"sample_rate"`
			Channels int
		}
		Format struct{ Duration string }
	}
	if err := json.Unmarshal(out, &holds); err != nil || len(holds.Streams) == 0 {
		return refuse("There is no sound in this file.")
	}
	rate, err := strconv.Atoi(holds.Streams[0].Rate)
	seconds, _ := strconv.ParseFloat(holds.Format.Duration, 64) // 0 where it is not told
	switch {
	case err != nil || rate < leastSamples || rate > mostSamples:
		return refuse("The sound has %s samples a second; between %d and %d are read.", holds.Streams[0].Rate, leastSamples, mostSamples)
	case holds.Streams[0].Channels > mostChannels:
		return refuse("The sound has more than %d channels.", mostChannels)
	case seconds > LongestMs*6/1000:
		return refuse("The sound is longer than an hour.")
	}
	return nil
}
