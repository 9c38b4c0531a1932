package internal_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"path"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// rooms names every folder with the folders it may import; a star stands for
// all below. The direction is core ← studio ← web and cmd; a folder that is not
// named here has not been thought about yet.
var rooms = map[string]string{
	"core/refusal": "", "core/units": "core/refusal", "core/numeric": "", "core/schedule": "core/refusal",
	"core/money": "core/refusal", "core/ledger": "core/refusal",
	"core/geom": "core/units", "core/resin": "core/units core/refusal",
	"core/portion": "core/units core/resin core/refusal",
	"core/cure":    "core/units core/numeric", "core/heat": "core/units core/numeric",
	"core/film":    "core/units core/numeric",
	"core/colour":  "core/units core/numeric core/refusal",
	"core/flow":    "core/units core/geom core/colour core/film core/refusal",
	"core/surface": "core/units core/geom core/film core/refusal", "core/calendar": "core/units core/cure core/refusal",
	"core/technique":   "core/units core/cure core/refusal",
	"core/composition": "core/units core/geom core/numeric core/portion core/surface core/technique core/refusal",
	"core/propose":     "core/*",
	"core/wet":         "core/units core/cure core/heat core/technique",
	"core/plan":        "core/*", "core/preview": "core/*",
	"core/findings": "", "core/diagnose": "core/units core/cure core/heat core/refusal",

	"calc": "core/* exchange/piecefile words", "words": "core/*", "form": "core/refusal core/units core/money words",
	"store": "", "secrets": "", "certificate": "", "testsize": "",
	"device": "core/units", "device/simulated": "core/units device",
	"exchange/calendarfile": "", "exchange/piecefile": "core/*", "exchange/cupsheet": "exchange/sheet",
	"exchange/palettefile": "core/refusal", "exchange/picture": "core/colour core/geom core/refusal",
	"exchange/paper": "", "exchange/raster": "", "exchange/qr": "", "exchange/sheet": "",
	"exchange/still": "core/refusal", "exchange/svgoutline": "core/surface core/refusal",

	"studio/guard":   "",
	"studio/memo":    "studio/guard",
	"studio/once":    "store",
	"studio/access":  "form store core/refusal",
	"studio/setup":   "core/* form store words",
	"studio/shelf":   "core/* form store studio/memo studio/setup words",
	"studio/pieces":  "core/* form store exchange/svgoutline studio/shelf words",
	"studio/share":   "core/* exchange/piecefile form store studio/pieces studio/shelf words",
	"studio/stock":   "core/* form store studio/memo studio/shelf words",
	"studio/session": "core/* form store words studio/stock",
	"studio/supply":  "core/* store words studio/agenda studio/memo studio/stock",
	"studio/prices":  "core/* form store studio/agenda studio/pieces studio/session studio/shelf studio/stock words",
	"studio/agenda": "core/* form store words studio/guard studio/memo studio/pieces studio/session studio/shelf " +
		"studio/stock",
	"studio/bench": "core/* form store words device exchange/picture studio/agenda studio/pieces studio/session " +
		"studio/setup studio/stock",
	"studio/colours": "core/* form store words exchange/palettefile exchange/picture studio/agenda studio/pieces " +
		"studio/shelf",
	"studio/commissions": "core/* form store exchange/picture studio/agenda studio/pieces studio/setup studio/shelf words",
	"studio/looks":       "core/* exchange/raster studio/agenda studio/preview",
	"studio/trade": "core/* form store words exchange/picture studio/agenda studio/commissions studio/memo " +
		"studio/pieces studio/prices studio/session studio/stock",
	"studio/wall": "core/* form store exchange/picture studio/agenda studio/commissions studio/journal " +
		"studio/looks studio/pieces studio/setup",
	"studio/papers": "core/* device form store exchange/paper exchange/picture studio/agenda studio/looks " +
		"studio/post studio/prices studio/trade studio/wall",
	"studio/preview": "core/* form store exchange/still studio/guard studio/memo studio/agenda studio/pieces words",
	"studio/journal": "core/* form store exchange/picture studio/agenda studio/pieces words",
	"studio/learn": "core/* form store studio/agenda studio/journal studio/pieces studio/session studio/setup " +
		"studio/shelf words",
	"studio/today":   "core/* words studio/agenda studio/bench studio/journal studio/stock studio/supply studio/trade",
	"studio/post":    "core/* store words device exchange/calendarfile studio/agenda studio/setup studio/today",
	"studio":         "store exchange/picture studio/*",
	"studio/audit":   "core/plan store studio studio/*",
	"studio/archive": "store exchange/sheet studio studio/stock",

	"web/frame":     "core/* form store studio studio/access studio/memo studio/session studio/shelf web/translate words",
	"web/translate": "",
	"web/drawing":   "core/* words",
	"web/card":      "core/* studio/* web/drawing web/frame words",
	"web/api":       "core/units calc exchange/piecefile form store studio studio/* web/frame",
	"web/glossary":  "words web/frame",
	"web/help":      "store web/frame",
	"web/jump":      "core/diagnose studio/commissions studio/journal web/frame web/journal web/sums words",
	"web/shared":    "store studio/share web/frame",
	"web/sums":      "core/* calc form words studio/pieces web/frame",
	// Handlers of an area: services, their views and the frame; never the store's
	// rows but for its errors, and never each other.
	"web/bench":       "core/* form store words web/api device/simulated exchange/picture studio/* web/drawing web/frame",
	"web/commissions": "core/* form exchange/picture studio/* web/card web/frame words",
	"web/compose":     "core/* form studio/* web/drawing web/frame words",
	"web/days":        "core/* form store studio/* web/card web/frame words",
	"web/journal":     "core/* form words exchange/picture studio/* web/drawing web/frame",
	"web/labels":      "core/* form store words exchange/qr studio/* web/drawing web/frame",
	"web/palettes":    "core/* form exchange/picture studio/* web/frame words",
	"web/pieces": "core/* form store words exchange/cupsheet exchange/svgoutline studio/* web/card " +
		"web/drawing web/frame",
	"web/prices":   "core/* form exchange/picture exchange/sheet studio/* web/frame words",
	"web/preview":  "core/* form studio/* web/frame words",
	"web/screens":  "form store exchange/qr studio/* web/frame",
	"web/settings": "core/* form studio/* web/frame",
	"web/shelf":    "core/* form store words studio/* web/frame",
	"web/stock":    "core/* form store exchange/sheet studio/* web/frame words",
	"web":          "core/units studio web/*",
	"studiotest":   "core/* secrets store studio studio/pieces",
	"demo":         "core/* device/simulated store studio studio/*",
	"":             "", // this folder: its tests only
}

