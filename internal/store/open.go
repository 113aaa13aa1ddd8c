// Package store keeps a farm's records in MariaDB.
package store

import (
	"context"
	"database/sql"
	"fmt"
	"time"

	"github.com/go-sql-driver/mysql"
	gormmysql "gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// answerTimeout ends the wait for a database that took a statement and says nothing, a commit above all, which no
// context ends.
const answerTimeout = 15 * time.Second

// Open connects to a data source name and waits until the server answers or the context ends.
func Open(ctx context.Context, name string) (*gorm.DB, error) {
	cfg, err := settings(name)
	if err != nil {
		return nil, err
	}
	cfg.Params["innodb_lock_wait_timeout"] = "10" // a farm's lock is held for milliseconds; who waits longer is told
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

// settings are those of every connection.
func settings(name string) (*mysql.Config, error) {
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
	if cfg.Timeout == 0 {
		cfg.Timeout = 3 * time.Second
	}
	return mysql.ParseDSN(cfg.FormatDSN()) // some parameters are understood in a name only
}
