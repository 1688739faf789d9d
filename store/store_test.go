package store_test

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/readiness"
	"raconte/core/refusal"
	"raconte/core/sight"
	"raconte/core/words"
	"raconte/store"
	"raconte/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func content(text string, shots ...string) document.Content {
	c := document.Content{Type: document.Step, Words: words.Plain(text)}
	for i, s := range shots {
		c.Figures = append(c.Figures, figure.Figure{ID: fmt.Sprint("f", i, s), Shot: s, Alt: "x", Marks: []figure.Mark{}})
	}
	return c
}

func edit(id string, base int, c document.Content) store.BlockEdit {
	return store.BlockEdit{ID: id, Base: base, OrderKey: "00A" + strings.Repeat("0", 2) + id, Content: c}
}

func change(id string, edits ...store.BlockEdit) store.Change {
	return store.Change{ID: id, Blocks: edits}
}

func start(t *testing.T) (*store.Store, store.Account, store.Document) {
	s := storetest.Open(t)
	a := storetest.Account(t, s, "ines", access.Author)
	d, err := s.Documents.Create(ctx, document.Procedure, "Receive a lot", "", a.ID)
	require.NoError(t, err)
	return s, a, d
}

// ready marks a document ready as one who has seen it as it is now.
func ready(t *testing.T, s *store.Store, id string, by access.Viewer) ([]readiness.Finding, error) {
	head, err := s.Documents.Head(ctx, id)
	require.NoError(t, err)
	return s.Releases.SetState(ctx, id, document.Release, head.Seq, "", by)
}

func TestChangesAreAppliedOnceAndAllOrNothing(t *testing.T) {
	s, a, d := start(t)
	c := change("c1", edit("a", 0, content("one")), edit("b", 0, content("two")))
	seq, err := s.Documents.Apply(ctx, d.ID, c, a.Viewer())
	require.NoError(t, err)
	again, err := s.Documents.Apply(ctx, d.ID, c, a.Viewer())
	require.NoError(t, err)
	assert.Equal(t, seq, again, "sent again, nothing more happens")

	_, err = s.Documents.Apply(ctx, d.ID, change("c2", edit("a", 1, content("mine"))), a.Viewer())
	require.NoError(t, err)
	_, err = s.Documents.Apply(ctx, d.ID, change("c3", edit("b", 1, content("lost?")), edit("a", 1, content("stale"))), a.Viewer())
	var conflict store.Conflict
	require.ErrorAs(t, err, &conflict)
	assert.Equal(t, []string{"a"}, conflict.Blocks)
	assert.ErrorIs(t, err, store.ErrConflict)
	w, err := s.Documents.Whole(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "mine", w.Rows[0].Content.Words.Reading(nil))
	assert.Equal(t, "two", w.Rows[1].Content.Words.Reading(nil), "nothing of the refused change was applied")
	assert.Equal(t, 2, w.Steps)

	_, err = s.Documents.Apply(ctx, d.ID, store.Change{ID: "t1", Facts: &store.FactsEdit{Base: 1, Facts: document.Facts{Title: "New"}}}, a.Viewer())
	require.NoError(t, err)
	_, err = s.Documents.Apply(ctx, d.ID, store.Change{ID: "t2", Facts: &store.FactsEdit{Base: 1, Facts: document.Facts{Title: "Stale"}}}, a.Viewer())
	assert.ErrorIs(t, err, store.ErrConflict)
}

func TestSeveralDocumentsAreMadeOrNone(t *testing.T) {
	s := storetest.Open(t)
	by := storetest.Account(t, s, "author", access.Author)
	made := func(failed error) error {
		return s.AllOrNothing(t.Context(), func(ctx context.Context) error {
			for _, title := range []string{"A chapter", "A manual"} {
				_, err := s.Documents.CreateWhole(ctx, document.Document{Kind: document.Procedure, Facts: document.Facts{Title: title}}, "", by.ID)
				require.NoError(t, err)
			}
			return failed
		})
	}
	there := func() (n int) {
		require.NoError(t, s.SQL().QueryRow("SELECT COUNT(*) FROM documents").Scan(&n))
		return n
	}
	failed := errors.New("the last is refused")
	assert.ErrorIs(t, made(failed), failed)
	assert.Zero(t, there())
	require.NoError(t, made(nil))
	assert.Equal(t, 2, there())
}

