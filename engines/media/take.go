package media

import (
	"context"
	"fmt"
	"os"
	"path/filepath"

	"raconte/core/refusal"
)

// Take makes a recording of a file from outside, as a new file in dir: what browsers play, with its length told and
// turned upright. Pictures that browsers can show are taken as they are. The error is a refusal where the file can't be
// used.
func Take(ctx context.Context, path, dir string) (string, Info, error) {
	info, err := Probe(ctx, path)
	if err != nil {
		return "", info, err
	}
	in, err := input(path)
	if err != nil {
		return "", info, err
	}
	args := append(in, "-map", "0:v:0", "-map", "0:a:0?", "-map_metadata", "-1", "-map_chapters", "-1", "-dn", "-sn", "-t", seconds(LongestMs))
	ending := "mp4"
	switch {
	case info.codec == "h264" && info.pixels == "yuv420p" && !info.turned:
		args = append(args, "-c:v", "copy")
	case (info.codec == "vp8" || info.codec == "vp9" || info.codec == "av1") && info.pixels == "yuv420p" && !info.turned:
		ending, args = "webm", append(args, "-c:v", "copy")
	default:
		args = append(args, "-fps_mode", "vfr", "-vf", fmt.Sprintf("fps=fps='min(%d,source_fps)':eof_action=pass,%s", mostRate, even), "-c:v", "libx264", "-preset", "veryfast", "-crf", "16", "-pix_fmt", "yuv420p")
	}
	switch {
	case ending == "mp4" && (info.sound == "aac" || info.sound == "mp3" || info.sound == "opus"), ending == "webm" && (info.sound == "opus" || info.sound == "vorbis"):
		args = append(args, "-c:a", "copy")
	case ending == "mp4":
		args = append(args, "-c:a", "aac", "-b:a", "128k")
	default:
		args = append(args, "-c:a", "libopus", "-b:a", "96k")
	}
	if ending == "mp4" {
		args = append(args, "-movflags", "+faststart")
	}
	out := filepath.Join(dir, "taken."+ending)
	if err := run(ctx, append(args, out)...); err != nil {
		if _, refused := refusal.Reason(err); !refused && ctx.Err() == nil {
			err = refuse("The recording is broken and can't be read.")
		}
		return "", info, err
	}
	taken, err := Probe(ctx, out)
	if err != nil {
		return "", info, err
	}
	if taken.Ms < 1 {
		return "", info, refuse("The recording is empty: nothing moves in it.")
	}
	taken.Ms = min(taken.Ms, LongestMs)
	if stat, err := os.Stat(out); err != nil || stat.Size() > MostBytes {
		return "", info, refuse("The recording is larger than %d MB.", MostBytes>>20)
	}
	return out, taken, nil
}

// even is a filter that leaves pictures with an even number of pixels each way, as H.264 wants them.
const even = "pad=ceil(iw/2)*2:ceil(ih/2)*2"
