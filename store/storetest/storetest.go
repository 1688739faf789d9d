// Package storetest gives tests a database of their own on a real MariaDB.
package storetest

import (
	"context"
	"database/sql"
	"errors"
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

// Open makes an empty database on the server that RACONTE_TEST_DATABASE names, brings its tables up to
// date, and drops it after the test. The variable is a DSN without a database; scripts/test sets it.
func Open(t testing.TB) *store.Store {
	t.Helper()
	return OpenAfter(t, 0, nil)
}

// OpenAfter is Open for a database that an earlier Raconte left: its tables are those of a migration, and fill has put
// something into them. Without fill it is empty.
func OpenAfter(t testing.TB, migration int64, fill func(*sql.DB)) *store.Store {
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
	own := strings.Replace(dsn, "/?", "/"+name+"?", 1)
	db, err := sql.Open("mysql", own)
	require.NoError(t, err)
	defer db.Close()
	if fill == nil {
		copyTables(t, db)
	} else {
		require.NoError(t, store.MigrateTo(context.Background(), db, migration))
		fill(db)
	}
	s, err := store.Open(context.Background(), own)
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

// schema are statements that make the tables of all migrations, and the few rows that those put into them: the
// migrations take a second, and each test wants a database.
var schema = sync.OnceValues(func() ([]string, error) {
	name := fmt.Sprintf("raconte_test_%d_0", os.Getpid())
	dsn := os.Getenv("RACONTE_TEST_DATABASE")
	admin, err := sql.Open("mysql", dsn)
	if err != nil {
		return nil, err
	}
	defer admin.Close()
	if _, err := admin.Exec("CREATE DATABASE " + name + " CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"); err != nil {
		return nil, err
	}
	defer func() { _, _ = admin.Exec("DROP DATABASE " + name) }()
	db, err := sql.Open("mysql", strings.Replace(dsn, "/?", "/"+name+"?", 1))
	if err != nil {
		return nil, err
	}
	defer db.Close()
	if err := store.MigrateTo(context.Background(), db, 1<<60); err != nil {
		return nil, err
	}
	rows, err := db.Query("SHOW TABLES")
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	all := []string{"SET FOREIGN_KEY_CHECKS = 0"}
	for rows.Next() {
		var table, create string
		if err := rows.Scan(&table); err != nil {
			return nil, err
		}
		if err := db.QueryRow("SHOW CREATE TABLE "+table).Scan(&table, &create); err != nil {
			return nil, err
		}
		all = append(all, create)
	}
	var version int64
	if err := db.QueryRow("SELECT MAX(version_id) FROM goose_db_version").Scan(&version); err != nil {
		return nil, err
	}
	for v := range version + 1 {
		all = append(all, fmt.Sprintf("INSERT INTO goose_db_version (version_id, is_applied) VALUES (%d, TRUE)", v))
	}
	triggers, err := db.Query(`SELECT CONCAT('CREATE TRIGGER ', trigger_name, ' ', action_timing, ' ', event_manipulation, ' ON ', event_object_table, ' FOR EACH ROW ', action_statement)
		FROM information_schema.triggers WHERE trigger_schema = DATABASE()`)
	if err != nil {
		return nil, err
	}
	defer triggers.Close()
	for triggers.Next() {
		var create string
		if err := triggers.Scan(&create); err != nil {
			return nil, err
		}
		all = append(all, create)
	}
	all = append(all, "INSERT INTO list_versions VALUES ('secret-words', 1), ('sayings', 1)", "INSERT INTO versions VALUES ('access', 1), ('released', 1)", "SET FOREIGN_KEY_CHECKS = 1")
	return all, errors.Join(rows.Err(), triggers.Err())
})

func copyTables(t testing.TB, db *sql.DB) {
	t.Helper()
	statements, err := schema()
	require.NoError(t, err)
	conn, err := db.Conn(context.Background())
	require.NoError(t, err)
	defer conn.Close()
	for _, q := range statements {
		_, err := conn.ExecContext(context.Background(), q)
		require.NoError(t, err, q)
	}
}