func TestManyPeopleAtOnceLoseNothing(t *testing.T) {
	s, a, d := start(t)
	var group sync.WaitGroup
	for n := range 8 {
		group.Go(func() {
			for i := range 10 {
				id := fmt.Sprintf("s%d-%d", n, i)
				_, err := s.Documents.Apply(ctx, d.ID, change(id, edit(id, 0, content(id))), a.Viewer())
				assert.NoError(t, err)
			}
		})
	}
	group.Wait()
	w, err := s.Documents.Whole(ctx, d.ID)
	require.NoError(t, err)
	assert.Len(t, w.Rows, 80)
	assert.EqualValues(t, 80, w.Seq)
	rows, err := s.Documents.ChangedBlocks(ctx, d.ID, 75)
	require.NoError(t, err)
	assert.Len(t, rows, 5)
}

// TestTwoPeopleMoveSectionsAtOnce has each carry sections with their steps to other places while a third writes in
// a step, each trying again where another was first: everything is still there once, with all its words.
func TestTwoPeopleMoveSectionsAtOnce(t *testing.T) {
	s, a, d := start(t)
	var all []store.BlockEdit
	for n, key := range document.Arrange(nil, 0, 15).Keys {
		c := content(fmt.Sprint("words ", n))
		if n%5 == 0 {
			c = document.NewSection("", 1, words.Plain(fmt.Sprint("words ", n))).Content
		}
		all = append(all, store.BlockEdit{ID: fmt.Sprintf("b%02d", n), OrderKey: key, Content: c})
	}
	_, err := s.Documents.Apply(ctx, d.ID, change("all", all...), a.Viewer())
	require.NoError(t, err)
	move := func(who, round int) error {
		w, err := s.Documents.Whole(ctx, d.ID)
		if err != nil {
			return err
		}
		var rest []string
		var moved []store.BlockEdit
		for _, row := range w.Rows {
			if n, _ := strconv.Atoi(row.ID[1:]); n/5 == (who+round)%3 {
				moved = append(moved, store.BlockEdit{ID: row.ID, Base: row.Version, Content: row.Content})
			} else {
				rest = append(rest, row.OrderKey)
			}
		}
		for i, key := range document.Arrange(rest, 10*((who+round)%2), 5).Keys {
			moved[i].OrderKey = key
		}
		_, err = s.Documents.Apply(ctx, d.ID, change(fmt.Sprintf("m%d-%d", who, round), moved...), a.Viewer())
		return err
	}
	var group sync.WaitGroup
	for who := range 2 {
		group.Go(func() {
			for round := range 12 {
				err := move(who, round)
				for errors.Is(err, store.ErrConflict) {
					err = move(who, round)
				}
				assert.NoError(t, err)
			}
		})
	}
	group.Go(func() {
		for round := range 20 {
			write := func() error {
				rows, err := s.Documents.BlocksByID(ctx, d.ID, []string{"b03"})
				if err != nil {
					return err
				}
				said := rows[0].Content.Words.Reading(nil) + fmt.Sprint(" ", round)
				_, err = s.Documents.Apply(ctx, d.ID, change(fmt.Sprint("w", round), store.BlockEdit{ID: "b03", Base: rows[0].Version, OrderKey: rows[0].OrderKey, Content: content(said)}), a.Viewer())
				return err
			}
			err := write()
			for errors.Is(err, store.ErrConflict) {
				err = write()
			}
			assert.NoError(t, err)
		}
	})
	group.Wait()
	w, err := s.Documents.Whole(ctx, d.ID)
	require.NoError(t, err)
	require.Len(t, w.Rows, 15)
	for _, row := range w.Rows {
		n, _ := strconv.Atoi(row.ID[1:])
		want := fmt.Sprint("words ", n)
		if n == 3 {
			want += " 0 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16 17 18 19"
			assert.Equal(t, 1+20+8, row.Version, "no one's change took the place of another's")
		}
		assert.Equal(t, want, row.Content.Words.Reading(nil))
	}
}

