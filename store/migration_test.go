package store_test

import (
	"database/sql"
	"fmt"
	"strings"
	"testing"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/id"
	"raconte/core/readiness"
	"raconte/core/style"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// content2 is a step as Raconte stored it until its third migration: without a format, with ids of any bytes.
const content2 = `{"words":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"Press %s"}]}]},` +
	`"figures":[{"id":"%s","shot":"%s","alt":"x","marks":[{"id":"m 1","kind":"box","points":[{"x":1,"y":2},{"x":3000000,"y":4}],"ink":"red","weight":"fine"}]}]}`

// TestADatabaseOfBeforeKeepsEveryRow fills a database as an earlier Raconte left it, and opens it.
func TestADatabaseOfBeforeKeepsEveryRow(t *testing.T) {
	s := storetest.OpenAfter(t, 3, func(db *sql.DB) {
		for _, q := range []string{
			`INSERT INTO accounts VALUES ('a1', 'Ines', 'Ines', 'author', 'x'), ('a2', 'ruben', 'Ruben', 'reader', 'x')`,
			`INSERT INTO documents (id, kind, title, state, revision, seq, steps, changed_by, changed_at) VALUES ('doc', 'procedure', 'Draft title', 'draft', 1, 7, 3, 'a1', NOW(3))`,
			`INSERT INTO captures VALUES ('cap/1', 'a1', 'S', NOW(3), NOW(3))`,
			`INSERT INTO shots (id, sha256, media_type, width, height, bytes, name, created_by, created_at, capture_id, taken_at) VALUES
				('Shot ü', REPEAT('a', 64), 'image/png', 10, 10, 5, 'n', 'a1', NOW(3), 'cap/1', NOW(3)), ('plain', REPEAT('b', 64), 'image/png', 10, 10, 5, 'n', 'a1', NOW(3), NULL, NOW(3))`,
			`INSERT INTO steps VALUES ('doc', 'one', '00A000', '` + fmt.Sprintf(content2, "one", "f", "Shot ü") + `', 1, 1, FALSE, 'a1', NOW(3)),
				('doc', 'two: 2', '00B000', '` + fmt.Sprintf(content2, "two", "f", "plain") + `', 1, 1, FALSE, 'a1', NOW(3)),
				('doc', 'gone', '00C000', '` + fmt.Sprintf(content2, "gone", "g", "plain") + `', 1, 1, TRUE, 'a1', NOW(3))`,
			`INSERT INTO step_shots VALUES ('doc', 'one', 'Shot ü'), ('doc', 'two: 2', 'plain'), ('doc', 'gone', 'plain')`,
			`INSERT INTO revisions VALUES ('doc', 1, '{"id":"doc","kind":"procedure","title":"First title","steps":[{"id":"one",` + fmt.Sprintf(content2, "first", "f", "Shot ü")[1:] + `]}', 'a1', NOW(3))`,
			`INSERT INTO revision_shots VALUES ('doc', 1, 'Shot ü')`,
			`INSERT INTO secret_words VALUES ('Swordfish')`,
			`INSERT INTO jobs (id, kind, payload, state, owner, created_at) VALUES ('j1', 'pdf', '{"document":"doc","layout":4,"draft":true,"file":"T.pdf"}', 'done', 'a1', NOW(3)),
				('j2', 'pdf', '{"document":"purged","layout":2,"file":"U.pdf"}', 'done', 'a1', NOW(3)), ('j3', 'read', 'plain', 'waiting', 'a1', NOW(3))`,
		} {
			_, err := db.Exec(q)
			require.NoError(t, err, q)
		}
	})
	w, err := s.Documents.Whole(ctx, "doc")
	require.NoError(t, err)
	require.Len(t, w.Rows, 2)
	assert.Len(t, w.Removed, 1)
	assert.Len(t, w.Shots, 2)
	odd := w.Rows[0].Content.Figures[0]
	assert.Equal(t, id.Mended("Shot ü"), odd.Shot)
	shot, err := s.Captures.Shot(ctx, odd.Shot)
	require.NoError(t, err, "words and table name the shot alike")
	assert.Equal(t, id.Mended("cap/1"), *shot.CaptureID)
	assert.Equal(t, id.Mended("two: 2"), w.Rows[1].ID)
	assert.Empty(t, readiness.Check(w.Core(), nil, nil))
	for _, r := range w.Rows {
		assert.NoError(t, w.Core().Apart().Blocks[0].Check(), r.ID)
	}
	r, err := s.Documents.LastRevision(ctx, "doc")
	require.NoError(t, err)
	assert.Equal(t, "First title", r.Title)
	assert.Equal(t, "Press first", r.Rows[0].Content.Words.Reading(nil))
	list, err := s.Documents.List(ctx, "First", access.Viewer{Account: "a2", Role: access.Reader})
	require.NoError(t, err)
	require.Len(t, list, 1, "readers find what they may read")
	assert.Equal(t, 1, list[0].Steps)
	a, err := s.Identity.AccountNamed(ctx, "INES")
	require.NoError(t, err, "names are in their one spelling")
	assert.Equal(t, "ines", a.Name)
	made, err := s.Jobs.Deliveries(ctx, "a1", "doc")
	require.NoError(t, err)
	require.Len(t, made, 1, "files made before are deliveries now")
	o, is := works.OrderOf(made[0])
	assert.True(t, is)
	assert.Equal(t, works.Order{Document: "doc", Title: "T", Format: "pdf", Layout: style.Running, Draft: true, File: "T.pdf"}, o)
	assert.Equal(t, document.Facts{Title: "Draft title"}, w.Facts)
	words, version, err := s.Setup.SecretWords(ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"Swordfish"}, words)
	assert.Equal(t, 1, version)
	// It can be worked on: the step is written in today's format.
	row := w.Rows[0]
	seq, err := s.Documents.Apply(ctx, "doc", store.Change{ID: "c", Blocks: []store.BlockEdit{{ID: row.ID, Base: row.Version, OrderKey: row.OrderKey, Content: row.Content}}}, access.Viewer{Account: "a1", Role: access.Author})
	require.NoError(t, err)
	assert.EqualValues(t, 8, seq)
	var raw string
	require.NoError(t, s.SQL().QueryRow("SELECT content FROM blocks WHERE id = 'one'").Scan(&raw))
	assert.Contains(t, raw, fmt.Sprintf(`"format":%d,`, document.Format))
}

