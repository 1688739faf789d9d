package store_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/store"
	"raconte/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func does(id, document string) store.BlockEdit {
	c := content("Do it")
	c.Document = document
	return edit(id, 0, c)
}

// TestNoChainLeadsBackToItselfWhoeverSavesFirst closes a ring of procedures from all sides at once: one save is
// refused.
func TestNoChainLeadsBackToItselfWhoeverSavesFirst(t *testing.T) {
	s, a, _ := start(t)
	const ring = 4
	var ids []string
	for i := range ring {
		d, err := s.Documents.Create(ctx, document.Procedure, fmt.Sprint("P", i), "", a.ID)
		require.NoError(t, err)
		ids = append(ids, d.ID)
	}
	for round := range 6 {
		errs := make([]error, ring)
		var all sync.WaitGroup
		for i := range ring {
			all.Go(func() {
				_, errs[i] = s.Documents.Apply(ctx, ids[i], change(fmt.Sprint("c", round), does(fmt.Sprint("r", round), ids[(i+1)%ring])), a.Viewer())
			})
		}
		all.Wait()
		refused := 0
		for i, err := range errs {
			if err != nil {
				reason, ok := refusal.Reason(err)
				require.True(t, ok, err)
				assert.Contains(t, reason, "lead back")
				refused++
				continue
			}
			undo := does(fmt.Sprint("r", round), ids[(i+1)%ring])
			undo.Base, undo.Removed = 1, true
			_, err := s.Documents.Apply(ctx, ids[i], change(fmt.Sprint("u", round), undo), a.Viewer())
			require.NoError(t, err)
		}
		assert.Equal(t, 1, refused, "one of the ring")
	}
	_, err := s.Documents.Apply(ctx, ids[0], change("self", does("self", ids[0])), a.Viewer())
	assert.ErrorContains(t, err, "lead back")
}

func TestARetiredProcedureIsAFindingWhereItIsLinked(t *testing.T) {
	s, a, part := start(t)
	_, err := s.Documents.Apply(ctx, part.ID, change("c", edit("a", 0, content("Do it"))), a.Viewer())
	require.NoError(t, err)
	whole, err := s.Documents.Create(ctx, document.Procedure, "Whole", "", a.ID)
	require.NoError(t, err)
	_, err = s.Documents.Apply(ctx, whole.ID, change("c", does("a", part.ID)), a.Viewer())
	require.NoError(t, err)
	rules := func() (all []string) {
		findings, err := ready(t, s, whole.ID, a.Viewer())
		require.NoError(t, err)
		for _, f := range findings {
			all = append(all, f.Rule)
		}
		return all
	}
	assert.Contains(t, rules(), "no-revision")
	_, err = ready(t, s, part.ID, a.Viewer())
	require.NoError(t, err)
	assert.Empty(t, rules())
	head, err := s.Documents.Head(ctx, part.ID)
	require.NoError(t, err)
	_, err = s.Releases.SetState(ctx, part.ID, document.Retire, head.Seq, "", a.Viewer())
	require.NoError(t, err)
	from, err := s.Documents.LinkedFrom(ctx, part.ID, a.Viewer())
	require.NoError(t, err)
	require.Len(t, from, 1)
	assert.Equal(t, []any{"Whole", document.Does, false}, []any{from[0].Title, from[0].How, from[0].Draft})
	_, err = s.Documents.Apply(ctx, whole.ID, change("d", edit("b", 0, content("More"))), a.Viewer())
	require.NoError(t, err)
	assert.Contains(t, rules(), "retired-link")
	_, err = s.Documents.Apply(ctx, part.ID, change("d", edit("b", 0, content("More"))), a.Viewer())
	assert.ErrorContains(t, err, "Make it a draft again first")
}

func TestANumberIsGivenOnceAndNeverToAnother(t *testing.T) {
	s, a, d := start(t)
	pattern := document.Pattern("Q-{nn}")
	require.NoError(t, s.Setup.ChangeHouse(ctx, store.HouseChange{Version: 1, Pattern: &pattern}))
	assert.ErrorIs(t, s.Setup.ChangeHouse(ctx, store.HouseChange{Version: 1, Rule: &approval.Rule{}}), store.ErrConflict, "someone else has changed it")
	given := map[string]bool{}
	var mu sync.Mutex
	var all sync.WaitGroup
	for range 8 {
		other, err := s.Documents.Create(ctx, document.Procedure, "P", "", a.ID)
		require.NoError(t, err)
		all.Go(func() {
			got, err := s.Documents.GiveNumber(ctx, other.ID, a.Viewer())
			assert.NoError(t, err)
			mu.Lock()
			given[got.Facts.Number] = true
			mu.Unlock()
		})
	}
	all.Wait()
	assert.Len(t, given, 8, "eight at once get eight numbers")
	facts := func(number string) error {
		head, err := s.Documents.Head(ctx, d.ID)
		require.NoError(t, err)
		f := head.Facts
		f.Number = number
		_, err = s.Documents.Apply(ctx, d.ID, store.Change{ID: "n" + strings.ReplaceAll(number, " ", ""), Facts: &store.FactsEdit{Base: head.FactsVersion, Facts: f}}, a.Viewer())
		return err
	}
	assert.ErrorContains(t, facts("Q-03"), "belongs to another document")
	require.NoError(t, facts("Old 7"))
	assert.ErrorContains(t, facts("Old 8"), "for good")
	copied, err := s.Documents.Duplicate(ctx, d.ID, "", nil, a.ID)
	require.NoError(t, err)
	assert.Empty(t, copied.Facts.Number)
	pattern = "none"
	assert.ErrorContains(t, s.Setup.ChangeHouse(ctx, store.HouseChange{Version: 2, Pattern: &pattern}), "one count")
}

