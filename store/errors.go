package store

import (
	"errors"

	"github.com/go-sql-driver/mysql"
)

// transient tells whether MariaDB gave up a transaction that may go through when tried again:
// 1213 is a deadlock, 1205 a lock wait time-out, 1020 a row changed since it was read.
func transient(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && (e.Number == 1213 || e.Number == 1205 || e.Number == 1020)
}
