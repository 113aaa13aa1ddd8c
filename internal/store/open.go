// Package store keeps a farm's records in MariaDB.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	gormmysql "gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Open connects to a data source name and waits until the server answers or the context ends.
func Open(ctx context.Context, name string) (*gorm.DB, error) {
	cfg, err := mysql.ParseDSN(name)
	if err != nil {
		return nil, fmt.Errorf("data source name: %w", err)
	}
	cfg.ParseTime, cfg.Loc = true, time.UTC
	if cfg.Params == nil {
		cfg.Params = map[string]string{}
	}
	cfg.Params["charset"] = "utf8mb4"
	cfg.Params["time_zone"] = "'+00:00'"
	cfg.Params["sql_mode"] = "'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO'"
	cfg.InterpolateParams = true // one round trip a query
	pool, err := sql.Open("mysql", cfg.FormatDSN())
	if err != nil {
		return nil, fmt.Errorf("open database: %w", err)
	}
	pool.SetMaxOpenConns(40)
	pool.SetMaxIdleConns(20)
	pool.SetConnMaxLifetime(30 * time.Minute)
	for {
		if err = pool.PingContext(ctx); err == nil {
			break
		}
		select {
		case <-ctx.Done():
			return nil, fmt.Errorf("database does not answer: %w", err)
		case <-time.After(200 * time.Millisecond):
		}
	}
	db, err := gorm.Open(gormmysql.New(gormmysql.Config{Conn: pool, DontSupportRenameColumn: true}), &gorm.Config{
		Logger: logger.Default.LogMode(logger.Silent), SkipDefaultTransaction: true, TranslateError: true,
		NowFunc: func() time.Time { return time.Now().UTC() },
	})
	if err != nil {
		return nil, fmt.Errorf("open database: %w", err)
	}
	return db, nil
}

// Migrate brings the schema up to date. Processes that start at once take turns under a lock in the database.
func Migrate(ctx context.Context, db *gorm.DB) error {
	pool, err := db.DB()
	if err != nil {
		return err
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewMySQLTableLocker(lock.WithTableLockTimeout(100*time.Millisecond, 600))
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectMySQL, pool, files, goose.WithLocker(locker), goose.WithSlog(slog.New(slog.DiscardHandler)))
	if err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrate: %w", err)
	}
	return nil
}

// Atomically runs work in one transaction and tries again when the database broke it off to resolve a deadlock, a
// lock wait or a failed certification in a cluster. work must therefore be safe to run twice.
func Atomically(ctx context.Context, db *gorm.DB, work func(tx *gorm.DB) error) error {
	for attempt := 1; ; attempt++ {
		err := db.WithContext(ctx).Transaction(work)
		if !again(err) || attempt == 5 {
			return err
		}
		select {
		case <-ctx.Done():
			return err
		case <-time.After(time.Duration(attempt*attempt) * 10 * time.Millisecond):
		}
	}
}

func again(err error) bool {
	var e *mysql.MySQLError
	if !errors.As(err, &e) {
		return false
	}
	return e.Number == 1213 || e.Number == 1205 || e.Number == 1020 || e.Number == 1047
}
