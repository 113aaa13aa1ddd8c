package store_test

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"fjell/core/land"
	"fjell/internal/store"
	"fjell/internal/store/storetest"
)

func TestProcessesThatStartAtOnceMigrateOnce(t *testing.T) {
	name := storetest.Name(t)
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	var wg sync.WaitGroup
	errs := make([]error, 4)
	for i := range errs {
		wg.Go(func() {
			errs[i] = store.Migrate(ctx, name)
		})
	}
	wg.Wait()
	assert.NoError(t, errors.Join(errs...))
}

func newFarm() store.Farm {
	return store.Farm{ID: uuid.Must(uuid.NewV7()).String(), Name: "Øvre Skarn", TimeZone: "Europe/Oslo", Units: "metric",
		Aims: store.JSON[[]string]{V: []string{"soil"}}, MoveMinutes: store.JSON[[]int]{V: []int{480}}, Version: 1, CreatedAt: time.Now().UTC()}
}

func TestShapesSurviveTheSpatialColumn(t *testing.T) {
	db := storetest.Open(t)
	farm := newFarm()
	require.NoError(t, db.Create(&farm).Error)
	field := store.Field{FarmID: farm.ID, ID: uuid.NewString(), Name: "Tjern", SwardID: "upland_bent_fescue", Version: 1}
	require.NoError(t, db.Create(&field).Error)
	shape := land.Shape{{{{9, 61}, {9.01, 61}, {9.01, 61.01}, {9, 61}}, {{9.006, 61.001}, {9.008, 61.001}, {9.008, 61.003}, {9.006, 61.001}}},
		{{{9.1, 61}, {9.11, 61}, {9.11, 61.01}, {9.1, 61}}}}
	row := store.FieldShape{FarmID: farm.ID, ID: uuid.NewString(), FieldID: field.ID, ValidFrom: "2026-05-01", Shape: store.Geometry{Shape: shape}, AreaHa: 3}
	require.NoError(t, db.Create(&row).Error)
	var got store.FieldShape
	require.NoError(t, db.First(&got).Error)
	assert.Equal(t, shape, got.Shape.Shape)
	assert.Equal(t, store.Day("2026-05-01"), got.ValidFrom)
	var srid, inside int
	require.NoError(t, db.Raw("SELECT ST_SRID(shape), MBRContains(shape, ST_PointFromText('POINT(9.005 61.002)', 4326)) FROM field_shapes").Row().Scan(&srid, &inside))
	assert.Equal(t, 4326, srid)
	assert.Equal(t, 1, inside, "the database can search by place")
}

func TestAForeignKeyCannotReachOverTheFarmWall(t *testing.T) {
	db := storetest.Open(t)
	mine, theirs := newFarm(), newFarm()
	require.NoError(t, db.Create(&mine).Error)
	require.NoError(t, db.Create(&theirs).Error)
	field := store.Field{FarmID: theirs.ID, ID: uuid.NewString(), Name: "Theirs", SwardID: "x", Version: 1}
	require.NoError(t, db.Create(&field).Error)
	err := db.Create(&store.Layout{FarmID: mine.ID, ID: uuid.NewString(), FieldID: field.ID, Name: "x"}).Error
	assert.ErrorIs(t, err, gorm.ErrForeignKeyViolated)
}

func TestAtomicallyTriesAgainAfterADeadlock(t *testing.T) {
	db := storetest.Open(t)
	runs := 0
	err := store.Atomically(context.Background(), db, func(*gorm.DB) error {
		if runs++; runs < 3 {
			return &mysql.MySQLError{Number: 1213, Message: "deadlock"}
		}
		return nil
	})
	assert.NoError(t, err)
	assert.Equal(t, 3, runs)
	runs = 0
	err = store.Atomically(context.Background(), db, func(*gorm.DB) error { runs++; return errors.New("no") })
	assert.Error(t, err)
	assert.Equal(t, 1, runs, "other errors are not tried again")
}
