package workstation

import (
	"slices"
	"testing"

	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func played(t *testing.T, commands ...string) Shot {
	p := NewPlayer()
	for _, c := range commands {
		require.NoError(t, p.Do(c), c)
	}
	return p.Shots[len(p.Shots)-1]
}

func texts(words []sight.Word) []string {
	var out []string
	for _, w := range words {
		out = append(out, w.Text)
	}
	return out
}

func TestTheWordsOfAShotStandWhereTheyAreDrawn(t *testing.T) {
	shot := played(t, "sign in", "click Labels", "type 24-1187 into Lot", "take window")
	assert.Subset(t, texts(shot.Words), []string{"Labels", "Receiving", "24-1187"})
	for _, w := range shot.Words {
		x, y := int(w.Rect.X), int(w.Rect.Y)
		require.True(t, x >= 0 && y >= 0 && x+int(w.Rect.W) <= shot.Image.Rect.Dx() && y+int(w.Rect.H) <= shot.Image.Rect.Dy(), "%s lies in the picture", w.Text)
		first := shot.Image.RGBAAt(x, y)
		drawn := false
		for dy := range int(w.Rect.H) {
			for dx := range int(w.Rect.W) {
				drawn = drawn || shot.Image.RGBAAt(x+dx, y+dy) != first
			}
		}
		assert.True(t, drawn, "something is drawn where %q stands", w.Text)
	}
}

func TestSecretsAndWhatIsCoveredAreNoWordsOfAShot(t *testing.T) {
	shot := played(t, "type ines@pellworth.example into E-mail", "type orchard-gate into Password", "take window")
	assert.Contains(t, texts(shot.Words), "ines@pellworth.example")
	for _, w := range shot.Words {
		assert.NotContains(t, w.Text, "orchard")
		assert.NotContains(t, w.Text, "•")
	}
	before := played(t, "sign in", "click Labels", "take window")
	open := played(t, "sign in", "click Labels", "click Printer", "take window")
	gone := slices.DeleteFunc(texts(before.Words), func(s string) bool { return slices.Contains(texts(open.Words), s) })
	assert.Less(t, len(gone), len(before.Words), "what the list does not cover is still there")
	part := played(t, "sign in", "click Labels", "take region 300 200 200 100")
	assert.Less(t, len(part.Words), len(before.Words)/2, "a part has its own words only")
}