func TestAStepNeedsItsShots(t *testing.T) {
	s, a, d := start(t)
	_, err := s.Documents.Apply(ctx, d.ID, change("c", edit("a", 0, content("x", "nowhere"))), a.Viewer())
	assert.ErrorAs(t, err, new(refusal.Error))
	w, err := s.Documents.Whole(ctx, d.ID)
	require.NoError(t, err)
	assert.Empty(t, w.Rows)
}

func TestShotsAreRecordedOnceUnderAnID(t *testing.T) {
	s, a, _ := start(t)
	shot := store.Shot{ID: "s1", SHA256: strings.Repeat("a", 64), MediaType: "image/png", Width: 3, Height: 4, Bytes: 5, CreatedBy: a.ID}
	for range 2 {
		_, err := s.Captures.AddShot(ctx, shot)
		require.NoError(t, err)
	}
	shot.SHA256 = strings.Repeat("b", 64)
	_, err := s.Captures.AddShot(ctx, shot)
	assert.ErrorIs(t, err, store.ErrTaken)
}

func TestReadyMakesARevisionThatStays(t *testing.T) {
	s, a, d := start(t)
	findings, err := ready(t, s, d.ID, a.Viewer())
	require.NoError(t, err)
	assert.NotEmpty(t, findings, "a document without steps can't be ready")
	_, err = s.Documents.LastRevision(ctx, d.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)

	_, err = s.Documents.Apply(ctx, d.ID, change("c1", edit("a", 0, content("first"))), a.Viewer())
	require.NoError(t, err)
	findings, err = ready(t, s, d.ID, a.Viewer())
	require.NoError(t, err)
	assert.Empty(t, findings)
	_, err = s.Documents.Apply(ctx, d.ID, change("c2", edit("a", 1, content("second"))), a.Viewer())
	require.NoError(t, err)
	head, err := s.Documents.Head(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, document.Draft, head.State, "edited, it is a draft again")
	w, err := s.Documents.LastRevision(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "first", w.Rows[0].Content.Words.Reading(nil))
	assert.Equal(t, document.Ready, w.State)
}

