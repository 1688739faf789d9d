package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"strings"
	"testing"

	"raconte/store"
)

// Mould is a database as it was filled once, of which tests get copies.
type Mould struct {
	tables, triggers []string // as they are created
	rows             []rows
}

// rows are some of a table, and how they are put into another.
type rows struct {
	insert string
	values []any
}

// rowsAtOnce bounds the rows of one statement.
const rowsAtOnce = 100

// NewMould makes a database with its tables up to date, has it filled, and keeps what it is.
func NewMould(fill func(*store.Store) error) (*Mould, error) {
	name, drop, err := create()
	if err != nil {
		return nil, err
	}
	defer drop()
	s, err := store.Open(context.Background(), address(name))
	if err != nil {
		return nil, err
	}
	defer s.Close()
	if fill != nil {
		if err := fill(s); err != nil {
			return nil, err
		}
	}
	m := &Mould{}
	tables, err := texts(s.SQL(), "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY table_name")
	if err != nil {
		return nil, err
	}
	for _, table := range tables {
		if err := m.take(s.SQL(), table); err != nil {
			return nil, fmt.Errorf("reading %s: %w", table, err)
		}
	}
	m.triggers, err = texts(s.SQL(), `SELECT CONCAT('CREATE TRIGGER ', trigger_name, ' ', action_timing, ' ', event_manipulation, ' ON ', event_object_table, ' FOR EACH ROW ', action_statement)
		FROM information_schema.triggers WHERE trigger_schema = DATABASE()`)
	return m, err
}

// Open makes a copy for a test, and drops it after that.
func (m *Mould) Open(t testing.TB) *store.Store {
	t.Helper()
	return open(t, m.copyTo)
}

func (m *Mould) take(db *sql.DB, table string) error {
	var create string
	if err := db.QueryRow("SHOW CREATE TABLE "+table).Scan(&table, &create); err != nil {
		return err
	}
	m.tables = append(m.tables, create)
	columns, err := texts(db, "SELECT column_name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? AND is_generated = 'NEVER' ORDER BY ordinal_position", table)
	if err != nil {
		return err
	}
	names := "`" + strings.Join(columns, "`, `") + "`"
	found, err := db.Query("SELECT " + names + " FROM " + table)
	if err != nil {
		return err
	}
	defer found.Close()
	types, err := found.ColumnTypes()
	if err != nil {
		return err
	}
	row := "(" + strings.Repeat(", ?", len(columns))[2:] + ")"
	var values []any
	put := func() {
		if n := len(values) / len(columns); n > 0 {
			m.rows = append(m.rows, rows{"INSERT INTO " + table + " (" + names + ") VALUES " + row + strings.Repeat(", "+row, n-1), values})
		}
		values = nil
	}
	for found.Next() {
		one := make([]any, len(columns))
		at := make([]any, len(columns))
		for i := range one {
			at[i] = &one[i]
		}
		if err := found.Scan(at...); err != nil {
			return err
		}
		for i, v := range one {
			if raw, is := v.([]byte); is && !strings.HasSuffix(types[i].DatabaseTypeName(), "BLOB") && !strings.HasSuffix(types[i].DatabaseTypeName(), "BINARY") {
				one[i] = string(raw)
			}
		}
		if values = append(values, one...); len(values) == rowsAtOnce*len(columns) {
			put()
		}
	}
	put()
	return found.Err()
}

// copyTo fills an empty database: rows before triggers, which would change some.
func (m *Mould) copyTo(db *sql.DB) error {
	ctx := context.Background()
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	exec := func(query string, values ...any) {
		if err == nil {
			_, err = conn.ExecContext(ctx, query, values...)
		}
	}
	exec("SET FOREIGN_KEY_CHECKS = 0, UNIQUE_CHECKS = 0")
	for _, q := range m.tables {
		exec(q)
	}
	exec("START TRANSACTION")
	for _, r := range m.rows {
		exec(r.insert, r.values...)
	}
	exec("COMMIT")
	for _, q := range m.triggers {
		exec(q)
	}
	exec("SET FOREIGN_KEY_CHECKS = 1, UNIQUE_CHECKS = 1")
	return err
}

func texts(db *sql.DB, query string, values ...any) (all []string, err error) {
	found, err := db.Query(query, values...)
	if err != nil {
		return nil, err
	}
	defer found.Close()
	for found.Next() {
		var one string
		if err := found.Scan(&one); err != nil {
			return nil, err
		}
		all = append(all, one)
	}
	return all, found.Err()
}
