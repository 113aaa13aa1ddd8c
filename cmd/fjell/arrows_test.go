package main

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// place is what the package of a place may import: never another place. What two places need goes down into season.
const place = "core internal/store internal/exchange internal/standin internal/farm internal/farm/facts internal/farm/season"

// arrows says what each package of the house may import of it. An arrow that is not here is not drawn by accident: draw it
// here first, and say in CONTRIBUTING.md what it is for.
var arrows = map[string]string{
	"core/quantity":            "",
	"core/working":             "quantity",
	"core/forage":              "quantity working",
	"core/reference":           "forage quantity",
	"core/land":                "quantity",
	"core/weather":             "quantity working",
	"core/stock":               "quantity working",
	"core/grazing":             "forage quantity reference working",
	"core/measuring":           "forage quantity reference working",
	"core/chance":              "",
	"core/rotation":            "forage grazing land quantity working weather core/rotation/plan",
	"core/rotation/plan":       "chance quantity",
	"core/nutrient":            "grazing quantity working",
	"core/year":                "chance grazing nutrient quantity reference working",
	"core/queue":               "grazing quantity rotation working",
	"core/reckon":              "forage grazing quantity stock working",
	"core/offline":             "grazing measuring quantity reckon reference",
	"internal/store":           "core",
	"internal/store/storetest": "internal/store",
	"internal/exchange":        "core",
	"internal/standin":         "core",
	"internal/farm":            "core internal/store",
	"internal/farm/facts":      "core internal/store internal/farm",
	"internal/farm/season":     "core internal/store internal/farm internal/farm/facts",
	"internal/farm/people":     "core internal/store internal/farm",
	"internal/farm/ground":     place,
	"internal/farm/herd":       place,
	"internal/farm/walk":       place,
	"internal/farm/moves":      place,
	"internal/farm/yard":       place,
	"internal/farm/queue":      place,
	"internal/farm/year":       place,
	"internal/farm/today":      place + " internal/farm/herd internal/farm/moves",                                                             // it composes the other places
	"internal/farm/decisions":  place + " internal/farm/ground internal/farm/herd internal/farm/moves internal/farm/queue internal/farm/yard", // a decision writes by theirs
	"internal/house":           "internal/farm places",
	"internal/demo":            "core internal/store internal/standin internal/farm places internal/house",
	"internal/httpapi":         "core internal/store internal/exchange internal/standin internal/farm places internal/house",
	"cmd/fjell":                "core internal",
	"cmd/fjell-core":           "core",
}

// outside is what core may import beside itself and the standard library, and what it may not of that.
var (
	outside = []string{"github.com/peterstace/simplefeatures/", "gonum.org/v1/gonum/"}
	never   = []string{"net/http", "database/sql", "math/rand", "math/rand/v2", "os"}
)

func TestArrowsRunOneWay(t *testing.T) {
	list := exec.Command("go", "list", "-f", `{{.ImportPath}}|{{join .Imports " "}}`, "fjell/core/...", "fjell/internal/...", "fjell/cmd/fjell")
	out, err := list.CombinedOutput()
	require.NoError(t, err, string(out))
	seen := 0
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		pkg, imports, _ := strings.Cut(line, "|")
		pkg = strings.TrimPrefix(pkg, "fjell/")
		may, known := arrows[pkg]
		if !assert.True(t, known, "%s is not in the house yet: say what it may import", pkg) {
			continue
		}
		seen++
		for _, im := range strings.Fields(imports) {
			inside, ours := strings.CutPrefix(im, "fjell/")
			switch {
			case ours:
				allowed := false
				for _, a := range strings.Fields(may) {
					allowed = allowed || inside == a || inside == "core/"+a || strings.HasPrefix(inside, a+"/") && (a == "core" || a == "internal") ||
						a == "places" && strings.HasPrefix(inside, "internal/farm/")
				}
				assert.True(t, allowed, "%s → %s", pkg, inside)
			case strings.HasPrefix(pkg, "core/"):
				first, _, _ := strings.Cut(im, "/")
				fine := !strings.Contains(first, ".")
				for _, o := range outside {
					fine = fine || strings.HasPrefix(im, o)
				}
				assert.True(t, fine, "%s imports %s", pkg, im)
				assert.NotContains(t, never, im, "%s: no HTTP, database, randomness or files in core", pkg)
			}
		}
	}
	assert.GreaterOrEqual(t, seen, len(arrows)-1)
}
