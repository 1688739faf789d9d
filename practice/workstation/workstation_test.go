package workstation

import (
	"bytes"
	"image"
	"strings"
	"testing"
	"time"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func play(t *testing.T, script string) *Player {
	p := NewPlayer()
	require.NoError(t, p.Play(strings.NewReader(script)))
	return p
}

func (p *Player) element(t *testing.T, name string) capture.Element {
	e, err := p.find(name)
	require.NoError(t, err)
	return e
}

func (p *Player) has(name string) bool {
	_, err := p.find(name)
	return err == nil
}

func TestWhatTheScreenTellsLiesOnTheScreen(t *testing.T) {
	for _, section := range []string{"Receiving", "Rooms", "Moves", "Labels", "Alarms"} {
		s := play(t, "sign in\nclick "+section).Desk.Screen()
		assert.Equal(t, "Lotroom: "+section, s.Windows[0].Title)
		for _, e := range s.Elements {
			assert.NotEmpty(t, e.Role, e.Name)
			assert.NotEmpty(t, e.Name, e.Role)
			assert.True(t, e.Rect.X >= 0 && e.Rect.Y >= 0 && e.Rect.X+e.Rect.W <= Both.W && e.Rect.Y+e.Rect.H <= Both.H, "%s lies at %v", e.Name, e.Rect)
		}
	}
}

func TestTheSameEventsGiveTheSamePixels(t *testing.T) {
	script := "sign in\ntype 24-1187 into Bin card\nclick Room\ntake everything"
	a, b := play(t, script).Shots[0].Image, play(t, script).Shots[0].Image
	assert.True(t, bytes.Equal(a.Pix, b.Pix))
	assert.Equal(t, image.Rect(0, 0, 3200, 1080), a.Rect)
	assert.Equal(t, []image.Rectangle{image.Rect(0, 0, 1920, 1080), image.Rect(1920, 0, 3200, 1024)}, sight.Monitors(a), "the monitors are found by the empty band")
}

func TestMenusCloseWhenAnythingElseIsClicked(t *testing.T) {
	p := play(t, "sign in\nclick Show")
	assert.True(t, p.has("Season plan"))
	require.NoError(t, p.Do("click Receive lot"))
	assert.False(t, p.has("Season plan"))
	assert.True(t, p.has("There is no lot yet. Scan a bin card first."), "and what was clicked is done: an error dialog")
	require.NoError(t, p.Do("click Rooms"))
	assert.True(t, p.has("OK"), "the dialog keeps everything else from being used")
	require.NoError(t, p.Do("key Enter"))
	assert.False(t, p.has("OK"))
	require.NoError(t, p.Do("click Show"))
	require.NoError(t, p.Do("key Escape"))
	assert.False(t, p.has("Season plan"))
}

func TestAFieldCompletesItselfWhenItIsLeft(t *testing.T) {
	p := play(t, "sign in\ntype venn into Grower")
	_, typed, ok := p.Desk.Focused()
	assert.True(t, ok)
	assert.Equal(t, "venn", typed)
	require.NoError(t, p.Do("key Tab"))
	assert.Equal(t, "Vennaker Farm", p.Desk.program.grower)
}

func TestAPasswordIsNeverShownOrTold(t *testing.T) {
	p := play(t, "pointer out\nrecord clicks\ntype ines@pellworth.example into E-mail\ntype sesame into Password\nclick Sign in")
	var said []string
	for _, s := range p.Shots {
		said = append(said, s.About.Words(capture.English).Label())
		if s.About.Action.Element.Secret {
			assert.Empty(t, s.About.Action.Text)
		}
	}
	assert.Equal(t, []string{"Type your e-mail address in E-mail", "Type your password in Password", "Press Sign in"}, said)
	other := play(t, "type ines@pellworth.example into E-mail\ntype orchard-gate-4 into Password\nclick E-mail\ntake window")
	same := play(t, "type ines@pellworth.example into E-mail\ntype sesame into Password\nclick E-mail\ntake window")
	assert.True(t, bytes.Equal(other.Shots[0].Image.Pix, same.Shots[0].Image.Pix))
}

func TestOnlyWhatWasTypedIsTold(t *testing.T) {
	p := play(t, "sign in\nrecord clicks\ntype 24-1187 into Bin card\nkey Tab\ntype 18 into Bins\nclick Receive lot")
	var said []string
	for _, s := range p.Shots {
		said = append(said, s.About.Words(capture.English).Label())
	}
	assert.Equal(t, []string{"Type the lot number in Bin card", "Type the bin count in Bins", "Press Receive lot"}, said,
		"Grower had the keyboard in between, and was filled in by the program")
}

func TestAClickIsTakenBeforeItTakesEffect(t *testing.T) {
	p := play(t, "sign in\ntake window\nrecord clicks\nclick Alarms\nstop recording\ntake window")
	before, clicked, after := p.Shots[0], p.Shots[1], p.Shots[2]
	assert.NotEqual(t, sight.Changed, sight.Compare(before.Image, clicked.Image).Verdict)
	assert.Equal(t, sight.Changed, sight.Compare(clicked.Image, after.Image).Verdict)
	assert.Equal(t, "Alarms", clicked.About.Action.Element.Name)
	r := clicked.About.Action.Element.Rect
	assert.True(t, r.X >= 0 && r.X+r.W <= float64(clicked.Image.Rect.Dx()), "in pixels of the shot")
}

func TestTimeMovesClockCaretAndTooltipOnly(t *testing.T) {
	p := play(t, "sign in\nclick Bins\ntake everything\nwait 61s\ntake everything\nwait 530ms\ntake everything")
	clock := p.element(t, "Clock").Rect
	at := image.Rect(int(clock.X), int(clock.Y), int(clock.X+clock.W), int(clock.Y+clock.H))
	verdict := func(i, j int) sight.Verdict {
		return sight.CompareBut(p.Shots[i].Image, p.Shots[j].Image, []image.Rectangle{at}, nil).Verdict
	}
	assert.Equal(t, sight.Clock, verdict(0, 1))
	assert.Equal(t, sight.Pointer, verdict(1, 2), "the caret blinks")
	assert.Equal(t, sight.Changed, sight.Compare(p.Shots[0].Image, p.Shots[1].Image).Verdict, "a clock nobody knows of is a change")

	p = play(t, "sign in\npoint at Receive lot\ntake window\nwait 2m")
	tip := play(t, "sign in\npoint at Receive lot\nclick Bins\ntake window")
	assert.Equal(t, sight.Changed, sight.Compare(p.Shots[0].Image, tip.Shots[0].Image).Verdict)
	assert.Equal(t, 2*time.Minute, p.Desk.Now().Sub(p.Shots[0].About.Taken.Add(time.Second)))
}

func TestWindowsOverlapAndMove(t *testing.T) {
	p := play(t, "sign in\nclick Show\nclick Season plan")
	assert.False(t, p.has("Bins"), "what lies under another window is not told of")
	require.NoError(t, p.Do("move Season plan 0 300"))
	assert.True(t, p.has("Bins"))
	s := p.Desk.Screen()
	w, _ := s.WindowAt(scene.Point{X: 300, Y: 120})
	assert.Equal(t, "Lotroom: Receiving", w.Title)
	assert.Equal(t, "Season plan", s.Windows[0].Title)
	p.Desk.Press(scene.Point{X: 400, Y: 100})
	assert.Equal(t, "Lotroom: Receiving", p.Desk.Screen().Windows[0].Title, "a click brings a window to the front")
}

func TestALongListIsStitched(t *testing.T) {
	p := play(t, "sign in\ntake page Doors opened")
	require.Len(t, p.Shots, 1)
	img := p.Shots[0].Image
	assert.Equal(t, logRows*int(rowHeight), img.Rect.Dy(), "each row once")

	// A whole window, whose heads and foot stay where they are, gives them once.
	log := p.element(t, "Door log").Rect
	var parts []*image.RGBA
	d := New(Began)
	for range 12 {
		c, err := d.Screen().Cut(capture.Wish{What: capture.Area, Region: &log})
		require.NoError(t, err)
		parts = append(parts, CutOut(d.Image(false), c))
		d.Wheel(log.Center(), 400)
	}
	whole, err := sight.Stitch(parts)
	require.NoError(t, err)
	assert.Equal(t, int(log.H)+11*400, whole.Rect.Dy())
	_, err = sight.Stitch([]*image.RGBA{parts[0], parts[5]})
	assert.ErrorAs(t, err, new(sight.NoOverlap))
	one, err := sight.Stitch([]*image.RGBA{parts[0], parts[0]})
	require.NoError(t, err)
	assert.Equal(t, parts[0].Rect, one.Rect, "nothing was scrolled")
}

func TestWindowsAreGuessedFromPixels(t *testing.T) {
	p := play(t, "sign in\ntake everything")
	found := sight.GuessWindows(p.Shots[0].Image)
	for _, w := range p.Desk.Screen().Windows {
		want := image.Rect(int(w.Rect.X), int(w.Rect.Y), int(w.Rect.X+w.Rect.W), int(w.Rect.Y+w.Rect.H))
		near := false
		for _, r := range found {
			near = near || (r.Inset(-8).Intersect(want) == want && want.Inset(-8).Intersect(r) == r)
		}
		assert.True(t, near, "%s at %v is not among %v", w.Title, want, found)
	}
}

func TestAnOutlineIsTransparentOutside(t *testing.T) {
	d := New(Began)
	c, err := d.Screen().Cut(capture.Wish{What: capture.Outline, Outline: []scene.Point{{X: 100, Y: 100}, {X: 300, Y: 100}, {X: 200, Y: 300}}})
	require.NoError(t, err)
	img := CutOut(d.Image(false), c)
	assert.Zero(t, img.RGBAAt(2, 190).A)
	assert.Equal(t, uint8(255), img.RGBAAt(100, 50).A)
}

func TestScriptsThatAreWrongSayWhere(t *testing.T) {
	for _, bad := range []string{"dance", "click", "take", "take region 1 2 3", "wait soon", "pointer sideways", "start noon", "scroll Bins", "type x into Nowhere"} {
		assert.ErrorContains(t, NewPlayer().Play(strings.NewReader("# fine\n"+bad)), "line 2", bad)
	}
}

func FuzzDo(f *testing.F) {
	for _, line := range []string{"start 10:42", "click Receiving", "type 24-1187", "take window", "key Ctrl+P", "take band 0.3", "drag 1 2 3 4"} {
		f.Add(line)
	}
	f.Fuzz(func(_ *testing.T, line string) {
		_ = NewPlayer().Do(line) // a line that is none is an error, whatever it holds
	})
}
