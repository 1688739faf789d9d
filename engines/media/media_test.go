package media_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/gif"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/engines/media"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// made is a test picture of ffmpeg's own, two seconds long, made with the words given.
func made(t *testing.T, name string, words ...string) string {
	path := filepath.Join(t.TempDir(), name)
	args := append([]string{"-v", "error", "-f", "lavfi", "-i", "testsrc=size=161x91:rate=10:duration=2", "-f", "lavfi", "-i", "sine=duration=2"}, words...)
	out, err := exec.Command("ffmpeg", append(args, path)...).CombinedOutput()
	require.NoError(t, err, string(out))
	return path
}

// TestRecordingsOfEveryKindBecomeWhatBrowsersPlay takes some that do and some that do not.
func TestRecordingsOfEveryKindBecomeWhatBrowsersPlay(t *testing.T) {
	for name, words := range map[string][]string{
		"mpeg4.mov": {"-c:v", "mpeg4", "-c:a", "pcm_s16le"}, "odd.mp4": {"-c:v", "libx264", "-pix_fmt", "yuv444p"},
		"vp9.webm": {"-c:v", "libvpx-vp9", "-deadline", "realtime"}, "old.webm": {"-c:v", "libvpx", "-c:a", "libvorbis"},
		"moving.gif": {"-map", "0:v"}, "titled.mp4": {"-c:v", "libx264", "-pix_fmt", "yuv420p", "-vf", "scale=160:90", "-metadata", "title=secret", "-metadata", "location=+51-000/"},
	} {
		in := made(t, name, words...)
		path, info, err := media.Take(t.Context(), in, t.TempDir())
		require.NoError(t, err, name)
		assert.InDelta(t, 2000, info.Ms, 110, name)
		assert.Equal(t, name != "moving.gif", info.Sounds, name)
		assert.Contains(t, []string{"video/mp4", "video/webm"}, info.Type)
		codec, err := exec.Command("ffprobe", "-v", "error", "-select_streams", "v", "-show_entries", "stream=codec_name,pix_fmt:format_tags", "-of", "csv", path).Output()
		require.NoError(t, err)
		assert.Regexp(t, `(h264|vp8|vp9),yuv420p`, string(codec), name)
		assert.NotContains(t, string(codec), "secret", name)
		img, err := media.Frame(t.Context(), path, 5000, 0)
		require.NoError(t, err, "past its end its last picture is seen")
		assert.InDelta(t, 161, img.Rect.Dx(), 1, name)
	}
	_, _, err := media.Take(t.Context(), made(t, "sound.mp4", "-map", "1:a", "-c:a", "aac"), t.TempDir())
	_, refused := refusal.Reason(err)
	assert.True(t, refused, "sound alone is no clip: %v", err)
	long := filepath.Join(t.TempDir(), "long.mp4")
	out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=size=32x32:rate=1:duration=700", "-c:v", "libx264", "-preset", "ultrafast", long).CombinedOutput()
	require.NoError(t, err, string(out))
	_, err = media.Probe(t.Context(), long)
	assert.ErrorContains(t, err, "10 minutes")
}

// Of a program that hardly moves, a recorder writes one picture, or a few at once.
func TestARecordingOfAMomentHasAPicture(t *testing.T) {
	path := made(t, "moment.webm", "-map", "0:v", "-frames:v", "2", "-c:v", "libvpx")
	for _, rate := range []int{1, 4, 30} {
		f, err := media.Open(t.Context(), path, rate, 0, 0)
		require.NoError(t, err)
		img, err := f.Next()
		require.NoError(t, err, "at %d a second", rate)
		assert.Equal(t, 161, img.Rect.Dx())
		f.Close()
	}
}

func TestAGIFMovesWhereItHasMorePicturesThanOne(t *testing.T) {
	frame := image.NewPaletted(image.Rect(0, 0, 9, 9), color.Palette{color.Black, color.White})
	for n := 1; n <= 3; n++ {
		g := gif.GIF{}
		for range n {
			g.Image, g.Delay = append(g.Image, frame), append(g.Delay, 5)
		}
		var b bytes.Buffer
		require.NoError(t, gif.EncodeAll(&b, &g))
		assert.Equal(t, n > 1, media.Animated(b.Bytes()), n)
		for cut := range b.Len() {
			media.Animated(b.Bytes()[:cut]) // whatever is missing, it comes to an end
		}
	}
}