func TestLibrary(t *testing.T) {
	s, a, d := start(t)
	_, err := s.Documents.Create(ctx, document.Procedure, "100 % of Lots_moved", "", a.ID)
	require.NoError(t, err)
	for query, want := range map[string]int{"": 2, "LOT": 2, "lot receive": 1, "%": 1, "_": 1, "100 moved": 1, "none": 0} {
		docs, err := s.Documents.List(ctx, query, a.Viewer())
		require.NoError(t, err)
		assert.Len(t, docs, want, query)
	}
	docs, err := s.Documents.List(ctx, "", access.Viewer{Account: "r", Role: access.Reader})
	require.NoError(t, err)
	assert.Empty(t, docs, "readers see what has been ready")
	_, err = s.Documents.SetDeleted(ctx, d.ID, true, a.ID)
	require.NoError(t, err)
	_, err = s.Documents.SetDeleted(ctx, d.ID, true, a.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Documents.Apply(ctx, d.ID, change("c", edit("a", 0, content("x"))), a.Viewer())
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Documents.SetDeleted(ctx, d.ID, false, a.ID)
	require.NoError(t, err)
	copied, err := s.Documents.Duplicate(ctx, d.ID, "", nil, a.ID)
	require.NoError(t, err)
	assert.Equal(t, "Copy of Receive a lot", copied.Title)
}

func TestJobsAreClaimedOnceAndCancelled(t *testing.T) {
	s, a, _ := start(t)
	for range 20 {
		_, err := s.Jobs.AddJob(ctx, store.Job{Kind: "deliver", Payload: "{}", Owner: a.ID})
		require.NoError(t, err)
	}
	var mu sync.Mutex
	seen, claimed := map[string]int{}, map[string]store.Job{}
	var group sync.WaitGroup
	for range 6 {
		group.Go(func() {
			for {
				j, err := s.Jobs.ClaimJob(ctx, time.Minute, "deliver")
				if errors.Is(err, store.ErrNotFound) {
					return
				}
				if !assert.NoError(t, err) {
					return
				}
				mu.Lock()
				seen[j.ID]++
				claimed[j.ID] = j
				mu.Unlock()
			}
		})
	}
	group.Wait()
	assert.Len(t, seen, 20)
	for id, n := range seen {
		assert.Equal(t, 1, n)
		require.NoError(t, s.Jobs.CancelJob(ctx, id))
		alive, err := s.Jobs.Progress(ctx, claimed[id], 1, 2)
		require.NoError(t, err)
		assert.False(t, alive, "a cancelled job learns of it")
		require.NoError(t, s.Jobs.FinishJob(ctx, claimed[id], store.Outcome{Result: "late", Bytes: 1}))
		j, err := s.Jobs.Job(ctx, id)
		require.NoError(t, err)
		assert.Equal(t, store.Cancelled, j.State)
	}
}

func TestAJobWhoseWorkerDiedIsTriedAgainButNotForEver(t *testing.T) {
	s, a, _ := start(t)
	j, err := s.Jobs.AddJob(ctx, store.Job{Kind: "deliver", Payload: "{}", Owner: a.ID})
	require.NoError(t, err)
	for range 2 {
		claimed, err := s.Jobs.ClaimJob(ctx, -time.Second, "deliver")
		require.NoError(t, err)
		assert.Equal(t, store.Working, claimed.State)
	}
	last, err := s.Jobs.ClaimJob(ctx, -time.Second, "deliver")
	require.NoError(t, err)
	assert.Equal(t, store.Failed, last.State)
	j, err = s.Jobs.Job(ctx, j.ID)
	require.NoError(t, err)
	assert.NotEmpty(t, j.Error)
	require.NoError(t, s.Jobs.RetryJob(ctx, j.ID), "but a person may try it again")
	again, err := s.Jobs.ClaimJob(ctx, time.Minute, "deliver")
	require.NoError(t, err)
	assert.Equal(t, j.ID, again.ID)
	assert.Equal(t, 1, again.Attempts)
	assert.Empty(t, again.Error)
}

func TestWhoHasLostAJobWritesNothingOfIt(t *testing.T) {
	s, a, _ := start(t)
	added, err := s.Jobs.AddJob(ctx, store.Job{Kind: "deliver", Payload: "{}", Owner: a.ID})
	require.NoError(t, err)
	first, err := s.Jobs.ClaimJob(ctx, time.Minute, "deliver")
	require.NoError(t, err)
	second, err := s.Jobs.ClaimJob(ctx, -time.Second, "deliver") // the first was not heard of
	require.NoError(t, err)
	require.Equal(t, first.ID, second.ID)
	require.NoError(t, s.Jobs.CancelJob(ctx, added.ID))
	require.NoError(t, s.Jobs.RetryJob(ctx, added.ID))
	third, err := s.Jobs.ClaimJob(ctx, time.Minute, "deliver")
	require.NoError(t, err)
	for name, late := range map[string]store.Job{"one that was silent": first, "one that was cancelled": second} {
		alive, err := s.Jobs.Progress(ctx, late, 1, 2)
		require.NoError(t, err)
		assert.False(t, alive, name)
		require.NoError(t, s.Jobs.FinishJob(ctx, late, store.Outcome{Result: "late"}))
		require.NoError(t, s.Jobs.PostponeJob(ctx, late, time.Hour, "late"))
		require.NoError(t, s.Jobs.ReleaseJob(ctx, late))
		j, err := s.Jobs.Job(ctx, added.ID)
		require.NoError(t, err)
		assert.Equal(t, store.Working, j.State, name)
		assert.Empty(t, j.Result, name)
	}
	alive, err := s.Jobs.Progress(ctx, third, 1, 2)
	require.NoError(t, err)
	assert.True(t, alive)
	require.NoError(t, s.Jobs.FinishJob(ctx, third, store.Outcome{Result: "deliveries/" + added.ID + ".4"}))
	used, err := s.Jobs.FilesOfJobs(ctx, []string{added.ID + ".1", added.ID + ".4"})
	require.NoError(t, err)
	assert.False(t, used[added.ID+".1"], "what an older one made is swept")
	assert.True(t, used[added.ID+".4"])
}

func TestAClaimLeavesOtherJobsToOtherWorkers(t *testing.T) {
	s, a, _ := start(t)
	first, err := s.Jobs.AddJob(ctx, store.Job{Kind: "deliver", Payload: "{}", Owner: a.ID})
	require.NoError(t, err)
	second, err := s.Jobs.AddJob(ctx, store.Job{Kind: "deliver", Payload: "{}", Owner: a.ID})
	require.NoError(t, err)
	tx, err := s.SQL().BeginTx(ctx, nil)
	require.NoError(t, err)
	defer tx.Rollback()
	var locked string
	require.NoError(t, tx.QueryRow("SELECT id FROM jobs WHERE kind = 'deliver' AND state = 'waiting' ORDER BY created_at LIMIT 1 FOR UPDATE SKIP LOCKED").Scan(&locked))
	j, err := s.Jobs.ClaimJob(ctx, time.Minute, "deliver")
	require.NoError(t, err, "what another worker looks at does not keep the rest")
	assert.ElementsMatch(t, []string{first.ID, second.ID}, []string{locked, j.ID})
}

func TestEveryShotIsOnOnePageAndFoundByTheBeginningsOfItsWords(t *testing.T) {
	s, a, _ := start(t)
	at := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	for i := range 30 {
		shot := store.Shot{ID: fmt.Sprintf("s%02d", i), SHA256: strings.Repeat("a", 64), MediaType: "image/png", CreatedBy: a.ID, TakenAt: at, Name: fmt.Sprint("shot ", i)}
		_, err := s.Captures.AddShot(ctx, shot)
		require.NoError(t, err)
	}
	seen := map[string]int{}
	q := store.ShotQuery{Most: 7}
	for {
		shots, err := s.Captures.FindShots(ctx, a.ID, q)
		require.NoError(t, err)
		for _, shot := range shots {
			seen[shot.ID]++
		}
		if len(shots) < q.Most {
			break
		}
		q.After, q.AfterID = shots[len(shots)-1].TakenAt, shots[len(shots)-1].ID
	}
	assert.Len(t, seen, 30, "all were taken at the same time, and none is skipped")
	for _, n := range seen {
		assert.Equal(t, 1, n)
	}
	word := func(text string) sight.Word { return sight.Word{Text: text} }
	require.NoError(t, s.Captures.SetRead(ctx, "s05", []sight.Word{word("Temperature"), word("alarm"), word("24-1187"), word("漢字表")}))
	for text, want := range map[string]int{"temp alarm": 1, "ALARM": 1, "24-11": 1, "larm": 0, "字": 1, "alarm none": 0, "+-*()~\"": 30, "shot": 30, strings.Repeat("x ", 400): 0} {
		shots, err := s.Captures.FindShots(ctx, a.ID, store.ShotQuery{Text: text, Most: 100})
		require.NoError(t, err, text)
		assert.Len(t, shots, want, text)
	}
}

func TestAShotIsPlacedBehindAnotherWhileOthersArrive(t *testing.T) {
	s, a, _ := start(t)
	_, err := s.Captures.BeginCapture(ctx, "c", "S", a.ID)
	require.NoError(t, err)
	session := "c"
	add := func(id string) {
		_, err := s.Captures.AddShot(ctx, store.Shot{ID: id, SHA256: strings.Repeat("a", 64), MediaType: "image/png", CreatedBy: a.ID, CaptureID: &session, Width: 100, Height: 100})
		assert.NoError(t, err)
	}
	for _, id := range []string{"a", "b", "c"} {
		add(id)
	}
	var group sync.WaitGroup
	for i := range 10 {
		group.Go(func() { add(fmt.Sprint("late", i)) })
		group.Go(func() { assert.NoError(t, s.Captures.Even(ctx, a.ID, "c")) })
		group.Go(func() { assert.NoError(t, s.Captures.Reorder(ctx, a.ID, "c", []string{"c", "a"})) })
	}
	group.Wait()
	add("copy")
	require.NoError(t, s.Captures.PlaceBehind(ctx, a.ID, "c", "copy", "a"))
	shots, err := s.Captures.FindShots(ctx, a.ID, store.ShotQuery{Capture: "c"})
	require.NoError(t, err)
	require.Len(t, shots, 14)
	places := map[int]bool{}
	for _, shot := range shots {
		assert.False(t, places[shot.Place], "no two have one place")
		places[shot.Place] = true
	}
	assert.Equal(t, []string{"c", "a", "copy", "b"}, []string{shots[0].ID, shots[1].ID, shots[2].ID, shots[3].ID})
}
