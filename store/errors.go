package store

import (
	"database/sql/driver"
	"errors"
	"net"

	"github.com/go-sql-driver/mysql"
)

// transient tells whether MariaDB gave up a transaction that may go through when tried again:
// 1213 is a deadlock, 1205 a lock wait time-out, 1020 a row changed since it was read.
func transient(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && (e.Number == 1213 || e.Number == 1205 || e.Number == 1020)
}

// Unreachable tells whether an error is that the database could not be asked, or did not answer.
func Unreachable(err error) bool {
	var n *net.OpError
	return errors.Is(err, driver.ErrBadConn) || errors.Is(err, mysql.ErrInvalidConn) || errors.As(err, &n) && n.Op == "dial"
}
