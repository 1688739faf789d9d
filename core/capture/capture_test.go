package capture

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func rect(x, y, w, h float64) scene.Rect { return scene.Rect{X: x, Y: y, W: w, H: h} }

// desk is a screen with two monitors, a window that lies on another, and elements in it.
func desk() Screen {
	return Screen{
		W: 3200, H: 1080,
		Monitors: []Monitor{{"main", rect(0, 0, 1920, 1080), 1}, {"side", rect(1920, 0, 1280, 1024), 1}},
		Windows:  []Window{{"Front", rect(400, 300, 800, 600), 20}, {"Back", rect(100, 100, 900, 500), 20}},
		Elements: []Element{
			{Name: "Bins", Role: RoleField, Rect: rect(500, 400, 110, 40), Window: "Front", Asks: "the bin count"},
			{Name: "Pass", Role: RolePassword, Rect: rect(500, 500, 110, 40), Window: "Front"},
		},
	}
}

func TestCutFindsWhatIsMeant(t *testing.T) {
	s := desk()
	at := scene.Point{X: 520, Y: 420}
	region := rect(450, 350, 200, 100)
	for name, c := range map[string]struct {
		wish Wish
		want scene.Rect
		err  error
	}{
		"everything":           {Wish{What: Everything}, rect(0, 0, 3200, 1080), nil},
		"monitor":              {Wish{What: OneMonitor, At: scene.Point{X: 2000, Y: 50}}, rect(1920, 0, 1280, 1024), nil},
		"the front window":     {Wish{What: OneWindow, At: at}, rect(400, 300, 800, 600), nil},
		"with its shadow":      {Wish{What: OneWindow, At: at, Shadow: true}, rect(380, 280, 840, 640), nil},
		"the window behind it": {Wish{What: OneWindow, At: scene.Point{X: 150, Y: 150}}, rect(100, 100, 900, 500), nil},
		"an element":           {Wish{What: OneElement, At: at}, rect(498, 398, 114, 44), nil},
		"a region":             {Wish{What: Area, Region: &region}, region, nil},
		"a region past the edge": {Wish{What: Area, Region: &scene.Rect{X: 3100, Y: 1000, W: 400, H: 400}},
			rect(3100, 1000, 100, 80), nil},
		"an outline": {Wish{What: Outline, Outline: []scene.Point{{X: 10, Y: 20}, {X: 110, Y: 40}, {X: 60, Y: 220}}}, rect(10, 20, 100, 200), nil},
		"no window":  {Wish{What: OneWindow, At: scene.Point{X: 3000, Y: 10}}, scene.Rect{}, ErrNoWindow},
		"no element": {Wish{What: OneElement, At: scene.Point{X: 3000, Y: 10}}, scene.Rect{}, ErrNoElement},
		"no region":  {Wish{What: Area}, scene.Rect{}, ErrNoRegion},
		"a speck":    {Wish{What: Area, Region: &scene.Rect{X: 1, Y: 1, W: 3, H: 3}}, rect(1, 1, 3, 3), ErrTooSmall},
	} {
		got, err := s.Cut(c.wish)
		assert.ErrorIs(t, err, c.err, name)
		assert.Equal(t, c.want, got.Rect, name)
	}
	shared := Screen{W: 1280, H: 720}
	got, err := shared.Cut(Wish{What: OneWindow})
	require.NoError(t, err)
	assert.Equal(t, rect(0, 0, 1280, 720), got.Rect, "where nothing tells windows, what is shared is one")
	assert.Nil(t, got.About.Window)
}

func TestACutTellsPlacesInItsOwnPixels(t *testing.T) {
	s := desk()
	c, err := s.Cut(Wish{What: WindowBand, At: scene.Point{X: 520, Y: 420}, Share: 0.25, Pointer: PointerApart})
	require.NoError(t, err)
	assert.Equal(t, rect(400, 300, 800, 600), c.Rect, "the whole window is kept")
	assert.Equal(t, rect(0, 45, 800, 150), *c.About.Crop, "the band lies around the pointer")
	assert.Equal(t, Pointer{X: 120, Y: 120}, *c.About.Pointer)
	assert.Equal(t, rect(100, 100, 110, 40), c.About.Elements[0].Rect)
	c.Did(Action{Kind: Click, Element: &s.Elements[0]})
	assert.Equal(t, rect(100, 100, 110, 40), c.About.Action.Element.Rect)

	steps := Steps([]Taken{{Shot: "a", Size: figure.Size{W: 800, H: 600}, About: c.About}}, Wording{Language: English}, ids())
	f := steps[0].Figures[0]
	assert.Equal(t, rect(0, 45, 800, 150), *f.Crop)
	assert.Equal(t, []figure.Kind{figure.Box, figure.Pointer}, []figure.Kind{f.Marks[0].Kind, f.Marks[1].Kind})
	assert.NoError(t, document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "x"}, Blocks: steps}.Check())
}

