// Package store keeps everything but pictures in MariaDB. It knows the tables and what may be
// changed together; the rules of documents are in core.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"time"

	"github.com/pressly/goose/v3"
	"gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound says that what was asked for is not there, or not there any more.
var ErrNotFound = errors.New("not found")

// Store is the database.
type Store struct {
	db    *gorm.DB
	words vocabulary
	now   func() time.Time
}

// Open connects to the database that a DSN of the Go MySQL driver names and brings its tables up to date.
func Open(ctx context.Context, dsn string) (*Store, error) {
	db, err := gorm.Open(mysql.Open(dsn), &gorm.Config{
		Logger: logger.Discard, SkipDefaultTransaction: true, TranslateError: true,
	})
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	s := &Store{db: db, now: func() time.Time { return time.Now().UTC().Truncate(time.Millisecond) }}
	pool := s.SQL()
	pool.SetMaxOpenConns(24)
	pool.SetMaxIdleConns(12)
	pool.SetConnMaxLifetime(10 * time.Minute)
	if err := MigrateTo(ctx, pool, latest); err != nil {
		return nil, err
	}
	return s, s.normalizeNames(ctx)
}

const latest = 1 << 60 // of all migrations

// MigrateTo brings a database's tables to a migration.
func MigrateTo(ctx context.Context, db *sql.DB, migration int64) error {
	goose.SetBaseFS(migrations)
	goose.SetLogger(goose.NopLogger())
	if err := goose.SetDialect("mysql"); err != nil {
		return fmt.Errorf("preparing the migrations: %w", err)
	}
	if err := goose.UpToContext(ctx, db, "migrations", migration); err != nil {
		return fmt.Errorf("bringing the database's tables up to date: %w", err)
	}
	return nil
}

// SQL is the pool of connections, for packages that keep tables of their own.
func (s *Store) SQL() *sql.DB {
	pool, err := s.db.DB()
	if err != nil {
		panic(fmt.Sprintf("store: a GORM connection without a pool: %v", err))
	}
	return pool
}

// Close ends all connections.
func (s *Store) Close() error { return s.SQL().Close() }

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.SQL().PingContext(ctx) }

// within runs work in one transaction; a deadlock or lock time-out is tried again.
func (s *Store) within(ctx context.Context, work func(tx *gorm.DB) error, options ...*sql.TxOptions) error {
	var err error
	for range 4 {
		err = s.db.WithContext(ctx).Transaction(work, options...)
		if !transient(err) {
			break
		}
	}
	return err
}

// found turns GORM's word for "no row" into ours.
func found(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ErrNotFound
	}
	return err
}

var forUpdate = clause.Locking{Strength: "UPDATE"}

// present are those of some keys that a table has in a column, of the rows for which a condition holds.
func (s *Store) present(ctx context.Context, table, column string, keys []string, where string) (map[string]bool, error) {
	there := map[string]bool{}
	if len(keys) == 0 {
		return there, nil
	}
	var got []string
	err := s.db.WithContext(ctx).Table(table).Where(column+" IN ?", keys).Where(where).Distinct().Pluck(column, &got).Error
	for _, key := range got {
		there[key] = true
	}
	return there, err
}

// SetClock makes a store date rows, and compare days, by another clock: for tests of what days bring.
func (s *Store) SetClock(now func() time.Time) { s.now = now }