func TestIdsAreTheSameBytesEverywhere(t *testing.T) {
	s, a, d := start(t)
	for _, name := range []string{"a", "A", "b"} {
		shot := store.Shot{ID: name, SHA256: strings.Repeat("a", 64), MediaType: "image/png", Name: name, CreatedBy: a.ID}
		_, err := s.Captures.AddShot(ctx, shot)
		require.NoError(t, err)
	}
	_, err := s.Documents.Apply(ctx, d.ID, change("c1", edit("s", 0, content("small")), edit("S", 0, content("large"))), a.Viewer())
	require.NoError(t, err)
	w, err := s.Documents.Whole(ctx, d.ID)
	require.NoError(t, err)
	assert.Len(t, w.Rows, 2, "“S” has not overwritten “s”")
	shot, err := s.Captures.Shot(ctx, "A")
	require.NoError(t, err)
	assert.Equal(t, "A", shot.Name)
}

func TestADocumentGrowsWithinItsLimitsOnly(t *testing.T) {
	s, a, d := start(t)
	for _, name := range []string{"big", "small"} {
		_, err := s.Captures.AddShot(ctx, store.Shot{ID: name, SHA256: strings.Repeat("a", 64), MediaType: "image/png", Bytes: 1, CreatedBy: a.ID})
		require.NoError(t, err)
	}
	_, err := s.Documents.Apply(ctx, d.ID, change("c1", edit("a", 0, content("x", "big"))), a.Viewer())
	require.NoError(t, err)
	_, err = s.SQL().Exec("UPDATE shots SET bytes = 1 << 30 WHERE id = 'big'")
	require.NoError(t, err)
	_, err = s.Documents.Apply(ctx, d.ID, change("c2", edit("b", 0, content("y", "small"))), a.Viewer())
	assert.ErrorContains(t, err, "take at most 900 MB")
	_, err = s.Documents.Apply(ctx, d.ID, change("c3", edit("a", 1, content("z", "big"))), a.Viewer())
	assert.NoError(t, err, "what is too large already may be changed, as long as it does not grow")
	long := content(strings.Repeat("long ", 20))
	_, err = s.SQL().Exec("UPDATE blocks SET bytes = 13 << 20")
	require.NoError(t, err)
	_, err = s.Documents.Apply(ctx, d.ID, change("c4", edit("c", 0, long)), a.Viewer())
	assert.ErrorContains(t, err, "Make two documents of it")
}