// outside is who may use what of the ecosystem.
var outside = []struct{ what, who, why string }{
	{"database/sql", "store", "only the store speaks SQL"},
	{"modernc.org/sqlite", "store", "only the store speaks SQL"},
	{"github.com/gin-gonic/", "web", "only pages know the web framework"},
	{"html/template", "web", "only pages are rendered"},
	{"net/http", "web calc", "only pages answer requests; calculators name its status codes"},
}

func TestEveryFolderImportsWhatItMay(t *testing.T) {
	const home = "jevvo/internal"
	packages := listPackages(t)
	for pkg, imports := range packages {
		if !strings.HasPrefix(pkg, home) {
			continue // the command line joins everything
		}
		room := strings.TrimPrefix(strings.TrimPrefix(pkg, home), "/")
		allowed, named := rooms[room]
		assert.True(t, named, "internal/%s is not named", room)
		for _, i := range imports {
			if in, ok := strings.CutPrefix(i, home+"/"); ok {
				assert.True(t, covers(allowed, in), "internal/%s imports internal/%s", room, in)
			}
			for _, o := range outside {
				if strings.HasPrefix(i, o.what) {
					assert.True(t, within(room, o.who), "internal/%s imports %s: %s", room, i, o.why)
				}
			}
		}
	}
	for room := range rooms {
		assert.Contains(t, packages, strings.TrimSuffix(home+"/"+room, "/"), "there is no such folder")
	}
}

func within(room, who string) bool {
	for _, w := range strings.Fields(who) {
		if room == w || strings.HasPrefix(room, w+"/") {
			return true
		}
	}
	return false
}

func covers(allowed, room string) bool {
	for _, a := range strings.Fields(allowed) {
		if ok, _ := path.Match(a, room); ok {
			return true
		}
	}
	return false
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
	out, err := exec.Command("grep", "-rln", "--include=*.go", "--exclude=*_test.go", "time\\.Now",
		"core").CombinedOutput()
	assert.Error(t, err, "found in %s", out) // grep exits 1 when nothing is found
	assert.Empty(t, string(out))
}

// The table of security names tests that are there.
func TestSecurityIsShownByTests(t *testing.T) {
	table, err := os.ReadFile("../docs/security.md")
	require.NoError(t, err)
	named := regexp.MustCompile(`\b(?:Test|Fuzz)[A-Z]\w+`).FindAllString(string(table), -1)
	require.NotEmpty(t, named)
	for _, name := range named {
		out, err := exec.Command("grep", "-rlE", "--include=*_test.go", "func "+name+`\(`, "..").Output()
		assert.NoError(t, err, name)
		assert.NotEmpty(t, out, name)
	}
}
