package document

import (
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func TestWordsOfACopiedProcedureReferToItsOwnMarks(t *testing.T) {
	says := words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{{Type: "marker", Attrs: &words.Attrs{Mark: "m"}}}}}}
	figured := func() Document {
		marks := []figure.Mark{
			{ID: "m", Kind: figure.Marker, Points: []scene.Point{{X: 1, Y: 1}}},
			{ID: "w", Kind: figure.Arrow, From: "m", Points: []scene.Point{{}, {X: 9}}},
		}
		return Document{Kind: Procedure, Blocks: []Block{NewStep("a", says, figure.Figure{ID: "f", Shot: "s", Marks: marks})}}
	}
	manual := Document{Kind: Manual, Blocks: []Block{{ID: "c1", Content: Content{Type: Chapter, Document: "one"}}, {ID: "c2", Content: Content{Type: Chapter, Document: "two"}}}}
	whole := manual.Composed(func(Block) (Document, bool) { return figured(), true })
	for _, at := range []int{1, 3} {
		b := whole.Blocks[at]
		marks := b.Figures[0].Marks
		assert.Equal(t, marks[0].ID, b.Words.Content[0].Content[0].Attrs.Mark)
		assert.Equal(t, marks[0].ID, marks[1].From)
	}
	assert.NotEqual(t, whole.Blocks[1].Figures[0].Marks[0].ID, whole.Blocks[3].Figures[0].Marks[0].ID)
}
