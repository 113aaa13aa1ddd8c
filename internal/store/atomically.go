package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"time"

	"github.com/go-sql-driver/mysql"
	"gorm.io/gorm"
)

// ErrUnknown says that a commit was sent and its answer never came, and that the database could not be asked again in
// time: what was to be written may be there.
var ErrUnknown = errors.New("the database did not say whether it kept this")

// ErrGone says that the database did not answer. Nothing was written.
var ErrGone = errors.New("the database does not answer")

// patience is how long a lost connection is tried again for.
const patience = 4 * time.Second

// Atomically runs work in one transaction. It is tried again, with jitter and within the context's deadline, when the
// database broke it off to resolve a deadlock, a lock wait or a failed certification in a cluster, and when the
// connection was lost. work must therefore be safe to run twice; where its commit may have been kept without our
// hearing of it, it must find that out by itself (by the id of the write), which the second run gives it the chance
// to do. The error is ErrUnknown when that could not be found out, ErrGone when the database did not answer at all.
func Atomically(ctx context.Context, db *gorm.DB, work func(tx *gorm.DB) error) error {
	return persist(ctx, db, nil, work)
}

// Snapshot runs work on one consistent view of the database, over one connection. Nothing can be written.
func Snapshot(ctx context.Context, db *gorm.DB, work func(tx *gorm.DB) error) error {
	return persist(ctx, db, &sql.TxOptions{ReadOnly: true}, work)
}

func persist(ctx context.Context, db *gorm.DB, options *sql.TxOptions, work func(tx *gorm.DB) error) error {
	began, unknown := time.Now(), false
	for attempt := 1; ; attempt++ {
		sent, err := try(ctx, db, options, work)
		switch {
		case err == nil:
			return nil
		case sent:
			unknown = true
		case !brokenOff(err) && !Lost(err):
			if unknown && ctx.Err() != nil {
				return fmt.Errorf("%w: %w", ErrUnknown, err)
			}
			return err // work itself said no, after it had the chance to see what an earlier run left
		}
		// A lost connection is tried for a while, a deadlock as long as the request may last.
		spent := attempt >= 30 || Lost(err) && time.Since(began) > patience
		if !spent {
			wait := min(400*time.Millisecond, time.Duration(4<<min(attempt, 7))*time.Millisecond)
			select {
			case <-ctx.Done():
				spent = true
			case <-time.After(wait/2 + rand.N(wait)):
			}
		}
		if spent {
			switch {
			case unknown:
				return fmt.Errorf("%w: %w", ErrUnknown, err)
			case ctx.Err() != nil:
				return ctx.Err()
			case Lost(err):
				return fmt.Errorf("%w: %w", ErrGone, err)
			}
			return err
		}
	}
}

// try is one run. sent is true when the commit was sent and nobody knows what became of it.
func try(ctx context.Context, db *gorm.DB, options *sql.TxOptions, work func(tx *gorm.DB) error) (sent bool, err error) {
	tx := db.WithContext(ctx).Begin(options)
	if tx.Error != nil {
		return false, tx.Error
	}
	finished := false
	defer func() {
		if !finished { // work failed, or panicked
			tx.Rollback()
		}
	}()
	if err := work(tx); err != nil {
		return false, err
	}
	finished = true
	err = tx.Commit().Error
	switch {
	case err == nil, options != nil && options.ReadOnly:
		return false, nil
	case errors.Is(err, sql.ErrTxDone), ctx.Err() != nil && errors.Is(err, ctx.Err()):
		return false, err // the context ended first: the transaction was rolled back, not sent
	case brokenOff(err):
		return false, err
	}
	var refused *mysql.MySQLError
	return !errors.As(err, &refused) || Lost(err), err
}

// brokenOff tells whether the database rolled a transaction back for reasons that may be gone the next time.
func brokenOff(err error) bool {
	var e *mysql.MySQLError
	if !errors.As(err, &e) {
		return false
	}
	switch e.Number {
	case 1213, // deadlock
		1205, // lock wait timeout
		1020, // record has changed since last read
		1047: // node of a cluster is not ready
		return true
	}
	return false
}

// Lost tells whether an error means that the connection is gone, or could not be made.
func Lost(err error) bool {
	var e *mysql.MySQLError
	if errors.As(err, &e) {
		switch e.Number {
		case 1053, // server shutdown
			1927, 1317, // connection or query killed
			1040, 1203, // too many connections
			1152, 1153, 1158, 1159, 1160, 1161, 1184: // aborted, network
			return true
		}
		return false
	}
	var network *net.OpError
	return errors.Is(err, driver.ErrBadConn) || errors.Is(err, mysql.ErrInvalidConn) || errors.Is(err, sql.ErrConnDone) ||
		errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) || errors.As(err, &network)
}
