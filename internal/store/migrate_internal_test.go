package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var errKilled = errors.New("killed here")

// mortal lets so many statements through and dies at the next one, before or after the database did it: what a process
// does that is killed.
type mortal struct {
	driver.Connector
	left  *atomic.Int64
	after bool
}

func (m mortal) Connect(ctx context.Context) (driver.Conn, error) {
	if m.left.Load() < 0 {
		return nil, errKilled
	}
	c, err := m.Connector.Connect(ctx)
	if err != nil {
		return nil, err
	}
	return &mortalConn{c, m}, nil
}

type mortalConn struct {
	driver.Conn
	m mortal
}

func (c *mortalConn) ExecContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Result, error) {
	if c.m.left.Add(-1) < 0 {
		if c.m.after && c.m.left.Load() == -1 {
			_, _ = c.Conn.(driver.ExecerContext).ExecContext(ctx, query, args)
		}
		_ = c.Conn.Close()
		return nil, errKilled
	}
	return c.Conn.(driver.ExecerContext).ExecContext(ctx, query, args)
}

func (c *mortalConn) QueryContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Rows, error) {
	if c.m.left.Load() < 0 {
		return nil, errKilled
	}
	return c.Conn.(driver.QueryerContext).QueryContext(ctx, query, args)
}

func (c *mortalConn) BeginTx(ctx context.Context, opts driver.TxOptions) (driver.Tx, error) {
	return c.Conn.(driver.ConnBeginTx).BeginTx(ctx, opts)
}

func (c *mortalConn) CheckNamedValue(v *driver.NamedValue) error {
	return c.Conn.(driver.NamedValueChecker).CheckNamedValue(v)
}

