package works_test

import (
	"strings"
	"testing"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func written(state document.State, revision int) store.Whole {
	return store.Whole{
		Revised: true, // no style is asked for
		Document: store.Document{ID: "d1", Title: "Move a lot", Facts: document.Facts{Title: "Move a lot"}, Kind: document.Procedure, State: state, Revision: revision,
			ChangedName: "Ines Brackwater", ChangedAt: time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)},
		Rows:  []store.Block{{ID: "a", Content: document.NewStep("a", words.Plain("Open Rooms."), figure.Figure{ID: "f", Shot: "s"}).Content}},
		Shots: []store.Shot{{ID: "s", Width: 400, Height: 300}},
	}
}

func said(t *testing.T, house *store.Store, w store.Whole) string {
	pages, err := (&works.Works{Store: house, Address: "http://house.example", House: "Pellworth"}).Pages(t.Context(), w, style.Running)
	require.NoError(t, err)
	all := ""
	for _, item := range pages.Sheets[0].Items {
		switch {
		case item.Words != nil:
			all += item.Words.Text + "\n"
		case item.Link != nil:
			all += item.Link.URL + "\n"
		case item.Picture != nil:
			assert.InDelta(t, 4.0/3, item.Picture.Target.W/item.Picture.Target.H, 0.01, "the picture keeps its shape")
			all += item.Picture.Alt + "\n"
		}
	}
	return all
}

func TestThePagesSayWhatTheyAre(t *testing.T) {
	house := storetest.Open(t)
	house.In(time.UTC)
	draft := said(t, house, written(document.Draft, 3))
	for _, part := range []string{"Draft, 1 step. Changed by Ines Brackwater on 2 March 2026.", "DRAFT: not ready for use",
		"http://house.example/d/d1", "Pellworth · Move a lot", "Picture: Open Rooms", "Page 1 of 1"} {
		assert.Contains(t, draft, part)
	}
	report := written(document.Draft, 0)
	report.Kind = document.Report
	assert.Contains(t, said(t, house, report), "\n1 step. Changed by Ines Brackwater")
	assert.NotContains(t, strings.ToLower(said(t, house, report)), "draft", "what is sent is no draft")
	ready := said(t, house, written(document.Ready, 3))
	assert.Contains(t, ready, "Revision 3, 1 step.")
	assert.NotContains(t, ready, "DRAFT")
}
