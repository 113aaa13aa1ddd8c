// Package storetest gives a test its own throw-away database on the private test server.
package storetest

import (
	"context"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"fjell/internal/store"
)

// Variable names the data source of the private test server; scripts/mariadb.sh starts one.
const Variable = "FJELL_TEST_DATABASE"

// Name creates an empty database, dropped when the test ends, and returns its data source name.
func Name(t testing.TB) string {
	t.Helper()
	name, db := create(t)
	t.Cleanup(func() {
		if err := db.Exec("DROP DATABASE " + name[strings.LastIndex(name, "/")+1:]).Error; err != nil {
			t.Errorf("drop %s: %v", name, err)
		}
		if pool, err := db.DB(); err == nil {
			pool.Close()
		}
	})
	return name
}

// Lasting creates an empty database that outlives the test; it goes with the private server.
func Lasting(t testing.TB) string {
	t.Helper()
	name, db := create(t)
	pool, err := db.DB()
	require.NoError(t, err)
	pool.Close()
	return name
}

func create(t testing.TB) (dsn string, db *gorm.DB) {
	t.Helper()
	base := os.Getenv(Variable)
	if base == "" {
		t.Fatalf("%s is not set: run the tests with make test, or start a server with scripts/mariadb.sh", Variable)
	}
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	db, err := store.Open(ctx, base)
	require.NoError(t, err)
	name := "fjell_" + strings.ReplaceAll(uuid.NewString(), "-", "")[:20]
	require.NoError(t, db.Exec("CREATE DATABASE "+name+" CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci").Error)
	cut := strings.LastIndex(base, "/")
	return fmt.Sprintf("%s/%s", base[:cut], name), db
}

// Copy is a database like another, with all that is in it: whatever takes long to make is made once. from is its data source name.
func Copy(t testing.TB, from string) string {
	t.Helper()
	to := Name(t)
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	db, err := store.Open(ctx, to)
	require.NoError(t, err)
	pool, err := db.DB()
	require.NoError(t, err)
	defer pool.Close()
	source := from[strings.LastIndex(from, "/")+1:]
	if i := strings.IndexByte(source, '?'); i >= 0 {
		source = source[:i]
	}
	require.NoError(t, db.WithContext(ctx).Connection(func(one *gorm.DB) error {
		if err := one.Exec("SET FOREIGN_KEY_CHECKS = 0").Error; err != nil {
			return err
		}
		var tables []string
		if err := one.Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = ?", source).Scan(&tables).Error; err != nil {
			return err
		}
		for _, table := range tables {
			var made struct {
				Table       string
				CreateTable string `gorm:"column:Create Table"`
			}
			if err := one.Raw("SHOW CREATE TABLE `" + source + "`.`" + table + "`").Scan(&made).Error; err != nil {
				return err
			}
			for _, statement := range []string{made.CreateTable, "INSERT INTO `" + table + "` SELECT * FROM `" + source + "`.`" + table + "`"} {
				if err := one.Exec(statement).Error; err != nil {
					return fmt.Errorf("copy %s: %w", table, err)
				}
			}
		}
		return nil
	}))
	return to
}

// Open is a migrated throw-away database.
func Open(t testing.TB) *gorm.DB {
	t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	name := Name(t)
	require.NoError(t, store.Migrate(ctx, name))
	db, err := store.Open(ctx, name)
	require.NoError(t, err)
	t.Cleanup(func() {
		if pool, err := db.DB(); err == nil {
			pool.Close()
		}
	})
	return db
}