func ids() func() string {
	n := 0
	return func() string { n++; return "id" + strconv.Itoa(n) }
}

func TestSameAreaFollowsItsWindow(t *testing.T) {
	s := desk()
	kept := s.Remember(rect(450, 350, 200, 100))
	assert.Equal(t, "Front", kept.Window)

	s.Windows[0].Rect = rect(1000, 100, 800, 600)
	r, note := s.Again(kept)
	assert.Equal(t, rect(1050, 150, 200, 100), r)
	assert.Empty(t, note)

	s.Windows[0].Rect = rect(3100, 1000, 800, 600)
	r, note = s.Again(kept)
	assert.Equal(t, rect(3000, 980, 200, 100), r, "on the screen, in its size")
	assert.NotEmpty(t, note)

	s.Windows = s.Windows[1:]
	_, note = s.Again(kept)
	assert.Contains(t, note, "Front")

	free := Screen{W: 1000, H: 800}
	kept = free.Remember(rect(600, 500, 300, 200))
	small := Screen{W: 640, H: 480}
	r, note = small.Again(kept)
	assert.Equal(t, rect(340, 280, 300, 200), r)
	assert.NotEmpty(t, note)
}

func TestPickingARegion(t *testing.T) {
	screen := rect(0, 0, 1000, 500)
	p := func(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }
	assert.Equal(t, rect(100, 100, 160, 90), Drag{From: p(100, 100), To: p(260, 150), Ratio: 16.0 / 9}.Rect(screen))
	assert.Equal(t, rect(-0+40, 10, 160, 90), Drag{From: p(200, 100), To: p(60, 10), Ratio: 16.0 / 9}.Rect(screen), "up and to the left")
	wide := Drag{From: p(900, 100), To: p(1200, 400), Ratio: 2}.Rect(screen)
	assert.Equal(t, rect(900, 100, 100, 50), wide, "kept in its ratio where the screen ends")
	assert.Equal(t, rect(800, 300, 200, 200), Drag{To: p(990, 490), W: 200, H: 200}.Rect(screen), "an exact size stays on the screen")
	assert.Equal(t, rect(100, 100, 8, 50), Reshape(rect(100, 100, 50, 50), "e", p(-500, 0), screen))
	assert.Equal(t, rect(90, 95, 60, 55), Reshape(rect(100, 100, 50, 50), "nw", p(-10, -5), screen))
	assert.Equal(t, rect(950, 100, 50, 50), Reshape(rect(100, 100, 50, 50), "", p(5000, 0), screen))
	assert.Equal(t, rect(10, 260, 300, 40), Band(rect(10, 100, 300, 200), 900, 0.2), "a band stays in its window")
}

func TestWordsOfAClickedThing(t *testing.T) {
	for _, c := range []struct {
		act  Action
		want string
	}{
		{Action{Kind: Click, Element: &Element{Name: "Rooms", Role: RoleTab}}, "Choose Rooms."},
		{Action{Kind: Click, Element: &Element{Name: "Receive lot", Role: RoleButton}}, "Press Receive lot."},
		{Action{Kind: Click, Element: &Element{Name: "Below 4 °C", Role: RoleTick}}, "Tick Below 4 °C."},
		{Action{Kind: Click, Element: &Element{Name: "Below 4 °C", Role: RoleTick, On: true}}, "Clear Below 4 °C."},
		{Action{Kind: Click, Element: &Element{Name: "Siren", Role: RoleSwitch, On: true}}, "Turn Siren off."},
		{Action{Kind: Click, Element: &Element{Name: "Room", Role: RoleChoice}}, "Open Room."},
		{Action{Kind: Click, Element: &Element{Name: "Map", Role: "canvas"}}, "Click Map."},
		{Action{Kind: Click}, "Click here."},
		{Action{Kind: Keys, Text: "18", Element: &Element{Name: "Bins", Role: RoleField, Asks: "the bin count"}}, "Type the bin count in Bins."},
		{Action{Kind: Keys, Text: "2026-10-14", Element: &Element{Name: "Picked", Role: RoleField}}, "Type the date in Picked."},
		{Action{Kind: Keys, Text: "hunter2", Element: &Element{Name: "Password", Role: RolePassword}}, "Type your password in Password."},
		{Action{Kind: Keys, Text: "my life story"}, "Type the text."},
		{Action{Kind: RightClick, Element: &Element{Name: "Room 3", Role: RoleRow}}, "Right-click Room 3."},
		{Action{Kind: Shortcut, Text: "F8"}, "Press F8."},
		{Action{Kind: Choose, Text: "Room 4", Element: &Element{Name: "Room", Role: RoleChoice}}, "Choose Room 4 in Room."},
		{Action{Kind: Set, Text: "40", Element: &Element{Name: "Fan", Role: RoleSlider}}, "Set Fan to 40."},
		{Action{Kind: Dragged, Text: "Room 6", Element: &Element{Name: "Lot 18", Role: RoleRow}}, "Drag Lot 18 to Room 6."},
		{Action{Kind: ChooseFile, Element: &Element{Name: "Photo", Role: RoleFile}}, "Choose a file in Photo."},
		{Action{Kind: ScrollTo, Element: &Element{Name: "Alarms", Role: RoleButton}}, "Scroll to Alarms."},
		{Action{Kind: Click, Element: &Element{Role: RoleDrawing}}, "Click in the drawing."},
		{Action{Kind: OtherTab, Text: "Door log"}, "Go to the tab Door log."},
		{Action{Kind: Keys, Text: "14:30", Element: &Element{Name: "Picked at", Role: RoleDate}}, "Enter the date in Picked at."},
	} {
		node := About{Action: &c.act}.Words(English)
		assert.NoError(t, node.Check())
		assert.Equal(t, c.want, strings.TrimSpace(node.Reading(nil)))
	}
	assert.True(t, About{}.Words(English).Empty(), "nothing known, nothing said")
}