// scratch is an empty database of the test server; it is named as storetest names its own.
func scratch(t *testing.T) (name string, cfg *mysql.Config) {
	t.Helper()
	base := os.Getenv("FJELL_TEST_DATABASE")
	require.NotEmpty(t, base, "run the tests with make test")
	db := "fjell_" + strings.ReplaceAll(uuid.NewString(), "-", "")[:20]
	server, err := sql.Open("mysql", base)
	require.NoError(t, err)
	_, err = server.Exec("CREATE DATABASE " + db + " CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
	require.NoError(t, err)
	t.Cleanup(func() {
		_, err := server.Exec("DROP DATABASE " + db)
		assert.NoError(t, err)
		server.Close()
	})
	name = base[:strings.LastIndex(base, "/")] + "/" + db
	cfg, err = settings(name)
	require.NoError(t, err)
	return name, cfg
}

// schema is every table with its columns and keys, as text.
func schema(t *testing.T, pool *sql.DB) string {
	t.Helper()
	var out strings.Builder
	rows, err := pool.Query("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name NOT LIKE 'goose%' ORDER BY table_name")
	require.NoError(t, err)
	var tables []string
	for rows.Next() {
		var table string
		require.NoError(t, rows.Scan(&table))
		tables = append(tables, table)
	}
	for _, table := range tables {
		var name, create string
		require.NoError(t, pool.QueryRow("SHOW CREATE TABLE `"+table+"`").Scan(&name, &create))
		if i := strings.Index(create, " AUTO_INCREMENT="); i > 0 {
			create = create[:i]
		}
		out.WriteString(create + "\n")
	}
	return out.String()
}

// fill puts a farm into a database of a released version: rows that later versions move about.
func fill(t *testing.T, pool *sql.DB, version int64) {
	t.Helper()
	run := func(statement string) {
		t.Helper()
		_, err := pool.Exec(statement)
		require.NoError(t, err, statement)
	}
	if version < 1 {
		return
	}
	run("INSERT INTO users VALUES ('u', 'ida@example.org', 'Ida', 'x', NOW(6))")
	run("INSERT INTO farms (id, name, place, time_zone, units, aims, experience, longitude, latitude, move_minutes, version, created_at) VALUES ('f', 'Skarn', '', 'Europe/Oslo', 'metric', '[]', 'some', 9, 61, '[480]', 1, NOW(6))")
	run("INSERT INTO fields VALUES ('f', 'fi', 'Nedre', 'x', NULL, 1)")
	if version == 1 {
		run("INSERT INTO layouts VALUES ('f', 'l', 'fi', 'summer', '2026-05-01', NULL)")
	} else {
		run("INSERT INTO layouts (farm_id, id, field_id, name) VALUES ('f', 'l', 'fi', 'summer')")
		run("INSERT INTO layout_spans VALUES ('f', 'l', 'fi', 'l', '2026-05-01', NULL, TRUE)")
		for i := range 3 {
			run(fmt.Sprintf("INSERT INTO land_steps VALUES ('f', 's%d', 'b', 'x', '[]', FALSE, '2026-05-0%d', 'u')", i, 3-i))
		}
	}
	run("INSERT INTO mobs VALUES ('f', 'm', 'Cows', 'C', 'circle', '2026-05-01', NULL, 1)")
	if version < 3 {
		run("INSERT INTO mob_classes VALUES ('f', 'm', 0, 'beef_cow_dry', 'Cows', 30, 600, 0.02, 2, 1, 0), ('f', 'm', 1, 'beef_bull', 'Bull', 1, 900, 0.02, 0, 1, 0)")
	} else {
		run("INSERT INTO stock_groups VALUES ('f', 'g', 'm', 0, 'beef_cow_dry', 'Cows', '2026-05-01', 30, 600, 0.02, 0, '[]'), ('f', 'h', 'm', 1, 'beef_bull', 'Bull', '2026-05-01', 1, 900, 0.02, 0, '[]')")
	}
	run("INSERT INTO plans (farm_id, id, starts_on, days, version, created_at) VALUES ('f', 'p1', '2026-05-01', 20, 1, '2026-05-02'), ('f', 'p2', '2026-05-01', 20, 1, '2026-05-01')")
}

// check tells whether what was filled in is there, moved to where it belongs now.
func check(t *testing.T, pool *sql.DB, version int64, about string) {
	t.Helper()
	if version < 1 {
		return
	}
	count := func(want int, query string) {
		t.Helper()
		var n int
		require.NoError(t, pool.QueryRow(query).Scan(&n), "%s: %s", about, query)
		assert.Equal(t, want, n, "%s: %s", about, query)
	}
	count(1, "SELECT COUNT(*) FROM layout_spans WHERE holds_from = '2026-05-01' AND carried")
	count(2, "SELECT COUNT(*) FROM stock_groups")
	count(31, "SELECT SUM(head) FROM stock_groups")
	count(1, "SELECT COUNT(*) FROM plans WHERE id = 'p1' AND seq = (SELECT MAX(seq) FROM plans)")
	count(1, "SELECT COUNT(*) FROM farms WHERE facts_version > (SELECT MAX(seq) FROM plans)")
	if version >= 2 {
		count(1, "SELECT COUNT(*) FROM land_steps WHERE id = 's0' AND seq = (SELECT MAX(seq) FROM land_steps)")
	}
}

// A server that is killed in the middle of a migration leaves a schema from which the next start goes on, from every
// released version and at every statement. FJELL_FAULTS=all dies at all of them; otherwise at some, others each time.
func TestAMigrationGoesOnFromWhereverItWasStopped(t *testing.T) {
	name, _ := scratch(t)
	ctx := context.Background()
	require.NoError(t, Migrate(ctx, name))
	cfg, err := settings(name)
	require.NoError(t, err)
	reference := sql.OpenDB(must(mysql.NewConnector(cfg)))
	defer reference.Close()
	want := schema(t, reference)

	step := int64(9)
	if os.Getenv("FJELL_FAULTS") == "all" {
		step = 1
	}
	offset := time.Now().UnixNano() % step
	for released := range int64(4) {
		for at := offset; ; at += step {
			about := fmt.Sprintf("from version %d, killed at statement %d", released, at)
			again, cfg := scratch(t)
			connector := must(mysql.NewConnector(cfg))
			pool := sql.OpenDB(connector)
			if released > 0 {
				m, err := newMigrator(pool, cfg.DBName, migrationTries)
				require.NoError(t, err)
				_, err = m.provider.UpTo(ctx, released)
				require.NoError(t, err)
			}
			fill(t, pool, released)
			var left atomic.Int64
			left.Store(at)
			dying := sql.OpenDB(mortal{connector, &left, at%2 == 1})
			m, err := newMigrator(dying, cfg.DBName, 2)
			require.NoError(t, err)
			once, cancel := context.WithTimeout(ctx, 5*time.Second)
			died := m.up(once)
			cancel()
			dying.Close()
			// The lease of whoever died runs out by itself; a test does not wait for it.
			_, _ = pool.Exec("DELETE FROM goose_lock")
			var group sync.WaitGroup
			starts := make([]error, 1+3*(at%2))
			for i := range starts {
				group.Go(func() { starts[i] = Migrate(ctx, again) })
			}
			group.Wait()
			require.NoError(t, errors.Join(starts...), about)
			assert.Equal(t, want, schema(t, pool), about)
			check(t, pool, released, about)
			pool.Close()
			if died == nil {
				break // it was done before it was to die
			}
		}
	}
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

func TestStatusAndCopy(t *testing.T) {
	ctx := context.Background()
	name, cfg := scratch(t)
	pool := sql.OpenDB(must(mysql.NewConnector(cfg)))
	defer pool.Close()
	status, err := Status(ctx, name)
	require.NoError(t, err)
	assert.True(t, status.Pending())
	assert.Zero(t, status.Farms)
	m, err := newMigrator(pool, cfg.DBName, migrationTries)
	require.NoError(t, err)
	_, err = m.provider.UpTo(ctx, 3)
	require.NoError(t, err)
	fill(t, pool, 3)
	status, err = Status(ctx, name)
	require.NoError(t, err)
	assert.EqualValues(t, 1, status.Farms)
	assert.EqualValues(t, 3, status.Version)
	copied, err := Copy(ctx, name)
	require.NoError(t, err)
	defer func() { _, _ = pool.Exec("DROP DATABASE " + copied) }()
	require.NoError(t, Migrate(ctx, name))
	var head int
	require.NoError(t, pool.QueryRow("SELECT SUM(head) FROM `"+copied+"`.stock_groups").Scan(&head))
	assert.Equal(t, 31, head)
	var version int
	require.NoError(t, pool.QueryRow("SELECT MAX(version_id) FROM `"+copied+"`.goose_db_version").Scan(&version))
	assert.Equal(t, 3, version, "the copy is of before")
}
