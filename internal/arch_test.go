package internal_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const home = "jevvo/internal"

// rooms reads testdata/rooms.txt: every folder with the folders it imports.
func rooms(t *testing.T) map[string][]string {
	t.Helper()
	file, err := os.ReadFile("testdata/rooms.txt")
	require.NoError(t, err)
	out, at := map[string][]string{}, ""
	for _, line := range strings.Split(string(file), "\n") {
		if strings.HasPrefix(line, "#") {
			continue
		}
		if room, rest, begins := strings.Cut(line, ":"); begins {
			at, line = room, rest
			out[at] = nil
		}
		out[at] = append(out[at], strings.Fields(line)...)
	}
	return out
}

// outside is who may use what of the ecosystem.
var outside = []struct{ what, who, why string }{
	{"database/sql", "store", "only the store speaks SQL"},
	{"modernc.org/sqlite", "store", "only the store speaks SQL"},
	{"github.com/gin-gonic/", "web", "only pages know the web framework"},
	{"html/template", "web", "only pages are rendered"},
	{"net/http", "web calc", "only pages answer requests; calculators name its status codes"},
}

// arrows are which rooms may know which, by the beginnings of their names: whoever is not
// named may be known by all.
var arrows = []struct{ what, by string }{
	{"web", "web"}, {"studio", "studio web studiotest demo"}, {"store", "store studio web studiotest demo"},
	{"words", "words calc studio web"}, {"form", "form studio web studiotest"}, {"demo", ""},
}

// shared are the rooms of pages that areas may use; one area uses no other.
var shared = []string{"web/frame", "web/peer", "web/drawing", "web/card", "web/translate", "web/api"}

func TestEveryFolderImportsWhatItSays(t *testing.T) {
	packages, said := listPackages(t), rooms(t)
	for pkg, imports := range packages {
		room, is := strings.CutPrefix(pkg, home+"/")
		if !is {
			continue // the command line joins everything; the folder itself has tests only
		}
		var found []string
		for _, i := range imports {
			if in, ok := strings.CutPrefix(i, home+"/"); ok {
				found = append(found, in)
				assert.True(t, goes(room, in), "internal/%s must not know internal/%s", room, in)
			}
			for _, o := range outside {
				if strings.HasPrefix(i, o.what) {
					assert.True(t, within(room, o.who), "internal/%s imports %s: %s", room, i, o.why)
				}
			}
		}
		assert.Contains(t, said, room)
		assert.ElementsMatch(t, said[room], found, "internal/%s", room)
	}
	for room := range said {
		assert.Contains(t, packages, home+"/"+room, "there is no such folder")
	}
}

// goes reports whether one room may know another.
func goes(room, in string) bool {
	if within(room, "core") {
		return within(in, "core") || in == "msg"
	}
	for _, a := range arrows {
		if within(in, a.what) && !within(room, a.by) {
			return false
		}
	}
	areas := within(room, "web") && room != "web" && within(in, "web")
	return !areas || room == "web/jump" || slices.Contains(shared, in)
}

func within(room, who string) bool {
	for _, w := range strings.Fields(who) {
		if room == w || strings.HasPrefix(room, w+"/") {
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
