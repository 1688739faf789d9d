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

	driver "github.com/go-sql-driver/mysql"
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

// base is the connection that all parts have, and the house's clock.
type base struct {
	db   *gorm.DB
	now  func() time.Time
	zone *time.Location // of the house: in which days are days
}

// Open connects to the database that a DSN of the Go MySQL driver names and brings its tables up to date.
func Open(ctx context.Context, dsn string) (*Store, error) {
	if err := migrate(ctx, dsn); err != nil {
		return nil, err
	}
	limited, err := driver.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("reading the database's address: %w", err)
	}
	// A database that does not answer ends each question, and is asked anew by the next. Questions are put in one round
	// trip.
	limited.Timeout, limited.ReadTimeout, limited.WriteTimeout, limited.InterpolateParams = 4*time.Second, longestAnswer, longestAnswer, true
	limited.ClientFoundRows = true // a row that is so already was found: it is not missing
	db, err := gorm.Open(mysql.Open(limited.FormatDSN()), &gorm.Config{
		Logger: logger.Discard, SkipDefaultTransaction: true, TranslateError: true,
	})
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	s := divided(&base{db: db, now: func() time.Time { return time.Now().UTC().Truncate(time.Millisecond) }, zone: time.Local})
	pool := s.SQL()
	pool.SetMaxOpenConns(mostConnections)
	pool.SetMaxIdleConns(mostConnections) // else each of many who ask at once opens one, and closes it again
	pool.SetConnMaxLifetime(10 * time.Minute)
	return s, s.Identity.normalizeNames(ctx)
}

const (
	latest          = 1 << 60 // of all migrations
	mostConnections = 24
	longestAnswer   = 8 * time.Second // that is waited for the database
)

// migrate brings the tables up to date, which may take as long as it takes.
func migrate(ctx context.Context, dsn string) error {
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		return fmt.Errorf("connecting to the database: %w", err)
	}
	defer db.Close()
	return MigrateTo(ctx, db, latest)
}

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
func (s *base) SQL() *sql.DB {
	pool, err := s.db.DB()
	if err != nil {
		panic(fmt.Sprintf("store: a GORM connection without a pool: %v", err))
	}
	return pool
}

// Close ends all connections.
func (s *base) Close() error { return s.SQL().Close() }

// Ping tells whether the database answers.
func (s *base) Ping(ctx context.Context) error { return s.SQL().PingContext(ctx) }

// under is what a context carries within a transaction: everything that is asked in it is asked there. A second
// connection beside the transaction's own could wait for ever for one that waits for the transaction.
type under struct{}

// on is what queries begin with: the transaction that ctx is in, or the pool.
func (s *base) on(ctx context.Context) *gorm.DB {
	if tx, in := ctx.Value(under{}).(*gorm.DB); in {
		return tx.Session(&gorm.Session{NewDB: true, Context: ctx})
	}
	return s.db.WithContext(ctx)
}

// AllOrNothing has all that is done with the context that work is given be kept, or none of it. Work may be done again,
// after a deadlock.
func (s *base) AllOrNothing(ctx context.Context, work func(ctx context.Context) error) error {
	return s.within(ctx, func(ctx context.Context, _ *gorm.DB) error { return work(ctx) })
}

// within runs work in one transaction, that which ctx is in already or one of its own; a deadlock or lock time-out is
// tried again. All that work asks, it asks with the context that it is given.
func (s *base) within(ctx context.Context, work func(ctx context.Context, tx *gorm.DB) error, options ...*sql.TxOptions) error {
	if _, in := ctx.Value(under{}).(*gorm.DB); in {
		return work(ctx, s.on(ctx))
	}
	var err error
	for range 4 {
		err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
			inner := context.WithValue(ctx, under{}, tx)
			return work(inner, tx.WithContext(inner))
		}, options...)
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
func (s *base) present(ctx context.Context, table, column string, keys []string, where string) (map[string]bool, error) {
	there := map[string]bool{}
	if len(keys) == 0 {
		return there, nil
	}
	var got []string
	err := s.on(ctx).Table(table).Where(column+" IN ?", keys).Where(where).Distinct().Pluck(column, &got).Error
	for _, key := range got {
		there[key] = true
	}
	return there, err
}

// In has days be days of a zone: that of the house. Usually it is the server's.
func (s *base) In(zone *time.Location) { s.zone = zone }

// Here is a time as the house's clocks tell it.
func (s *base) Here(t time.Time) time.Time { return t.In(s.zone) }

// Now is what the house's clocks tell.
func (s *base) Now() time.Time { return s.Here(s.now()) }

// Today is the day that it is in the house.
func (s *base) Today() string { return s.Now().Format(time.DateOnly) }

// SetClock makes a store date rows, and compare days, by another clock: for tests of what days bring.
func (s *base) SetClock(now func() time.Time) { s.now = now }

func (s *base) deleteInParts(ctx context.Context, table, where string, args ...any) error {
	for {
		res := s.on(ctx).Exec("DELETE FROM "+table+" WHERE "+where+fmt.Sprintf(" LIMIT %d", atATime), args...)
		if transient(res.Error) {
			continue
		}
		if res.Error != nil || res.RowsAffected < atATime {
			return res.Error
		}
	}
}
