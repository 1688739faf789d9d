package secrets

import (
	"strings"
	"testing"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/reshoot"
	"raconte/core/scene"
	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// row sets words side by side, ten pixels a letter.
func row(text string, y float64) []sight.Word {
	var words []sight.Word
	x := 100.0
	for _, w := range strings.Fields(text) {
		words = append(words, sight.Word{Text: w, Rect: scene.Rect{X: x, Y: y, W: float64(len(w)) * 10, H: 20}})
		x += float64(len(w))*10 + 8
	}
	return words
}

func TestWhatIsSuggested(t *testing.T) {
	for text, want := range map[string]string{
		"Write to ines@pellworth.example today": EMail,
		"Call +44 20 7946 0958 now":             Phone,
		"(020) 7946 0958":                       Phone,
		"Card 4111 1111 1111 1111":              Card,
		"GB82 WEST 1234 5698 7654 32":           IBAN,
		"key sk9A72bQx81LmZ04Tt5vWw3":           Token,
		"Grower Vennaker Farm":                  Own + "vennaker farm",
		"Lot 24-1187, Belle d'Ostrave":          "",
		"12.03.2026 10:31":                      "",
		"2026-11-25":                            "",
		"4111 1111 1111 1112":                   "",
		"GB82 WEST 1234 5698 7654 33":           "",
		"Internationalisation-of-everything":    "",
		"18 bins of 340 kg":                     "",
	} {
		found := Find(row(text, 50), nil, []string{"Vennaker Farm", " "})
		if want == "" {
			assert.Empty(t, found, text)
			continue
		}
		require.Len(t, found, 1, text)
		assert.Equal(t, want, found[0].Why, text)
	}
}

func TestTheSuggestionCoversTheWordsAndNotTheRest(t *testing.T) {
	words := row("Write to ines@pellworth.example today", 50)
	r := Find(words, nil, nil)[0].Rect
	assert.LessOrEqual(t, r.X, words[2].Rect.X)
	assert.GreaterOrEqual(t, r.X+r.W, words[2].Rect.X+words[2].Rect.W)
	assert.Less(t, r.X+r.W, words[3].Rect.X)
	number := row("Card 4111 1111 1111 1111", 50)
	r = Find(number, nil, nil)[0].Rect
	assert.Less(t, r.X, number[1].Rect.X)
	assert.Greater(t, r.X+r.W, number[4].Rect.X+number[4].Rect.W, "all four groups")
	far := append(row("0100 200", 50), sight.Word{Text: "300", Rect: scene.Rect{X: 900, Y: 50, W: 30, H: 20}})
	assert.Len(t, Find(far, nil, nil), 1, "what stands far off is not part of the number")
}

func TestWhatStandsBesideAWordThatNamesASecretIsSuggested(t *testing.T) {
	at := func(text string, x, y float64) sight.Word {
		return sight.Word{Text: text, Rect: scene.Rect{X: x, Y: y, W: float64(len(text)) * 10, H: 20}}
	}
	for text, want := range map[string]string{
		"Password: harvest":            "harvest",
		"Your Kennwort Herbst24!":      "Herbst24!",
		"Mot de passe : octobre":       "octobre",
		"Contraseña = otoño":           "otoño",
		"PIN 4711 of the door":         "4711",
		"API key: abc":                 "abc",
		"Password: ••••••":             "",
		"Forgotten your password?":     "",
		"The token has expired today":  "",
		"Enter the PIN of your card":   "",
		"Spinning 4711 bins":           "",
		"Change the password in Setup": "",
	} {
		words := row(text, 50)
		found := Find(words, nil, nil)
		if want == "" {
			assert.Empty(t, found, text)
			continue
		}
		require.Len(t, found, 1, text)
		for _, w := range words {
			if w.Text == want {
				assert.True(t, Covered(w.Rect, []scene.Rect{found[0].Rect}), text)
			}
		}
	}
	for name, words := range map[string][]sight.Word{
		"in the next cell": {at("Password", 100, 50), at("h4rvest", 400, 50), at("Name", 100, 90), at("Ines", 400, 90)},
		"right below it":   {at("Password", 100, 50), at("h4rvest", 104, 80), at("Cancel", 100, 200)},
		"behind a colon":   {at("Password:", 100, 50), at("harvest", 400, 50)},
	} {
		found := Find(words, nil, nil)
		require.Len(t, found, 1, name)
		assert.Equal(t, Named+"password", found[0].Why, name)
		assert.True(t, Covered(words[1].Rect, []scene.Rect{found[0].Rect}), name)
	}
	assert.Empty(t, Find([]sight.Word{at("Password", 100, 50), at("Cancel", 400, 50)}, nil, nil))
}

func TestPasswordFieldsAreSuggestedWithoutReading(t *testing.T) {
	found := Find(nil, []capture.Element{{Name: "PIN", Role: "password", Rect: scene.Rect{X: 1, Y: 2, W: 3, H: 4}}, {Role: "button"}}, nil)
	require.Len(t, found, 1)
	assert.Equal(t, Suggestion{scene.Rect{X: 1, Y: 2, W: 3, H: 4}, Password}, found[0])
}

func TestASuggestionIsLeftUntilAllOfItIsCovered(t *testing.T) {
	found := []Suggestion{{scene.Rect{X: 100, Y: 100, W: 200, H: 40}, EMail}}
	cover := func(x, y, w, h float64) figure.Mark {
		return figure.Mark{Kind: figure.Concealment, Points: []scene.Point{{X: x + w, Y: y}, {X: x, Y: y + h}}}
	}
	for name, c := range map[string]struct {
		marks []figure.Mark
		left  int
	}{
		"nothing covers it":        {nil, 1},
		"its centre is covered":    {[]figure.Mark{cover(190, 110, 20, 20)}, 1},
		"all but its end":          {[]figure.Mark{cover(90, 90, 190, 60)}, 1},
		"all of it":                {[]figure.Mark{cover(99, 99, 202, 42)}, 0},
		"two halves that touch":    {[]figure.Mark{cover(90, 90, 110, 60), cover(200, 90, 110, 60)}, 0},
		"two halves with a gap":    {[]figure.Mark{cover(90, 90, 100, 60), cover(200, 90, 110, 60)}, 1},
		"a box is no cover":        {[]figure.Mark{{Kind: figure.Box, Points: cover(0, 0, 999, 999).Points}}, 1},
		"a half pixel at its edge": {[]figure.Mark{cover(100.4, 100, 200, 40)}, 0},
	} {
		assert.Len(t, Left(found, figure.Figure{Marks: c.marks}.Still(1)), c.left, name)
	}
}

func TestTheSameIsConcealedInAnotherPicture(t *testing.T) {
	cover := func(id string, x float64) figure.Mark {
		return figure.Mark{ID: id, Kind: figure.Concealment, Points: []scene.Point{{X: x, Y: 0}, {X: x + 10, Y: 10}}, Style: figure.Concealment.Usual()}
	}
	f := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{cover("there", 50)}}
	at := func(x float64) []scene.Point { return []scene.Point{{X: x, Y: 0}, {X: x + 10, Y: 10}} }
	got := Alike(f, []figure.Mark{cover("a", 1), cover("b", 2), cover("c", 3)}, []reshoot.Found{
		{Mark: "a", Sure: reshoot.Yes, Points: at(200)}, {Mark: "b", Sure: reshoot.Lost, Points: at(300)}, {Mark: "c", Sure: reshoot.Perhaps, Points: at(50)},
	}, func() string { return "fresh" })
	assert.Len(t, got.Marks, 2, "not what was not found, nor what is covered already")
	assert.Equal(t, "fresh", got.Marks[1].ID)
	assert.Equal(t, at(200), got.Marks[1].Points)
	assert.Len(t, f.Marks, 1)
}

func TestFacesAreSuggestedWithWhatIsAroundThem(t *testing.T) {
	found := Find(row("Write to ines@pellworth.example today", 50), nil, nil, scene.Rect{X: 300, Y: 400, W: 100, H: 100})
	require.Len(t, found, 2)
	assert.Equal(t, EMail, found[0].Why)
	assert.Equal(t, Suggestion{scene.Rect{X: 285, Y: 385, W: 130, H: 130}, Face}, found[1])
}
