// Package storetest gives tests a database of their own on a real MariaDB.
package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"strings"
	"sync/atomic"
	"testing"

	"raconte/core/access"
	"raconte/store"

	"github.com/stretchr/testify/require"
)

var made atomic.Int64

// Open makes an empty database on the server that RACONTE_TEST_DATABASE names, brings its tables up to
// date, and drops it after the test. The variable is a DSN without a database; scripts/test sets it.
func Open(t testing.TB) *store.Store {
	t.Helper()
	dsn := os.Getenv("RACONTE_TEST_DATABASE")
	if dsn == "" {
		t.Skip("RACONTE_TEST_DATABASE is not set: run make test")
	}
	name := fmt.Sprintf("raconte_test_%d_%d", os.Getpid(), made.Add(1))
	admin, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	_, err = admin.Exec("CREATE DATABASE " + name + " CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
	require.NoError(t, err)
	s, err := store.Open(context.Background(), strings.Replace(dsn, "/?", "/"+name+"?", 1))
	require.NoError(t, err)
	t.Cleanup(func() {
		_ = s.Close()
		_, _ = admin.Exec("DROP DATABASE " + name)
		_ = admin.Close()
	})
	return s
}

// Account adds an account of a role.
func Account(t testing.TB, s *store.Store, name string, role access.Role) store.Account {
	t.Helper()
	a, err := s.CreateAccount(context.Background(), store.Account{Name: name, DisplayName: name, Role: role, PasswordHash: "x"})
	require.NoError(t, err)
	return a
}
