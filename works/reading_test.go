package works_test

import (
	"log/slog"
	"strings"
	"testing"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// desk is a house in which documents are written, released and read.
type desk struct {
	*testing.T
	*works.Works
	ines, ruben, maud store.Account
	changes           int
}

func newDesk(t *testing.T) *desk {
	s := storetest.Open(t)
	w := &works.Works{Store: s, Log: slog.New(slog.DiscardHandler), Address: "http://house.example"}
	w.Begin(nil)
	return &desk{T: t, Works: w,
		ines:  storetest.Account(t, s, "ines", access.Author),
		ruben: storetest.Account(t, s, "ruben", access.Reader),
		maud:  storetest.Account(t, s, "maud", access.Administrator)}
}

// viewer is someone as they are now: what is closed to them is asked anew.
func (d *desk) viewer(a store.Account) access.Viewer {
	var err error
	a.Closed, err = d.Store.Setup.ClosedTo(d.Context(), a)
	require.NoError(d, err)
	return a.Viewer()
}

func (d *desk) begin(kind document.Kind, title string) string {
	made, err := d.Store.Documents.Create(d.Context(), kind, title, "", d.ines.ID)
	require.NoError(d, err)
	return made.ID
}

func (d *desk) write(id string, blocks ...document.Content) {
	d.changes++
	var edits []store.BlockEdit
	whole, err := d.Store.Documents.Whole(d.Context(), id)
	require.NoError(d, err)
	for i, c := range blocks {
		name := string(rune('a' + i))
		base := 0
		for _, r := range whole.Rows {
			if r.ID == name {
				base = r.Version
			}
		}
		edits = append(edits, store.BlockEdit{ID: name, Base: base, OrderKey: "00A00" + name, Content: c})
	}
	_, err = d.Store.Documents.Apply(d.Context(), id, store.Change{ID: strings.Repeat("c", d.changes), Blocks: edits}, d.ines.Viewer())
	require.NoError(d, err)
}

func (d *desk) state(id string, act document.Act, instead string) {
	head, err := d.Store.Documents.Head(d.Context(), id)
	require.NoError(d, err)
	findings, err := d.Store.Releases.SetState(d.Context(), id, act, head.Seq, instead, d.ines.Viewer())
	require.NoError(d, err)
	require.Empty(d, findings)
}

// reads is what someone reads of a document, a line for each block, or why not.
func (d *desk) reads(who store.Account, id string, which works.Which) string {
	r, err := d.Reading(d.Context(), d.viewer(who), id, which)
	if reason, refused := refusal.Reason(err); refused {
		return reason
	}
	if err != nil {
		return err.Error()
	}
	var lines []string
	for _, b := range r.Core().Blocks {
		lines = append(lines, b.Words.Reading(nil))
	}
	return strings.Join(lines, "\n")
}

func step(text string) document.Content {
	return document.Content{Type: document.Step, Words: words.Plain(text)}
}

var newest = works.Which{Draft: true}

func TestEachReadsTheStateThatIsTheirs(t *testing.T) {
	d := newDesk(t)
	id := d.begin(document.Procedure, "Weigh a bin")
	d.write(id, step("first"))
	assert.Equal(t, "first", d.reads(d.ines, id, newest))
	_, err := d.Reading(t.Context(), d.viewer(d.ruben), id, newest)
	assert.ErrorIs(t, err, works.ErrUnreleased, "a draft is not a reader's, whatever they ask for")
	_, err = d.Reading(t.Context(), d.viewer(d.ines), id, works.Which{})
	assert.ErrorIs(t, err, works.ErrUnreleased)
	_, err = d.Reading(t.Context(), d.viewer(d.ines), "00000000-0000-0000-0000-000000000000", newest)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.NotErrorIs(t, err, works.ErrUnreleased)

	d.state(id, document.Release, "")
	d.write(id, step("second"))
	assert.Equal(t, "second", d.reads(d.ines, id, newest))
	assert.Equal(t, "first", d.reads(d.ruben, id, newest))
	assert.Equal(t, "first", d.reads(d.ines, id, works.Which{}))
	d.state(id, document.Release, "")
	assert.Equal(t, "second", d.reads(d.ruben, id, works.Which{}))
	assert.Equal(t, "first", d.reads(d.ines, id, works.Which{Revision: 1}))
	_, err = d.Reading(t.Context(), d.viewer(d.ines), id, works.Which{Revision: 3})
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestAKeyNamesAllThatWasRead(t *testing.T) {
	d := newDesk(t)
	id := d.begin(document.Procedure, "Weigh a bin")
	d.write(id, step("first"))
	key := func(who store.Account, which works.Which) string {
		r, err := d.Reading(t.Context(), d.viewer(who), id, which)
		require.NoError(t, err)
		return r.Key
	}
	draft := key(d.ines, newest)
	assert.Equal(t, draft, key(d.maud, newest), "what is the same for both is kept once")
	kept, there := d.Kept(draft)
	require.True(t, there)
	assert.Equal(t, id, kept.ID)
	d.write(id, step("second"))
	assert.NotEqual(t, draft, key(d.ines, newest))
	d.state(id, document.Release, "")
	assert.NotEqual(t, key(d.ines, works.Which{}), key(d.ines, newest))
	valid := key(d.ruben, newest)
	d.write(id, step("third"))
	assert.Equal(t, valid, key(d.ruben, newest), "who reads what is valid is not touched by a draft")
	d.state(id, document.Release, "")
	assert.NotEqual(t, valid, key(d.ruben, newest))
	assert.NotEqual(t, valid, key(d.ines, works.Which{Revision: 1}), "that it was replaced stands on it")
}

func TestWhatIsClosedOrRetiredIsRefusedToWhomItIsNotFor(t *testing.T) {
	d := newDesk(t)
	id, other := d.begin(document.Procedure, "Weigh a bin"), d.begin(document.Procedure, "Weigh a full bin")
	for _, one := range []string{id, other} {
		d.write(one, step("Put it on the scale."))
		d.state(one, document.Release, "")
	}
	put := func(name, ask string, accounts ...string) store.Folder {
		f, err := d.Store.Setup.PutFolder(t.Context(), store.Folder{Name: name, Ask: ask, Accounts: accounts}, store.Account{})
		require.NoError(t, err)
		return f
	}
	secret := put("Secret", "Adaeze", d.ines.ID)
	require.NoError(t, d.Store.Setup.Move(t.Context(), []string{id}, secret.ID, d.viewer(d.ines)))
	assert.Equal(t, "Put it on the scale.", d.reads(d.ines, id, newest))
	refused := d.reads(d.ruben, id, newest)
	assert.Contains(t, refused, "closed folder")
	assert.Contains(t, refused, "Adaeze")
	assert.NotContains(t, refused, "Weigh")
	require.NoError(t, d.Store.Setup.Move(t.Context(), []string{id}, "", d.viewer(d.ines)))

	d.state(id, document.Retire, other)
	assert.Equal(t, "“Weigh a bin” is retired: it is not valid any more. “Weigh a full bin” takes its place.", d.reads(d.ruben, id, newest))
	assert.Equal(t, "Put it on the scale.", d.reads(d.ines, id, newest), "who writes sees what was written")
	assert.Equal(t, "Put it on the scale.", d.reads(d.ines, id, works.Which{Revision: 1}))
	require.NoError(t, d.Store.Setup.Move(t.Context(), []string{other}, secret.ID, d.viewer(d.ines)))
	assert.Equal(t, "“Weigh a bin” is retired: it is not valid any more. Nobody should follow it.", d.reads(d.ruben, id, newest), "the title of what is closed is not told")
}

func TestAManualIsReadWithItsChaptersAsFarAsTheyAreOpen(t *testing.T) {
	d := newDesk(t)
	chapter, manual := d.begin(document.Procedure, "Weigh a bin"), d.begin(document.Manual, "Dock 2")
	d.write(chapter, step("Put it on the scale."))
	d.state(chapter, document.Release, "")
	d.write(chapter, step("Put it on the new scale."))
	d.write(manual, document.Content{Type: document.Chapter, Document: chapter})
	read := d.reads(d.ines, manual, newest)
	assert.Contains(t, read, "Put it on the scale.", "the valid revision, not what is being written of it")
	assert.NotContains(t, d.reads(d.ines, manual, works.Which{Draft: true, Apart: true}), "scale")
	d.state(manual, document.Release, "")
	assert.Contains(t, d.reads(d.ruben, manual, works.Which{Apart: true}), "Put it on the scale.", "readers get a manual whole")

	f, err := d.Store.Setup.PutFolder(t.Context(), store.Folder{Name: "Secret", Accounts: []string{d.ines.ID}}, store.Account{})
	require.NoError(t, err)
	require.NoError(t, d.Store.Setup.Move(t.Context(), []string{chapter}, f.ID, d.viewer(d.ines)))
	closed := d.reads(d.ruben, manual, newest)
	assert.Contains(t, closed, "A chapter in a closed folder")
	assert.NotContains(t, closed, "scale")
	assert.Contains(t, d.reads(d.ines, manual, newest), "Put it on the scale.", "and another's reading is not taken for theirs")
}

func TestARequestIsReadByWhoAskedAsItIsWritten(t *testing.T) {
	d := newDesk(t)
	asked, procedure := d.begin(document.Request, "The scale is wrong"), d.begin(document.Procedure, "Weigh a bin")
	d.write(asked, step("It shows 3 kg."))
	d.write(procedure, step("Put it on the scale."))
	guest := store.Account{ID: "guest of a link", Role: access.Reader}
	assert.Equal(t, "It shows 3 kg.", d.reads(guest, asked, works.Which{Asked: true}))
	for _, id := range []string{asked, procedure} {
		_, err := d.Reading(t.Context(), d.viewer(guest), id, newest)
		assert.ErrorIs(t, err, works.ErrUnreleased)
	}
	_, err := d.Reading(t.Context(), d.viewer(guest), procedure, works.Which{Asked: true})
	assert.ErrorIs(t, err, works.ErrUnreleased, "a draft is no request, whoever says that they asked")
}

func TestAnEarlierRevisionThatToldWhatIsConcealedNowIsNotReadByOthers(t *testing.T) {
	d := newDesk(t)
	_, err := d.Store.Captures.AddShot(t.Context(), store.Shot{
		ID: "s1", SHA256: strings.Repeat("a", 64), MediaType: "image/png", Width: 300, Height: 200, Bytes: 5, CreatedBy: d.ines.ID})
	require.NoError(t, err)
	id := d.begin(document.Procedure, "Weigh a bin")
	pictured := step("Call 555 0199.")
	pictured.Figures = []figure.Figure{{ID: "f", Shot: "s1", Alt: "The scale", Marks: []figure.Mark{}}}
	d.write(id, pictured)
	d.state(id, document.Release, "")
	pictured.Words = words.Plain("Call the office.")
	d.write(id, pictured)
	d.state(id, document.Release, "")
	assert.Equal(t, "Call 555 0199.", d.reads(d.ruben, id, works.Which{Revision: 1}))

	before, err := d.Reading(t.Context(), d.viewer(d.ruben), id, newest)
	require.NoError(t, err)
	_, err = d.Store.Releases.Withhold(t.Context(), "s1", []figure.Area{{Rect: scene.Rect{X: 10, Y: 10, W: 60, H: 40}}}, d.ines.ID)
	require.NoError(t, err)
	after, err := d.Reading(t.Context(), d.viewer(d.ruben), id, newest)
	require.NoError(t, err)
	assert.NotEqual(t, before.Key, after.Key, "what was kept before is not handed out after")
	assert.NotEmpty(t, after.Core().Blocks[0].Figures[0].Marks, "its picture conceals it")
	assert.NotContains(t, d.reads(d.ruben, id, works.Which{Revision: 1}), "555")
	assert.Contains(t, d.reads(d.ruben, id, works.Which{Revision: 1}), "concealed since")
	assert.Equal(t, "Call 555 0199.", d.reads(d.ines, id, works.Which{Revision: 1}), "who writes may compare")
}

func TestWhatOneMakesOfAReadingIsNobodyElses(t *testing.T) {
	d := newDesk(t)
	other, id := d.begin(document.Procedure, "Weigh a bin"), d.begin(document.Procedure, "Receive a lot")
	d.write(other, step("Put it on the scale."))
	d.state(other, document.Release, "")
	leads := step("Weigh it.")
	leads.Document = other
	d.write(id, leads)
	d.state(id, document.Release, "")
	for range 2 { // as it was read, and as it was kept
		r, err := d.Reading(t.Context(), d.viewer(d.ruben), id, works.Which{})
		require.NoError(t, err)
		require.Equal(t, "http://house.example/d/"+other, r.Around[other].Address)
		kept, there := d.Kept(r.Key)
		require.True(t, there)
		r.Around[other], kept.Around[other] = document.Other{}, document.Other{} // as for whoever has a link
	}
	r, err := d.Reading(t.Context(), d.viewer(d.maud), id, works.Which{})
	require.NoError(t, err)
	assert.Equal(t, "http://house.example/d/"+other, r.Around[other].Address)
}
