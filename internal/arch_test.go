package internal_test

import (
	"encoding/json"
	"errors"
	"io"
	"os/exec"
	"strings"
	"testing"

	"bytes"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The direction of imports: web → studio → core, with store, exchange and
// device hanging on studio. The core knows nothing of pages, SQL or the wall
// clock, and nothing of the rest of the program.
func TestImportDirection(t *testing.T) {
	forbidden := []struct{ from, to, why string }{
		{"jevvo/internal/core/", "jevvo/internal/calc", "the core imports nothing from the other folders"},
		{"jevvo/internal/core/", "jevvo/internal/st", "the core imports nothing from the other folders"},
		{"jevvo/internal/core/", "jevvo/internal/web", "the core imports nothing from the other folders"},
		{"jevvo/internal/core/", "jevvo/internal/device", "the core imports nothing from the other folders"},
		{"jevvo/internal/core/", "jevvo/internal/exchange", "the core imports nothing from the other folders"},
		{"jevvo/internal/core/", "github.com/gin-gonic/", "the core knows nothing of pages"},
		{"jevvo/internal/core/", "database/sql", "the core knows nothing of SQL"},
		{"jevvo/internal/core/", "net/http", "the core knows nothing of pages"},
		{"jevvo/internal/core/", "html/template", "the core knows nothing of pages"},
		{"jevvo/internal/store", "jevvo/internal/", "the store stands alone"},
		{"jevvo/internal/studio", "jevvo/internal/web", "the studio knows nothing of pages"},
		{"jevvo/internal/studio", "github.com/gin-gonic/", "the studio knows nothing of pages"},
		{"jevvo/internal/studio", "database/sql", "only the store speaks SQL"},
		{"jevvo/internal/calc", "jevvo/internal/st", "calculators need only the core"},
		{"jevvo/internal/calc", "jevvo/internal/web", "calculators need only the core"},
		{"jevvo/internal/device", "jevvo/internal/st", "devices know nothing of the studio"},
		{"jevvo/internal/device", "jevvo/internal/web", "devices know nothing of pages"},
		{"jevvo/internal/exchange", "jevvo/internal/st", "formats know nothing of the studio"},
		{"jevvo/internal/web", "jevvo/internal/demo", "pages know nothing of the demo"},
		{"jevvo/internal/web", "database/sql", "only the store speaks SQL"},
	}
	packages := listPackages(t)
	require.Greater(t, len(packages), 12)
	for path, imports := range packages {
		for _, rule := range forbidden {
			if !strings.HasPrefix(path, rule.from) {
				continue
			}
			for _, i := range imports {
				assert.False(t, strings.HasPrefix(i, rule.to), "%s imports %s: %s", path, i, rule.why)
			}
		}
	}
}

func listPackages(t *testing.T) map[string][]string {
	t.Helper()
	out, err := exec.Command("go", "list", "-json=ImportPath,Imports", "jevvo/...").Output()
	require.NoError(t, err)
	packages := map[string][]string{}
	dec := json.NewDecoder(bytes.NewReader(out))
	for {
		var p struct {
			ImportPath string
			Imports    []string
		}
		err := dec.Decode(&p)
		if errors.Is(err, io.EOF) {
			return packages
		}
		require.NoError(t, err)
		packages[p.ImportPath] = p.Imports
	}
}

// The core takes its time as an argument.
func TestCoreDoesNotReadTheClock(t *testing.T) {
	out, err := exec.Command("grep", "-rln", "--include=*.go", "--exclude=*_test.go", "time\\.Now", "core").CombinedOutput()
	assert.Error(t, err, "found in %s", out) // grep exits 1 when nothing is found
	assert.Empty(t, string(out))
}