func TestOnlyWhatWasSeenIsReleased(t *testing.T) {
	s, a, d := start(t)
	seq, err := s.Documents.Apply(ctx, d.ID, change("c1", edit("a", 0, content("seen"))), a.Viewer())
	require.NoError(t, err)
	_, err = s.Documents.Apply(ctx, d.ID, change("c2", edit("a", 1, content("not seen"))), a.Viewer())
	require.NoError(t, err)
	_, err = s.Releases.SetState(ctx, d.ID, document.Release, seq, "", a.Viewer())
	assert.ErrorIs(t, err, store.ErrConflict)
	_, err = s.Documents.LastRevision(ctx, d.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// TestGroupsAndLoginsKeepTheirRows opens a database in which tables were called otherwise.
func TestGroupsAndLoginsKeepTheirRows(t *testing.T) {
	s := storetest.OpenAfter(t, 30, func(db *sql.DB) {
		for _, q := range []string{
			`INSERT INTO accounts (id, name, display_name, role, password_hash) VALUES ('a1', 'ines', 'Ines', 'author', 'x'), ('a2', 'ruben', 'Ruben', 'reader', 'x')`,
			`INSERT INTO circles (id, name) VALUES ('g1', 'Dock')`,
			`INSERT INTO circle_members (circle_id, account_id) VALUES ('g1', 'a2')`,
			`INSERT INTO folders (id, name, open) VALUES ('f1', 'Closed', FALSE)`,
			`INSERT INTO folder_members (folder_id, circle_id) VALUES ('f1', 'g1')`,
			`INSERT INTO sittings (id, account_id, browser, address, began_at, seen_at) VALUES ('s1', 'a1', 'A browser', '127.0.0.1', NOW(3), NOW(3))`,
		} {
			_, err := db.Exec(q)
			require.NoError(t, err, q)
		}
	})
	groups, err := s.Identity.Groups(ctx)
	require.NoError(t, err)
	assert.Equal(t, []store.Group{{ID: "g1", Name: "Dock", Version: 1, Accounts: []string{"a2"}}}, groups)
	for account, closed := range map[string][]string{"a1": {"f1"}, "a2": nil} {
		to, err := s.Setup.ClosedTo(ctx, store.Account{ID: account, Role: access.Author})
		require.NoError(t, err)
		assert.ElementsMatch(t, closed, to, "folders closed to %s", account)
	}
	there, err := s.Identity.StillIn(ctx, "a1", "s1")
	require.NoError(t, err)
	assert.True(t, there, "nobody is signed out")
	// Whoever loses a place in a group is looked at anew: the trigger is that of the renamed table.
	version := func() (n int) {
		require.NoError(t, s.SQL().QueryRow("SELECT n FROM versions WHERE what = 'access'").Scan(&n))
		return n
	}
	before := version()
	require.NoError(t, s.Identity.DeleteGroup(ctx, "g1"))
	assert.Greater(t, version(), before)
	assert.ErrorIs(t, s.Identity.DeleteGroup(ctx, "g1"), store.ErrNotFound)
}
