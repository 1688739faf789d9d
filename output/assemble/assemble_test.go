package assemble_test

import (
	"bytes"
	"context"
	"io"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/engines/fonts"
	"raconte/output"
	"raconte/output/assemble"
	"raconte/output/bundle"
	"raconte/output/outputtest"
	"raconte/output/picture"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// refers says "Siehe" and a reference.
func refers(kind words.Kind, to string) words.Node {
	return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: "Siehe "}, {Type: "reference", Attrs: &words.Attrs{Kind: kind, To: to}}}}}}
}

// manual is a bundle of a manual with one chapter, which refers to itself.
func manual(t *testing.T) assemble.Bundle {
	fonts.Register()
	chapter := outputtest.Document(2, "Scan")
	chapter.ID, chapter.Facts.Number = "chapter", "WI-7"
	chapter.Blocks = append(chapter.Blocks, document.NewStep("back", refers(words.ToStep, "s0")))
	m := document.Document{ID: "m", Kind: document.Manual, Facts: document.Facts{Title: "Handbook"}, Blocks: []document.Block{
		document.NewPassage("intro", refers(words.ToDocument, "chapter")),
		{ID: "c", Content: document.Content{Type: document.Chapter, Document: "chapter", Figures: []figure.Figure{}}},
	}}
	in := outputtest.Input(m)
	in.Whole.Chapters = []document.Document{chapter}
	var data bytes.Buffer
	require.NoError(t, bundle.Format{}.Write(t.Context(), &data, in, output.Options{}))
	b, err := bundle.Open(t.Context(), bytes.NewReader(data.Bytes()), int64(data.Len()))
	require.NoError(t, err)
	from, err := assemble.OfBundle(b)
	require.NoError(t, err)
	return from
}

func request(from assemble.Bundle, change func(*assemble.Request)) assemble.Request {
	st := style.Default()
	st.Language = style.German
	r := assemble.Request{Document: from.Whole(), Around: from.Around(), Sizes: from.Sizes, Edition: output.Edition{Style: st}, Progress: func(int, int) {}}
	if change != nil {
		change(&r)
	}
	return r
}

func TestAManualOfABundleIsToldWithItsChaptersInTheLanguageOfItsPages(t *testing.T) {
	from := manual(t)
	in, err := assemble.Input(t.Context(), from, request(from, nil))
	require.NoError(t, err)
	var said []string
	for _, b := range in.Story.Blocks {
		said = append(said, b.Label)
	}
	assert.Contains(t, said, "Siehe WI-7 Lots & rooms", "the chapter is known by its number and title")
	assert.Contains(t, said, "Siehe Schritt 1")
	pages, err := in.Pages(t.Context(), style.Running)
	require.NoError(t, err)
	assert.NotEmpty(t, pages.Sheets)
	shown := ""
	for _, b := range in.Story.Blocks {
		for _, f := range b.Figures {
			shown = f.ID
		}
	}
	file, err := in.Picture(t.Context(), shown, 80)
	require.NoError(t, err)
	assert.Equal(t, "image/png", file.Type, "as its shot is")
	_, err = in.Picture(t.Context(), "no such picture", 80)
	assert.Error(t, err)
}

func TestOnlyTheStepsThatWereChosenAreToldAndNoneIsRefused(t *testing.T) {
	from := manual(t)
	in, err := assemble.Input(t.Context(), from, request(from, func(r *assemble.Request) { r.Document = from.Chapters[0]; r.Steps = []string{"s1"} }))
	require.NoError(t, err)
	require.Len(t, in.Story.Blocks, 1)
	assert.Equal(t, "2", in.Story.Blocks[0].Number, "a step keeps its number")
	_, err = assemble.Input(t.Context(), from, request(from, func(r *assemble.Request) { r.Steps = []string{"gone"} }))
	_, refused := refusal.Reason(err)
	assert.True(t, refused, "%v", err)
}

// full is a source of which no picture can be made.
type full struct{ assemble.Bundle }

func (full) Finished(context.Context, figure.Figure, int, int) (picture.File, error) {
	return picture.File{}, refusal.New("It is too large.")
}

func (full) Voice(context.Context, string) (io.ReadCloser, error) { return nil, io.ErrUnexpectedEOF }

func TestWhatCannotBeMadeIsSaidWithItsStep(t *testing.T) {
	from := manual(t)
	in, err := assemble.Input(t.Context(), full{from}, request(from, func(r *assemble.Request) { r.Document = from.Chapters[0] }))
	require.NoError(t, err)
	_, err = in.Picture(t.Context(), "f1", 80)
	assert.EqualError(t, err, "The picture of step 2 can't be made: It is too large.")
	_, err = in.Film.Voice(t.Context(), "x")
	assert.ErrorIs(t, err, io.ErrUnexpectedEOF)
}