func TestAStepShowsAsMuchAsIsWished(t *testing.T) {
	shot := []Taken{{Shot: "a", Size: figure.Size{W: 1280, H: 800}, About: About{Scale: 1, Action: &Action{Kind: Click, Element: &Element{Name: "Rooms", Rect: rect(600, 700, 80, 30)}}}}}
	for show, want := range map[Show]*scene.Rect{
		ShowWhole: nil,
		ShowBand:  new(rect(0, 480, 1280, 320)),
		ShowNear:  new(rect(440, 540, 400, 260)),
	} {
		f := Steps(shot, Wording{Show: show}, ids())[0].Figures[0]
		assert.Equal(t, want, f.Crop, "%q", show)
		assert.Len(t, f.Marks, 1)
	}
}

func TestATitleIsProposed(t *testing.T) {
	taken := func(title, role, name string) Taken {
		return Taken{About: About{Window: &Window{Title: title}, Action: &Action{Kind: Click, Element: &Element{Role: role, Name: name}}}}
	}
	assert.Equal(t, "Receive lot", TitleOf([]Taken{taken("Sign in", RoleButton, "Sign in"), taken("New lot", RoleButton, "Receive lot"), taken("New lot", RoleButton, "Yes, receive"), taken("New lot", RoleTab, "Rooms")}))
	assert.Equal(t, "Rooms", TitleOf([]Taken{taken("New lot", RoleTab, "Rooms"), taken("Rooms", RoleRow, "Room 4")}))
	assert.Empty(t, TitleOf(nil))
}

func TestEveryLanguageHasEverySentence(t *testing.T) {
	places := regexp.MustCompile(`\{\w+\}`)
	of := func(l Language, p phrase) []string {
		found := places.FindAllString(l.phrase(p), -1)
		slices.Sort(found)
		return found
	}
	for _, l := range Languages {
		said := map[string]phrase{}
		for p := range phrases {
			text := l.phrase(p)
			require.NotEmpty(t, text, "%s %d", l, p)
			assert.Equal(t, of(English, p), of(l, p), "%s: %s", l, text)
			if p < aText {
				assert.Regexp(t, `\.$`, text)
			}
			if other, twice := said[text]; twice && !(l == Spanish && other == clickIn && p == click) {
				t.Errorf("%s says %q for two things", l, text)
			}
			said[text] = p
		}
	}
	a := About{Action: &Action{Kind: Keys, Text: "18", Element: &Element{Name: "Kisten", Role: RoleField}}}
	assert.Equal(t, "Geben Sie die Zahl in Kisten ein.", strings.TrimSpace(a.Words(German).Reading(nil)))
	assert.Equal(t, French, LanguageOf("fr-CH"))
	assert.Equal(t, English, LanguageOf("xx"))
}

