// Package core_test holds the rule that the computation stands alone.
package core_test

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestCoreImportsNothingOutside(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}:{{join .Imports " "}}`, "fjell/core/...").CombinedOutput()
	require.NoError(t, err, string(out))
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	require.Greater(t, len(lines), 7)
	for _, line := range lines {
		pkg, imports, _ := strings.Cut(line, ":")
		for _, im := range strings.Fields(imports) {
			first, _, _ := strings.Cut(im, "/")
			standard := !strings.Contains(first, ".") && first != "fjell"
			allowed := standard || strings.HasPrefix(im, "fjell/core/") || strings.HasPrefix(im, "github.com/peterstace/simplefeatures/") || strings.HasPrefix(im, "gonum.org/v1/gonum/")
			require.True(t, allowed, "%s imports %s", pkg, im)
			require.NotContains(t, []string{"net/http", "database/sql", "math/rand", "math/rand/v2", "os"}, im, "%s: no HTTP, database, randomness or files", pkg)
		}
	}
}
