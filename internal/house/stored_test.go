package house_test

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/moves"
	"fjell/internal/store"
)

// shapeOf is how a type is written as JSON: names of fields and kinds of values.
func shapeOf(t reflect.Type, depth int) any {
	if depth > 6 {
		return "…"
	}
	switch {
	case t == reflect.TypeFor[time.Time](), t == reflect.TypeFor[json.RawMessage]():
		return t.String()
	case t.Kind() == reflect.Pointer:
		return shapeOf(t.Elem(), depth)
	case t.Kind() == reflect.Slice, t.Kind() == reflect.Array:
		return []any{shapeOf(t.Elem(), depth+1)}
	case t.Kind() == reflect.Map:
		return map[string]any{"*": shapeOf(t.Elem(), depth+1)}
	case t.Kind() != reflect.Struct:
		return t.Kind().String()
	}
	out := map[string]any{}
	for i := range t.NumField() {
		f := t.Field(i)
		tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if tag == "-" || !f.IsExported() {
			continue
		}
		inner := shapeOf(f.Type, depth+1)
		if nested, ok := inner.(map[string]any); ok && f.Anonymous && tag == "" {
			for k, v := range nested {
				out[k] = v
			}
			continue
		}
		if tag == "" {
			tag = f.Name
		}
		out[tag] = inner
	}
	return out
}

// What is kept as JSON is read again for years. This is how each of it is written; a name that changes here would rewrite
// history. Add to a shape, or give what is stored a struct of its own; FJELL_GOLDEN=write writes the shapes anew.
func TestWhatIsStoredKeepsItsShape(t *testing.T) {
	shapes := map[string]any{
		"plan_mobs.school":     shapeOf(reflect.TypeFor[grazing.School](), 0),
		"measurements.details": shapeOf(reflect.TypeFor[measuring.Input](), 0),
		"calibrations.pairs":   shapeOf(reflect.TypeFor[[]forage.Pair](), 0),
		"heights.contours":     shapeOf(reflect.TypeFor[[]land.Contour](), 0),
		"paddocks.limits":      shapeOf(reflect.TypeFor[[]store.PaddockLimit](), 0),
		"mobs.housed":          shapeOf(reflect.TypeFor[[]store.Housed](), 0),
		"groups.supplements":   shapeOf(reflect.TypeFor[[]store.Supplement](), 0),
		"farms.away":           shapeOf(reflect.TypeFor[[]store.Away](), 0),
		"searches.moves":       shapeOf(reflect.TypeFor[[]store.FoundMove](), 0),
		"accepted_plans":       shapeOf(reflect.TypeFor[[]moves.VisitView](), 0),
		"land_steps.changes":   shapeOf(reflect.TypeFor[[]store.RowChange](), 0),
	}
	for name, row := range ground.LandTables {
		shapes["land_steps of "+name] = shapeOf(row, 0)
	}
	names := make([]string, 0, len(shapes))
	for name := range shapes {
		names = append(names, name)
	}
	sort.Strings(names)
	var text strings.Builder
	for _, name := range names {
		raw, err := json.Marshal(shapes[name]) // keys of maps are written in order
		require.NoError(t, err)
		fmt.Fprintf(&text, "%s %s\n", name, raw)
	}
	golden := filepath.Join("testdata", "stored.txt")
	if os.Getenv("FJELL_GOLDEN") == "write" {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(golden, []byte(text.String()), 0o600))
	}
	want, err := os.ReadFile(golden)
	require.NoError(t, err)
	assert.Equal(t, strings.Split(string(want), "\n"), strings.Split(text.String(), "\n"))
}