func TestSecretsAndFloodsAreLeftOut(t *testing.T) {
	a := About{Action: &Action{Kind: Keys, Text: "hunter2", Element: &Element{Name: "Password", Role: RolePassword}}}
	a.Elements = make([]Element, 3000)
	a.Window = &Window{Title: strings.Repeat("x", 9000)}
	got := a.Trimmed()
	assert.Empty(t, got.Action.Text, "not even its length")
	assert.Equal(t, "hunter2", a.Action.Text, "the given one is not changed")
	assert.Len(t, got.Elements, mostElements)
	assert.Len(t, got.Window.Title, longestName)
}

func TestConsecutiveKeysInOneFieldAreOneStep(t *testing.T) {
	bins, room := &Element{Name: "Bins", Role: RoleField}, &Element{Name: "Room", Role: RoleField}
	typed := func(shot, text string, e *Element) Taken {
		return Taken{Shot: shot, Size: figure.Size{W: 100, H: 100}, About: About{Action: &Action{Kind: Keys, Text: text, Element: e}}}
	}
	steps := Steps([]Taken{typed("a", "1", bins), typed("b", "18", bins), typed("c", "6", room), typed("d", "7", bins)}, Wording{Language: English}, ids())
	var shots []string
	for _, s := range steps {
		shots = append(shots, s.Figures[0].Shot)
	}
	assert.Equal(t, []string{"b", "c", "d"}, shots)
	assert.True(t, Apart(typed("b", "18", bins).About, typed("c", "6", room).About))
	assert.False(t, Apart(typed("a", "1", bins).About, typed("b", "18", bins).About))
}

func TestNames(t *testing.T) {
	at := time.Date(2026, 11, 23, 9, 5, 7, 0, time.UTC)
	n := Naming{Pattern: "{date} {time} {window} {n}", Taken: at, Window: "Lots: <24/1187>?", N: 7}
	assert.Equal(t, "2026-11-23 09.05.07 Lots- 24-1187 007", n.Name())
	n.Pattern = "{n:2} {session}"
	n.Session = " ..\u202etxt.exe. "
	assert.Equal(t, "07 ..txt.exe", n.Name())
	for pattern, want := range map[string]string{
		"{date} - {window} - {n}": "2026-11-23 - 007", "{window} {n}": "007", "{n} ({window})": "007", "{window}": "shot",
		"{session}{window}_{n}": "007", "Lots {window}/{n}": "Lots 007",
	} {
		assert.Equal(t, want, Naming{Pattern: pattern, Taken: at, N: 7}.Name(), "no hole where there is no window: %s", pattern)
	}
	for in, want := range map[string]string{"con": "_con", "NUL.txt": "_NUL.txt", "..": "shot", "a\x00b\tc": "abc", "": "shot"} {
		assert.Equal(t, want, SafeName(in), "%q", in)
	}
	assert.LessOrEqual(t, len(SafeName(strings.Repeat("ö", 300))), longestFile)
	assert.Empty(t, CheckPattern(DefaultPattern))
	for _, bad := range []string{"", "{windo}", "{n:x}", strings.Repeat("a", 101)} {
		assert.NotEmpty(t, CheckPattern(bad), bad)
	}
	taken := map[string]bool{"a": true, "a (2)": true}
	assert.Equal(t, "A (3)", Unique("A", func(s string) bool { return taken[s] }))
}

func TestSettling(t *testing.T) {
	s := Settle{Quiet: time.Second}
	began := time.Now()
	var due []int
	for i, seen := range []uint64{1, 1, 2, 3, 3, 3, 3, 3, 3, 4, 3, 3, 3, 3, 3, 3, 9, 9, 9, 9, 9} { // four samples a second
		if s.Look(began.Add(time.Duration(i)*250*time.Millisecond), seen) {
			due = append(due, i)
		}
	}
	assert.Equal(t, []int{7, 20}, due, "once for each state that stays, not again for one that came back")
}

func TestClocksAndEvenFrames(t *testing.T) {
	at := time.Date(2026, 11, 23, 9, 5, 50, 0, time.UTC)
	size := figure.Size{W: 1920, H: 1080}
	known := About{Taken: at, Elements: []Element{{Role: RoleClock, Rect: rect(1800, 0, 60, 30)}}}
	assert.Equal(t, []scene.Rect{rect(1800, 0, 60, 30)}, Clocks(known, known, size))
	assert.Empty(t, Clocks(About{Taken: at}, About{Taken: at.Add(5 * time.Second)}, size), "no minute has passed")
	assert.Len(t, Clocks(About{Taken: at}, About{Taken: at.Add(20 * time.Second)}, size), 4)
	assert.True(t, Uneven(size, figure.Size{W: 1900, H: 1080}))
	assert.False(t, Uneven(size, figure.Size{W: 800, H: 600}))
	assert.False(t, Uneven(size, size))
	assert.Equal(t, words.Plain(""), About{}.Words(English))
}