// TestVoicesAreMadeEven has a loud and a quiet speaker come out alike, with their ends trimmed.
func TestVoicesAreMadeEven(t *testing.T) {
	level := func(volume string) (loud float64, ms int) {
		in, out := filepath.Join(t.TempDir(), "in.webm"), filepath.Join(t.TempDir(), "out.wav")
		said, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "sine=frequency=300:duration=4", "-af", "volume="+volume, "-c:a", "libopus", in).CombinedOutput()
		require.NoError(t, err, string(said))
		ms, err = media.Voice(t.Context(), in, out, figure.Span{From: 1000, To: 3000})
		require.NoError(t, err)
		pcm, err := media.ReadWAV(out)
		require.NoError(t, err)
		for _, s := range pcm {
			loud = max(loud, float64(s))
		}
		return loud, ms
	}
	quiet, ms := level("0.05")
	loud, _ := level("2")
	assert.InDelta(t, 2000, ms, 40)
	assert.InDelta(t, 1, quiet/loud, 0.25)
	_, err := media.Samples([]byte("RIFF....WAVEfmt "))
	assert.Error(t, err)
	bad := filepath.Join(t.TempDir(), "bad")
	require.NoError(t, os.WriteFile(bad, []byte("no sound"), 0o600))
	_, err = media.Voice(t.Context(), bad, bad+".wav", figure.Span{})
	assert.Error(t, err)

	// A voice is what its bytes say, and leads nowhere; what it says of itself is looked at before anything of it is read.
	secret := filepath.Join(t.TempDir(), "other.wav")
	require.NoError(t, media.WriteWAV(secret, make([]int16, 48000)))
	wav, err := os.ReadFile(secret)
	require.NoError(t, err)
	slow, fast := append([]byte{}, wav...), append([]byte{}, wav...)
	binary.LittleEndian.PutUint32(slow[24:], 1)
	binary.LittleEndian.PutUint32(fast[24:], 1<<31)
	for name, data := range map[string][]byte{
		"a playlist":           []byte("#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n" + secret + "\n#EXT-X-ENDLIST\n"),
		"a list of files":      []byte("ffconcat version 1.0\nfile " + secret + "\n"),
		"one sample":           slow,
		"two thousand million": fast,
	} {
		require.NoError(t, os.WriteFile(bad, data, 0o600))
		began := time.Now()
		_, err = media.Voice(t.Context(), bad, bad+".wav", figure.Span{})
		_, refused := refusal.Reason(err)
		assert.True(t, refused, "%s: %v after %s", name, err, time.Since(began))
	}
}

func TestAReaderThatDiesBetweenTwoPicturesIsNotTheEnd(t *testing.T) {
	in := made(t, "cut.mp4", "-c:v", "libx264", "-pix_fmt", "yuv444p")
	path, info, err := media.Take(t.Context(), in, t.TempDir())
	require.NoError(t, err)
	real, err := exec.LookPath("ffmpeg")
	require.NoError(t, err)
	// It gives one whole picture, and ends as one does that was killed.
	dir := t.TempDir()
	script := fmt.Sprintf("#!/bin/sh\ncase \"$*\" in *rawvideo*) head -c %d /dev/zero; exit 137;; esac\nexec %s \"$@\"\n", 4*info.Width*info.Height, real)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "ffmpeg"), []byte(script), 0o700))
	t.Setenv("PATH", dir+":"+os.Getenv("PATH"))
	frames, err := media.Open(t.Context(), path, 10, 0, 0)
	require.NoError(t, err)
	defer frames.Close()
	_, err = frames.Next()
	require.NoError(t, err)
	_, err = frames.Next()
	require.Error(t, err)
	assert.NotErrorIs(t, err, io.EOF)
}
