package film_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	plans "raconte/core/film"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/engines/media"
	"raconte/output"
	"raconte/output/film"
	"raconte/output/picture"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// parts keeps parts in memory and counts those that are made.
type parts struct {
	mu   sync.Mutex
	kept map[string][]byte
	made int
}

func (p *parts) Fetch(_ context.Context, name, path string) (bool, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	data, there := p.kept[name]
	if !there {
		return false, nil
	}
	return true, os.WriteFile(path, data, 0o600)
}

func (p *parts) KeepPart(_ context.Context, name, path string) error {
	data, err := os.ReadFile(path)
	p.mu.Lock()
	defer p.mu.Unlock()
	p.kept[name] = data
	p.made++
	return err
}

var colors = []color.RGBA{{200, 40, 40, 255}, {40, 160, 60, 255}, {40, 60, 200, 255}}

// filmed is a film of a step for each colour, without a voice, as a file of a kind.
func filmed(t *testing.T, ctx context.Context, kind string, p *parts, change func(*document.Document)) (string, plans.Plan, error) {
	shots, sizes := map[string]*image.RGBA{}, map[string]figure.Size{}
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Colours", Film: &document.Film{Size: "720p", Captions: "both"}}}
	for i, c := range colors {
		id := fmt.Sprint("s", i)
		img := image.NewRGBA(image.Rect(0, 0, 800, 450))
		draw.Draw(img, img.Rect, image.NewUniform(c), image.Point{}, draw.Src)
		shots[id], sizes[id] = img, figure.Size{W: 800, H: 450}
		d.Blocks = append(d.Blocks, document.NewStep(fmt.Sprint("b", i), words.Plain(fmt.Sprintf("This is colour %d of three.", i+1)), figure.Figure{ID: fmt.Sprint("f", i), Shot: id, Marks: []figure.Mark{}}))
	}
	change(&d)
	in := output.Input{Story: story.Of(d, nil, nil), Edition: output.Edition{Style: style.Default()}, Progress: func(int, int) {}, Film: output.Film{Sizes: sizes, Parts: p,
		Drawn: func(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
			return picture.Flatten(ctx, f.Still(first), shots, first, width)
		}}}
	told := in
	told.Story.Film.Silent = true
	var out bytes.Buffer
	err := film.Format{Kind: kind}.Write(ctx, &out, in, output.Options{})
	path := filepath.Join(t.TempDir(), "film."+film.Format{Kind: kind}.About().Extension)
	require.NoError(t, os.WriteFile(path, out.Bytes(), 0o600))
	return path, film.Plan(told, func(string) (int, bool) { return 0, false }), err
}

func TestWhatIsTooLongIsRefusedBeforeItIsSpoken(t *testing.T) {
	spoken := 0
	in := func(steps, letters int) output.Input {
		d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Long", Film: &document.Film{}}}
		for i := range steps {
			b := document.NewStep(fmt.Sprint("b", i), words.Plain("Wait."))
			b.Film = &document.Told{Show: "in", Said: strings.Repeat("a", letters)}
			d.Blocks = append(d.Blocks, b)
		}
		d.Blocks = append(d.Blocks, document.NewStep("last", words.Plain("Go.")))
		d.Blocks[steps].Film = &document.Told{Show: "in"}
		return output.Input{Story: story.Of(d, nil, nil), Edition: output.Edition{Style: style.Default()}, Progress: func(int, int) {}, Film: output.Film{
			Speak: func(context.Context, string, style.Language, int) ([]byte, error) {
				spoken++
				path := filepath.Join(t.TempDir(), "a.wav")
				require.NoError(t, media.WriteWAV(path, media.Pause(500)))
				return os.ReadFile(path)
			}}}
	}
	err := film.Format{Kind: film.Transcript}.Write(t.Context(), io.Discard, in(30, plans.LongestSaid), output.Options{})
	assert.ErrorContains(t, err, "longer than two hours")
	assert.Zero(t, spoken)
	require.NoError(t, film.Format{Kind: film.Transcript}.Write(t.Context(), io.Discard, in(1, plans.LongestSaid+1), output.Options{}))
	assert.Equal(t, 2, spoken, "the title and the other step: one that is too long stops itself alone")
	plan := film.Plan(in(1, plans.LongestSaid+1), func(string) (int, bool) { return 500, true })
	assert.Contains(t, plan.Scenes[1].Missing, "is not spoken")
	assert.Empty(t, plan.Scenes[2].Missing)
}

func TestAFilmShowsEachStepInItsTime(t *testing.T) {
	for _, kind := range []string{film.MP4, film.WebM} {
		path, plan, err := filmed(t, t.Context(), kind, &parts{kept: map[string][]byte{}}, func(*document.Document) {})
		require.NoError(t, err)
		info, err := media.Probe(t.Context(), path)
		require.NoError(t, err)
		assert.InDelta(t, plan.Length, info.Ms, 100, kind)
		for i, s := range plan.Scenes[1:] {
			for _, at := range []int{s.Start + 300, s.Start + s.Length - 300} {
				img, err := media.Frame(t.Context(), path, at, 0)
				require.NoError(t, err)
				c := img.RGBAAt(640, 300)
				assert.InDelta(t, colors[i].R, c.R, 14, "%s at %d ms", kind, at)
				assert.InDelta(t, colors[i].B, c.B, 14, "%s at %d ms", kind, at)
			}
			img, err := media.Frame(t.Context(), path, s.Start+s.Speaks+300, 0)
			require.NoError(t, err)
			assert.Less(t, img.RGBAAt(20, 710).R, uint8(60), "a caption stands below while it is read")
		}
		out, err := exec.Command("ffprobe", "-v", "error", "-show_entries", "stream=codec_type:chapter_tags=title", "-of", "compact", path).Output()
		require.NoError(t, err)
		assert.Contains(t, string(out), "codec_type=subtitle", kind)
		assert.Equal(t, 4, strings.Count(string(out), "chapter|"), kind)
	}
}

func TestAChangedStepIsMadeAnewAndNothingElse(t *testing.T) {
	p := &parts{kept: map[string][]byte{}}
	_, plan, err := filmed(t, t.Context(), film.MP4, p, func(*document.Document) {})
	require.NoError(t, err)
	all := p.made
	assert.Greater(t, all, 6)
	_, _, err = filmed(t, t.Context(), film.MP4, p, func(*document.Document) {})
	require.NoError(t, err)
	assert.Equal(t, all, p.made, "nothing has changed")
	path, changed, err := filmed(t, t.Context(), film.MP4, p, func(d *document.Document) {
		d.Blocks[1].Words = words.Plain("This one is green, and has come to be said with a good many more words.")
	})
	require.NoError(t, err)
	assert.Less(t, p.made-all, all/2)
	assert.Greater(t, changed.Length, plan.Length)
	info, err := media.Probe(t.Context(), path)
	require.NoError(t, err)
	assert.InDelta(t, changed.Length, info.Ms, 100)
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	_, _, err = filmed(t, ctx, film.MP4, p, func(*document.Document) {})
	assert.ErrorIs(t, err, context.Canceled)
}
