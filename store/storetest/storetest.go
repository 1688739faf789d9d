// Package storetest gives tests a database of their own on a real MariaDB.
package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"raconte/core/access"
	"raconte/store"

	"github.com/stretchr/testify/require"
)

var made atomic.Int64

// address is the DSN of a database on the server that RACONTE_TEST_DATABASE names, a DSN without a database that
// scripts/test sets.
func address(name string) string {
	return strings.Replace(os.Getenv("RACONTE_TEST_DATABASE"), "/?", "/"+name+"?", 1)
}

// create makes an empty database, and drop removes it.
func create() (name string, drop func(), err error) {
	name = fmt.Sprintf("raconte_test_%d_%d", os.Getpid(), made.Add(1))
	admin, err := sql.Open("mysql", address(""))
	if err != nil {
		return "", nil, err
	}
	_, err = admin.Exec("CREATE DATABASE " + name + " CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
	return name, func() {
		_, _ = admin.Exec("DROP DATABASE " + name)
		_ = admin.Close()
	}, err
}

// open makes a database, fills it, and opens it until the test ends.
func open(t testing.TB, fill func(*sql.DB) error) *store.Store {
	t.Helper()
	if os.Getenv("RACONTE_TEST_DATABASE") == "" {
		t.Skip("RACONTE_TEST_DATABASE is not set: run make test")
	}
	name, drop, err := create()
	require.NoError(t, err)
	t.Cleanup(drop)
	db, err := sql.Open("mysql", address(name))
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, fill(db))
	s, err := store.Open(context.Background(), address(name))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

// empty is what an empty house is copied from: the migrations take a second, and each test wants a database.
var empty = sync.OnceValues(func() (*Mould, error) { return NewMould(nil) })

// Open makes an empty database with its tables up to date, and drops it after the test.
func Open(t testing.TB) *store.Store {
	t.Helper()
	return open(t, func(db *sql.DB) error {
		m, err := empty()
		if err != nil {
			return err
		}
		return m.copyTo(db)
	})
}

// OpenAfter is Open for a database that an earlier Raconte left: its tables are those of a migration, and fill has put
// something into them.
func OpenAfter(t testing.TB, migration int64, fill func(*sql.DB)) *store.Store {
	t.Helper()
	return open(t, func(db *sql.DB) error {
		err := store.MigrateTo(context.Background(), db, migration)
		if err == nil {
			fill(db)
		}
		return err
	})
}

// Account adds an account of a role.
func Account(t testing.TB, s *store.Store, name string, role access.Role) store.Account {
	t.Helper()
	a, err := s.Identity.CreateAccount(context.Background(), store.Account{Name: name, DisplayName: name, Role: role, PasswordHash: "x"})
	require.NoError(t, err)
	return a
}
