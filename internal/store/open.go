// Package store keeps a farm's records in MariaDB.
package store

import (
	"context"
	"database/sql"
	"embed"
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

// answerTimeout ends the wait for a database that took a statement and says nothing, a commit above all, which no
// context ends.
const answerTimeout = 15 * time.Second

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
	cfg.Params["innodb_lock_wait_timeout"] = "10" // a farm's lock is held for milliseconds; who waits longer is told
	cfg.InterpolateParams = true                  // one round trip a query
	if cfg.Timeout == 0 {
		cfg.Timeout = 3 * time.Second
	}
	if cfg.ReadTimeout == 0 {
		cfg.ReadTimeout = answerTimeout
	}
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
	return db, watch(db)
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
