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
	t.Cleanup(func() {
		if err := db.Exec("DROP DATABASE " + name).Error; err != nil {
			t.Errorf("drop %s: %v", name, err)
		}
		if pool, err := db.DB(); err == nil {
			pool.Close()
		}
	})
	cut := strings.LastIndex(base, "/")
	return fmt.Sprintf("%s/%s", base[:cut], name)
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
