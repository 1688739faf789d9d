package page_test

import (
	"context"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/page"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/engines/fonts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestLinesThatReadFromRightToLeftEndAtTheRight sets a paragraph that is broken into lines, with a word of another
// direction and a link in it.
func TestLinesThatReadFromRightToLeftEndAtTheRight(t *testing.T) {
	fonts.Register()
	said := words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: "امسح البطاقة ثم اضغط Enter على "},
		{Type: "text", Text: "لوحة المفاتيح", Marks: []words.Style{{Type: "link", Attrs: &words.Attrs{Href: "https://example.com/"}}}},
		{Type: "text", Text: " " + strings.Repeat("وانتظر قليلا ", 20)},
	}}}}
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "t"}, Blocks: []document.Block{document.NewStep("s", said)}}
	pages, err := page.Lay(context.Background(), page.Request{Story: story.Of(d, nil, nil), Style: style.Default(), Layout: style.Running})
	require.NoError(t, err)
	st := style.Default()
	type line struct{ left, right float64 }
	lines := map[float64]line{}
	latin, link := 0.0, false
	for _, i := range pages.Sheets[0].Items {
		if w := i.Words; w != nil && (w.RTL || w.Text == "Enter") && w.Size == st.Size {
			l, there := lines[w.Baseline]
			if !there {
				l = line{1e9, 0}
			}
			end := w.X + w.Width
			lines[w.Baseline] = line{min(l.left, w.X), max(l.right, end)}
			if w.Text == "Enter" {
				latin = w.X
			}
		}
		if i.Link != nil && i.Link.URL == "https://example.com/" {
			link = true
			assert.Less(t, i.Link.Area.X+i.Link.Area.W, latin, "what is read after a word stands at its left")
		}
	}
	assert.True(t, link)
	require.Greater(t, len(lines), 2)
	w, _ := st.Paper.Size()
	for _, l := range lines {
		assert.InDelta(t, w-st.Margins.Right, l.right, 0.6)
		assert.Greater(t, l.left, st.Margins.Left)
	}
}
