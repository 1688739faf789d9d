package story

import (
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func TestAReaderIsToldWhatMarkersAreAndWhereReferencesLead(t *testing.T) {
	refers := func(to string, kind words.Kind) words.Node {
		return words.Node{Type: "reference", Text: "it", Attrs: &words.Attrs{To: to, Kind: kind}}
	}
	content := []words.Node{
		{Type: "markerRef", Attrs: &words.Attrs{Mark: "m1"}}, {Type: "markerRef", Attrs: &words.Attrs{Mark: "gone"}},
		refers("m2", words.ToMark), refers("d1", words.ToDocument), refers("gone", words.ToStep),
	}
	first := Block{ID: "a", Words: words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: content}}}, Tags: map[string]figure.Tag{"m1": {Label: "B"}}}
	second := Block{ID: "b", Figures: []Figure{{Figure: figure.Figure{Marks: []figure.Mark{{ID: "m2"}}}}}}
	s := Story{Blocks: []Block{first, second}, Others: document.Around{"d1": {Address: "http://house.example/d/d1"}}}
	var got heard
	s.Reader().Walk(first, &got)
	assert.Equal(t, heard{{Text: "B", Marker: "m1"}, {Text: "?", Marker: "gone"}, {Text: "it", To: "m2", Kind: words.ToMark, Inside: "b"},
		{Text: "it", To: "d1", Kind: words.ToDocument, Link: "http://house.example/d/d1"}, {Text: "it", To: "gone", Kind: words.ToStep}}, got)
	got = nil
	s.Only([]string{"a"}).Reader().Walk(first, &got)
	assert.Empty(t, got[2].Inside, "what was left out is led to no more")
}

// heard are the spans of which a visitor is told.
type heard []words.Span

func (all *heard) Paragraph(p words.Paragraph) { *all = append(*all, p.Spans...) }
func (*heard) Open(words.List)                 {}
func (*heard) Close(words.List)                {}
func (*heard) Table(words.Table)               {}
