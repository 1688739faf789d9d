package film

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"sync"

	"raconte/core/document"
	"raconte/core/film"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/engines/media"
	"raconte/output"
	"raconte/platform/together"

	"golang.org/x/sync/errgroup"
)

// maker makes one film.
type maker struct {
	in    output.Input
	dir   string
	style style.Style
	told  document.Film
	plan  film.Plan

	mu     sync.Mutex
	speech map[string][]int16 // what is said by a synthetic voice
}

// speak has all that is said spoken, and plans the film by how long that takes.
func (m *maker) speak(ctx context.Context) error {
	m.speech = map[string][]int16{}
	if m.in.Film.Speak != nil && !m.told.Silent {
		guess := Plan(m.in, func(string) (int, bool) { return 0, false })
		if guess.Length > mostLength {
			return errTooLong // before anything is spoken
		}
		group, ctx := errgroup.WithContext(ctx)
		group.SetLimit(2)
		for _, s := range guess.Scenes {
			if s.Said == "" || s.Voice != nil {
				continue
			}
			group.Go(together.Safe(func() error {
				err := m.say(ctx, s.Said)
				if reason, refused := refusal.Reason(err); refused && s.Number != "" {
					return refusal.New("Step %s: %s", s.Number, reason)
				}
				return err
			}))
		}
		if err := group.Wait(); err != nil {
			return err
		}
	}
	told := m.in
	if m.in.Film.Speak == nil {
		told.Story.Film.Silent = true // it is read
	}
	m.plan = Plan(told, func(said string) (int, bool) {
		pcm, there := m.speech[said]
		return media.Ms(len(pcm)), there
	})
	if m.plan.Length > mostLength {
		return errTooLong
	}
	return ctx.Err()
}

func (m *maker) say(ctx context.Context, said string) error {
	data, err := m.in.Film.Speak(ctx, said, m.style.Language, m.told.Pace)
	if err != nil {
		return err
	}
	pcm, err := media.Samples(data)
	if err != nil {
		return fmt.Errorf("speaking: %w", err)
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	m.speech[said] = pcm
	return nil
}

// sound is all that is heard, as a WAV file: what is said, and the sound of clips below it.
func (m *maker) sound(ctx context.Context) (string, error) {
	pcm := media.Pause(m.plan.Length)
	add := func(at int, what []int16, loud int) {
		from := media.At(at)
		for i, s := range what {
			if from+i >= len(pcm) {
				break
			}
			pcm[from+i] = int16(max(-32768, min(32767, int(pcm[from+i])+int(s)*loud/100)))
		}
	}
	for _, s := range m.plan.Scenes {
		if err := ctx.Err(); err != nil {
			return "", err
		}
		switch {
		case s.Voice != nil:
			voice, err := m.voice(ctx, s)
			if err != nil {
				return "", err
			}
			add(s.Start+s.Speaks, voice, 100)
		case s.Said != "":
			add(s.Start+s.Speaks, m.speech[s.Said], 100)
		}
		played := map[string]bool{}
		for _, one := range s.Segments {
			if !one.Clip || played[one.Figure] {
				continue
			}
			played[one.Figure] = true
			heard, err := m.heard(ctx, one.Figure)
			if err != nil {
				return "", err
			}
			loud := 100
			if s.Said != "" || s.Voice != nil {
				loud = 25
			}
			add(s.Start+one.Start, heard, loud)
		}
	}
	path := filepath.Join(m.dir, "sound.wav")
	return path, media.WriteWAV(path, pcm)
}

// voice is what a person has recorded for a scene.
func (m *maker) voice(ctx context.Context, s film.Scene) ([]int16, error) {
	from, err := m.in.Film.Voice(ctx, s.Voice.SHA256)
	if err != nil {
		return nil, refusal.New("What was recorded for step %s is not there any more. Record it again.", s.Number)
	}
	defer from.Close()
	data, err := io.ReadAll(from)
	if err != nil {
		return nil, fmt.Errorf("reading a voice: %w", err)
	}
	return media.Samples(data)
}

// heard is the sound of a clip; nothing of a silent one.
func (m *maker) heard(ctx context.Context, id string) ([]int16, error) {
	f, _, ok := m.in.Story.Figure(id)
	if !ok || f.Clip == nil || (f.Clip.Mute || !f.Clip.Sounds) && f.Clip.Voice == "" || m.in.Clip == nil {
		return nil, nil
	}
	path, err := m.clip(ctx, id)
	if err != nil {
		return nil, err
	}
	out := filepath.Join(m.dir, fileName("heard", id)+".wav")
	if err := media.Mono(ctx, path, out); err != nil {
		return nil, err
	}
	data, err := os.ReadFile(out)
	if err != nil {
		return nil, fmt.Errorf("reading the sound of a clip: %w", err)
	}
	return media.Samples(data)
}

// clip is a finished clip as a file.
func (m *maker) clip(ctx context.Context, id string) (string, error) {
	path := filepath.Join(m.dir, fileName("clip", id)+".mp4")
	if _, err := os.Stat(path); err == nil {
		return path, nil
	}
	c, err := m.in.Clip(ctx, id, "mp4")
	if err != nil {
		return "", err
	}
	defer c.Data.Close()
	to, err := os.Create(path)
	if err != nil {
		return "", fmt.Errorf("reading a clip: %w", err)
	}
	defer to.Close()
	if _, err := io.Copy(to, c.Data); err != nil {
		return "", fmt.Errorf("reading a clip: %w", err)
	}
	return path, nil
}

// fileName is a name of a file for anything.
func fileName(parts ...string) string {
	h := sha256.New()
	for _, p := range parts {
		fmt.Fprintf(h, "%d %s\n", len(p), p)
	}
	return hex.EncodeToString(h.Sum(nil))
}
