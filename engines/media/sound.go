package media

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"time"

	"raconte/core/figure"
	"raconte/engines/confined"
)

// soundRate are the samples a second of all sound that is made.
const soundRate = 48000

// Sound makes the sound of a finished clip: the recording's own, or that of another file from its beginning, cut, held
// and silenced as the clip is. It answers "" where there is none to be heard.
func Sound(ctx context.Context, path, other string, c figure.Clip, dir string) (string, error) {
	if c.Mute && other == "" || !c.Sounds && other == "" {
		return "", nil
	}
	out := filepath.Join(dir, "sound.wav")
	length := seconds(c.Length())
	last := []string{"-ar", strconv.Itoa(soundRate), "-ac", "2", "-c:a", "pcm_s16le", out}
	if other != "" {
		in, err := soundInput(ctx, other)
		if err != nil {
			return "", err
		}
		return out, run(ctx, append(append(in, "-vn", "-af", "apad,atrim=duration="+length), last...)...)
	}
	in, err := input(path)
	if err != nil {
		return "", err
	}
	runs := c.Runs()
	var g strings.Builder
	moving := 0
	for _, r := range runs {
		if r.To > r.From {
			moving++
		}
	}
	fmt.Fprintf(&g, "[0:a:0]aresample=%d:async=1:first_pts=0,aformat=channel_layouts=stereo", soundRate)
	for _, s := range c.Silent {
		fmt.Fprintf(&g, ",volume=0:enable='between(t,%s,%s)'", seconds(s.From), seconds(s.To))
	}
	fmt.Fprintf(&g, ",apad,asplit=%d", max(1, moving))
	for i := range max(1, moving) {
		fmt.Fprintf(&g, "[s%d]", i)
	}
	n := 0
	for i, r := range runs {
		if r.To <= r.From {
			fmt.Fprintf(&g, ";anullsrc=r=%d:cl=stereo,atrim=duration=%s[p%d]", soundRate, seconds(r.Length), i)
			continue
		}
		fmt.Fprintf(&g, ";[s%d]atrim=start=%s:end=%s,asetpts=PTS-STARTPTS%s,apad,atrim=duration=%s[p%d]", n, seconds(r.From), seconds(r.To), tempo(float64(r.To-r.From)/float64(r.Length)), seconds(r.Length), i)
		n++
	}
	g.WriteString(";")
	for i := range runs {
		fmt.Fprintf(&g, "[p%d]", i)
	}
	fmt.Fprintf(&g, "concat=n=%d:v=0:a=1[out]", len(runs))
	return out, run(ctx, append(append(in, "-vn", "-filter_complex", g.String(), "-map", "[out]"), last...)...)
}

// tempo are filters that make sound faster or slower and keep its pitch; one does at most the double or the half.
func tempo(speed float64) string {
	s := ""
	for speed > 2 {
		s, speed = s+",atempo=2", speed/2
	}
	for speed < 0.5 {
		s, speed = s+",atempo=0.5", speed*2
	}
	if speed != 1 {
		s += fmt.Sprintf(",atempo=%.4f", speed)
	}
	return s
}

// Level is a stretch of silence in a sound, in milliseconds.
type Level struct{ From, To int }

var silence = regexp.MustCompile(`silence_(start|end): (-?[0-9.]+)`)

// Silences are the stretches of a sound that are quieter than a level in decibels of full scale for at least so long.
func Silences(ctx context.Context, path string, quieter float64, ms int) ([]Level, error) {
	said, err := heard(ctx, path, fmt.Sprintf("silencedetect=noise=%.1fdB:duration=%s", quieter, seconds(ms)))
	if err != nil {
		return nil, err
	}
	var all []Level
	for _, m := range silence.FindAllStringSubmatch(said, -1) {
		t, _ := strconv.ParseFloat(m[2], 64) // the expression matches numbers
		at := max(0, int(t*1000))
		if m[1] == "start" {
			all = append(all, Level{at, LongestMs * 6})
		} else if len(all) > 0 {
			all[len(all)-1].To = at
		}
	}
	return all, nil
}

// heard is what a filter of sound tells of a file.
func heard(ctx context.Context, path, filter string) (string, error) {
	if !Found() {
		return "", ErrMissing
	}
	l := limits
	l.Longest = 2 * time.Minute
	ctx, cancel := context.WithTimeout(ctx, l.Longest)
	defer cancel()
	in, err := soundInput(ctx, path)
	if err != nil {
		return "", err
	}
	cmd := confined.Command(ctx, l, "ffmpeg", append(append([]string{"-nostdin", "-hide_banner"}, in...), "-vn", "-af", filter, "-f", "null", "-")...)
	said := &confined.Limited{Left: 1 << 20}
	cmd.Stderr = said
	if err := cmd.Run(); err != nil {
		return "", told(ctx, err, said.String())
	}
	return said.String(), nil
}

// Voice makes a spoken recording ready: mono, its loudness made even (EBU R 128, at −18 LUFS), its ends trimmed. In is
// a file that a browser recorded or a WAV file; out is a WAV file of 48,000 samples a second. Its length is in
// milliseconds.
func Voice(ctx context.Context, in, out string, cut figure.Span) (int, error) {
	filter := "aformat=channel_layouts=mono"
	if cut.To > cut.From {
		filter += fmt.Sprintf(",atrim=start=%s:end=%s,asetpts=PTS-STARTPTS", seconds(cut.From), seconds(cut.To))
	}
	said, err := heard(ctx, in, filter+",loudnorm=I=-18:TP=-2:LRA=11:print_format=json")
	if err != nil {
		return 0, err
	}
	filter += ",loudnorm=I=-18:TP=-2:LRA=11:linear=true" + measured(said)
	from, err := soundInput(ctx, in)
	if err != nil {
		return 0, err
	}
	if err := run(ctx, append(from, "-vn", "-af", filter+fmt.Sprintf(",aresample=%d", soundRate), "-ac", "1", "-c:a", "pcm_s16le", "-map_metadata", "-1", "-fflags", "+bitexact", out)...); err != nil {
		return 0, err
	}
	return SoundMs(out)
}

var measuredValue = regexp.MustCompile(`"(input_i|input_tp|input_lra|input_thresh|target_offset)" : "(-?[0-9.]+)"`)

// measured are the words that tell the second pass what the first has heard; none where it was silence.
func measured(said string) string {
	names := map[string]string{"input_i": "measured_I", "input_tp": "measured_TP", "input_lra": "measured_LRA", "input_thresh": "measured_thresh", "target_offset": "offset"}
	out, n := "", 0
	for _, m := range measuredValue.FindAllStringSubmatch(said, -1) {
		out += ":" + names[m[1]] + "=" + m[2]
		n++
	}
	if n != len(names) {
		return ""
	}
	return out
}

// SoundMs is how long a WAV file of this package is, in milliseconds.
func SoundMs(path string) (int, error) {
	pcm, err := ReadWAV(path)
	if err != nil {
		return 0, err
	}
	return len(pcm) * 1000 / soundRate, nil
}

// ReadWAV reads the samples of a mono WAV file of 16 bits.
func ReadWAV(path string) ([]int16, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, fmt.Errorf("reading sound: %w", err)
	}
	return samples(data)
}
