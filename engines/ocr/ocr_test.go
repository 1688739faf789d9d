package ocr

import (
	"context"
	"errors"
	"strings"
	"testing"

	"raconte/core/sight"
	"raconte/engines/fonts"
	"raconte/practice/workstation"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// onScreen are the words that are read on what a script of the workstation took.
func onScreen(t *testing.T, script string) []sight.Word {
	r, err := Find(context.Background(), "eng+xxx")
	if errors.Is(err, ErrAbsent) {
		t.Skip("tesseract is not installed here")
	}
	require.NoError(t, err)
	assert.Equal(t, "eng", r.Languages())
	fonts.Register()
	p := workstation.NewPlayer()
	require.NoError(t, p.Play(strings.NewReader(script)))
	words, err := r.Words(context.Background(), p.Shots[0].Image)
	require.NoError(t, err)
	return words
}

func TestWordsOnAScreenAreFound(t *testing.T) {
	found := map[string]bool{}
	for _, w := range onScreen(t, "sign in\nclick Alarms\ntake window") {
		found[w.Text] = true
		assert.True(t, w.Rect.X >= 0 && w.Rect.X+w.Rect.W <= 1440 && w.Rect.H < 200, w.Text)
	}
	for _, want := range []string{"Temperature", "alarms", "siren", "Receiving"} {
		assert.True(t, found[want], "%q is on the screen; found %v", want, found)
	}
}

func TestWhatIsWrittenInAFieldWithAFrameIsReadToo(t *testing.T) {
	words := onScreen(t, "pointer out\ntype ines@pellworth.example into E-mail\ntake window")
	var field, label int
	for _, w := range words {
		if strings.HasPrefix(w.Text, "ines@pellworth.example") { // the caret may be taken for a letter
			field++
			assert.InDelta(t, 192, w.Rect.X, 3)
			assert.InDelta(t, 188, w.Rect.Center().Y, 6)
		}
		if w.Text == "Password" {
			label++
		}
	}
	assert.Equal(t, 1, field, "in %v", words)
	assert.Equal(t, 1, label, "what both ways find is there once")
}

func TestWithoutTesseract(t *testing.T) {
	t.Setenv("PATH", t.TempDir())
	_, err := Find(context.Background(), "eng")
	assert.ErrorIs(t, err, ErrAbsent)
	_, err = Reader{}.Words(context.Background(), nil)
	assert.ErrorIs(t, err, ErrAbsent)
}

func TestTheTableIsReadAndItsNonsenseIsNot(t *testing.T) {
	words := parse([]byte("level\tpage\n5\t1\t1\t1\t1\t1\t10\t20\t30\t12\t96.5\tBins\n5\t1\t1\t1\t1\t2\tx\t20\t30\t12\t96\tbad\n4\t1\t1\t1\t1\t0\t1\t2\t3\t4\t-1\t\n5\t1\t1\t1\t1\t3\t1\t2\t3\t4\t95\t  \n"))
	require.Len(t, words, 1)
	assert.Equal(t, "Bins", words[0].Text)
	assert.Equal(t, 12.0, words[0].Rect.H)
}

func FuzzParse(f *testing.F) {
	f.Add([]byte("5\t1\t1\t1\t1\t1\t10\t20\t30\t40\t96.5\tLot\n"))
	f.Fuzz(func(t *testing.T, table []byte) {
		for _, w := range parse(table) {
			require.NotEmpty(t, w.Text)
		}
	})
}