func TestFoldersAreInThreeLevelsAndCloseWhatIsInThem(t *testing.T) {
	s, ines, d := start(t)
	ruben, maud := storetest.Account(t, s, "ruben", access.Reader), storetest.Account(t, s, "maud", access.Administrator)
	put := func(name string, parent *string, open bool, groups ...string) store.Folder {
		f, err := s.Setup.PutFolder(ctx, store.Folder{Name: name, ParentID: parent, Open: open, Groups: groups}, store.Account{})
		require.NoError(t, err)
		return f
	}
	team, err := s.Identity.PutGroup(ctx, store.Group{Name: "Quality", Accounts: []string{ines.ID}}, store.Account{})
	require.NoError(t, err)
	top := put("Top", nil, false, team.ID)
	inner := put("Inner", &top.ID, true)
	deep := put("Deep", &inner.ID, true)
	_, err = s.Setup.PutFolder(ctx, store.Folder{Name: "Deeper", ParentID: &deep.ID, Open: true}, store.Account{})
	assert.ErrorContains(t, err, "at most 3 deep")
	top.ParentID = &deep.ID
	_, err = s.Setup.PutFolder(ctx, top, store.Account{})
	assert.ErrorContains(t, err, "none in itself")
	_, err = s.Setup.PutFolder(ctx, store.Folder{Name: "top", Open: true}, store.Account{})
	assert.ErrorContains(t, err, "already")
	require.NoError(t, s.Setup.Move(ctx, []string{d.ID}, deep.ID, ines.Viewer()))
	assert.ErrorContains(t, s.Setup.DeleteFolder(ctx, deep.ID), "something in the folder")
	closed := func(a store.Account) int {
		ids, err := s.Setup.ClosedTo(ctx, a)
		require.NoError(t, err)
		return len(ids)
	}
	assert.Equal(t, []int{0, 3, 0}, []int{closed(ines), closed(ruben), closed(maud)}, "what lies in a closed folder is closed too")
	require.NoError(t, s.Identity.DeleteGroup(ctx, team.ID))
	assert.Equal(t, 3, closed(ines), "who was in the group loses what it opened")
}

func TestTheSearchFindsWhatTheViewerMayOpen(t *testing.T) {
	s, a, d := start(t)
	shut, err := s.Setup.PutFolder(ctx, store.Folder{Name: "Shut"}, store.Account{})
	require.NoError(t, err)
	secret, err := s.Documents.Create(ctx, document.Procedure, "Secret label", shut.ID, a.ID)
	require.NoError(t, err)
	for _, f := range []struct {
		d    store.Document
		rows []store.Findable
	}{
		{d, []store.Findable{{Words: "Receive a lot"}, {BlockID: "s", Place: 1, Words: "Scan the bin card", Pictured: "Temperature curve"}}},
		{secret, []store.Findable{{Words: "Secret label"}, {BlockID: "s", Place: 1, Words: "Scan the label"}}},
	} {
		for i := range f.rows {
			f.rows[i].DocumentID = f.d.ID
		}
		require.NoError(t, s.Search.PutFindable(ctx, f.d, false, f.rows, true, nil))
	}
	found := func(text string, closed ...string) (all []string) {
		hits, err := s.Search.Search(ctx, store.Query{Text: text, Most: 20}, access.Viewer{Account: a.ID, Role: access.Author, Closed: closed})
		require.NoError(t, err)
		for _, h := range hits {
			all = append(all, strings.TrimSpace(h.Title+" "+h.BlockID))
		}
		return all
	}
	assert.ElementsMatch(t, []string{"Receive a lot s", "Secret label s"}, found("scan"))
	assert.Equal(t, []string{"Receive a lot s"}, found("scan", shut.ID))
	assert.Empty(t, found("secret", shut.ID))
	assert.Equal(t, []string{"Receive a lot"}, found("recieve"), "one letter is wrong")
	assert.Equal(t, []string{"Receive a lot s"}, found("temp"), "the beginning of a word in a picture")
	assert.Empty(t, found("scan nowhere"), "all words are wanted")
	assert.Equal(t, []string{"Secret label", "Secret label s"}, found("label"), "the title first")
	assert.Len(t, found(`"*+-()~<>@`), 2, "signs are no words: all documents")
	hits, err := s.Search.Search(ctx, store.Query{Folder: shut.ID, Most: 20}, a.Viewer())
	require.NoError(t, err)
	assert.Len(t, hits, 1)
	require.NoError(t, s.Search.Pin(ctx, a.ID, secret.ID, true))
	hits, err = s.Search.Search(ctx, store.Query{Most: 20}, a.Viewer())
	require.NoError(t, err)
	assert.Equal(t, "Secret label", hits[0].Title, "what is pinned stands first")
}
