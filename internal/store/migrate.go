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
)

//go:embed migrations/*.sql
var migrations embed.FS

// How long a server that died while it migrated keeps the others waiting, and how long they wait at most.
const (
	migrationLease = 10 * time.Second
	migrationTries = 36_000 // a tenth of a second each
)

// migrator is a database whose schema is brought up to date, over a pool of its own: a step may take as long as the
// data need.
type migrator struct {
	pool     *sql.DB
	provider *goose.Provider
	name     string // of the database
}

func openMigrator(name string) (*migrator, error) {
	cfg, err := settings(name)
	if err != nil {
		return nil, err
	}
	connector, err := mysql.NewConnector(cfg)
	if err != nil {
		return nil, fmt.Errorf("open database: %w", err)
	}
	return newMigrator(sql.OpenDB(connector), cfg.DBName, migrationTries)
}

func newMigrator(pool *sql.DB, name string, tries uint64) (*migrator, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	locker, err := lock.NewMySQLTableLocker(lock.WithTableLockTimeout(100*time.Millisecond, tries), lock.WithTableUnlockTimeout(50*time.Millisecond, min(tries, 20)), lock.WithTableLeaseDuration(migrationLease),
		lock.WithTableHeartbeatInterval(migrationLease/5))
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectMySQL, pool, files, goose.WithLocker(locker), goose.WithSlog(slog.New(slog.DiscardHandler)))
	if err != nil {
		return nil, fmt.Errorf("migrations: %w", err)
	}
	return &migrator{pool, provider, name}, nil
}

func (m *migrator) up(ctx context.Context) error {
	if _, err := m.provider.Up(ctx); err != nil {
		return fmt.Errorf("migrate: %w", err)
	}
	return nil
}

// Migrate brings the schema of a data source up to date. Processes that start at once take turns under a lock in the
// database. It may be stopped at any moment and goes on from there the next time.
func Migrate(ctx context.Context, name string) error {
	m, err := openMigrator(name)
	if err != nil {
		return err
	}
	defer m.pool.Close()
	return m.up(ctx)
}

// SchemaStatus is the version of a database's schema, the one this program needs, and how many farms it holds.
type SchemaStatus struct {
	Version, Wanted int64
	Farms           int64
}

// Pending tells whether the schema is older than this program needs.
func (s SchemaStatus) Pending() bool { return s.Version < s.Wanted }

// Status tells how far a data source's schema is.
func Status(ctx context.Context, name string) (SchemaStatus, error) {
	m, err := openMigrator(name)
	if err != nil {
		return SchemaStatus{}, err
	}
	defer m.pool.Close()
	var s SchemaStatus
	if s.Version, s.Wanted, err = m.provider.GetVersions(ctx); err != nil {
		return s, fmt.Errorf("version of the database: %w", err)
	}
	if s.Version > s.Wanted {
		return s, fmt.Errorf("this database is of version %d, newer than this program's %d: use a newer program", s.Version, s.Wanted)
	}
	err = m.pool.QueryRowContext(ctx, "SELECT COUNT(*) FROM farms").Scan(&s.Farms)
	var missing *mysql.MySQLError
	if errors.As(err, &missing) && missing.Number == 1146 {
		err = nil
	}
	return s, err
}

// Copy copies every table of a data source into a database of its own beside it, and returns its name. Nothing should
// write meanwhile.
func Copy(ctx context.Context, name string) (string, error) {
	status, err := Status(ctx, name)
	if err != nil {
		return "", err
	}
	m, err := openMigrator(name)
	if err != nil {
		return "", err
	}
	defer m.pool.Close()
	to := fmt.Sprintf("%s_before_%d_%s", m.name, status.Wanted, time.Now().UTC().Format("20060102150405"))
	if _, err := m.pool.ExecContext(ctx, "CREATE DATABASE `"+to+"` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"); err != nil {
		return "", fmt.Errorf("make the database of the copy: %w", err)
	}
	rows, err := m.pool.QueryContext(ctx, "SELECT table_name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE'", m.name)
	if err != nil {
		return "", err
	}
	defer rows.Close()
	var tables []string
	for rows.Next() {
		var table string
		if err := rows.Scan(&table); err != nil {
			return "", err
		}
		tables = append(tables, table)
	}
	if err := rows.Err(); err != nil {
		return "", err
	}
	for _, table := range tables {
		for _, statement := range []string{"CREATE TABLE `%s`.`%s` LIKE `%s`.`%s`", "INSERT INTO `%s`.`%s` SELECT * FROM `%s`.`%s`"} {
			if _, err := m.pool.ExecContext(ctx, fmt.Sprintf(statement, to, table, m.name, table)); err != nil {
				return "", fmt.Errorf("copy %s: %w", table, err)
			}
		}
	}
	return to, nil
}
