package server

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"raconte/core/access"
	"raconte/store"

	"github.com/alexedwards/scs/mysqlstore"
	lru "github.com/hashicorp/golang-lru/v2"
)

// versions are those of what is kept in memory: who may do what, and what was released. They are 0 where nobody is
// signed in.
type versions struct{ access, released int64 }

type versionsKey struct{}

// versionsOf are the versions that held when a request's session was found.
func versionsOf(ctx context.Context) versions {
	v, _ := ctx.Value(versionsKey{}).(*versions)
	if v == nil {
		return versions{}
	}
	return *v
}

// sessionStore finds a session and the versions in one question, which most requests need no other of.
type sessionStore struct {
	*mysqlstore.MySQLStore
	db *sql.DB
}

// FindCtx is what a session holds.
func (s sessionStore) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var data []byte
	var v versions
	err := s.db.QueryRowContext(ctx, `SELECT s.data, COALESCE(a.n, 0), COALESCE(r.n, 0) FROM sessions s LEFT JOIN versions a ON a.what = 'access' LEFT JOIN versions r ON r.what = 'released'
		WHERE s.token = ? AND UTC_TIMESTAMP(6) < s.expiry`, token).Scan(&data, &v.access, &v.released)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, fmt.Errorf("finding a session: %w", err)
	}
	if at, asked := ctx.Value(versionsKey{}).(*versions); asked {
		*at = v
	}
	return data, true, nil
}

// CommitCtx keeps a session.
func (s sessionStore) CommitCtx(_ context.Context, token string, data []byte, expiry time.Time) error {
	return s.Commit(token, data, expiry)
}

// DeleteCtx forgets a session.
func (s sessionStore) DeleteCtx(_ context.Context, token string) error { return s.Delete(token) }

// mostKnown bounds how many of those who ask are known.
const mostKnown = 20_000

// loginAs is an account as it is signed in with one browser, known by the version of access.
type loginAs struct {
	account, login string
	version        int64
}

// known is who sits there, and when that was looked at.
type known struct {
	account store.Account
	at      time.Time
}

// asks keeps who asks, so that it need not be asked for again while nothing of it has changed.
type asks struct {
	store *store.Store
	known *lru.Cache[loginAs, known]
	lies  *lru.Cache[liesIn, whereabouts]
}

type liesIn struct {
	document string
	versions versions
}

type whereabouts struct{ folder, ask string }

func newAsks(s *store.Store) *asks {
	k, _ := lru.New[loginAs, known](mostKnown) // it fails for sizes below 1 alone
	l, _ := lru.New[liesIn, whereabouts](mostKnown)
	return &asks{s, k, l}
}

// loginKey is where a session keeps its login: as it was called at first, so that nobody is signed out.
const loginKey = "sitting"

// seenAgain is how long a login is taken for there without being noted as seen.
const seenAgain = 50 * time.Second

// stillIn is the account that is signed in somewhere; empty where nobody is, or one of another epoch.
func (a *asks) stillIn(ctx context.Context, account, login string, epoch int) (store.Account, error) {
	key := loginAs{account, login, versionsOf(ctx).access}
	if k, there := a.known.Get(key); there && key.version > 0 && time.Since(k.at) < seenAgain {
		if k.account.Epoch != epoch {
			return store.Account{}, nil
		}
		return k.account, nil
	}
	is, err := a.store.Identity.Account(ctx, account)
	if errors.Is(err, store.ErrNotFound) {
		err = nil
	}
	if err != nil || epoch != is.Epoch || is.DisabledAt != nil {
		return store.Account{}, err
	}
	there, err := a.store.Identity.StillIn(ctx, account, login)
	if err != nil || !there {
		return store.Account{}, err
	}
	if is.Closed, err = a.store.Setup.ClosedTo(ctx, is); err == nil {
		a.known.Add(key, known{is, time.Now()})
	}
	return is, err
}

// whereabouts is where a document lies, and whom to ask for what lies there.
func (a *asks) whereabouts(ctx context.Context, document string) (whereabouts, error) {
	key := liesIn{document, versionsOf(ctx)}
	if w, there := a.lies.Get(key); there && key.versions.released > 0 {
		return w, nil
	}
	folder, ask, err := a.store.Setup.Whereabouts(ctx, document)
	w := whereabouts{folder, ask}
	if err == nil {
		a.lies.Add(key, w)
	}
	return w, err
}

// mayRead tells whether a viewer may read in a folder.
func mayRead(v access.Viewer, folder string) bool {
	return access.May(v, access.Read, access.Thing{Folder: folder})
}
