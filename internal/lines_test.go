package internal_test

import (
	"bytes"
	"cmp"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// longest is how many columns a line may have.
const longest = 120

// apart is what no line can be broken in: raw strings, templates of a script, tags of fields,
// and an attribute or a text that alone is nearly as long.
var apart = regexp.MustCompile("`|\"[^\"]{80,}\"|'[^']{80,}'")

// No line of a source is longer than a screen is wide, but where it cannot be broken.
func TestNoLineIsTooLong(t *testing.T) {
	var long []string
	for _, root := range []string{"../cmd", "../internal", "../e2e", "../scripts"} {
		require.NoError(t, filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() && (d.Name() == "node_modules" || d.Name() == "vendor") {
				return cmp.Or(err, fs.SkipDir)
			}
			if d.IsDir() || !slices.Contains([]string{".go", ".html", ".css", ".js", ""}, filepath.Ext(path)) {
				return nil
			}
			source, err := os.ReadFile(path)
			if err != nil || bytes.IndexByte(source, 0) >= 0 {
				return err
			}
			raw := false // within a raw string of several lines
			for _, line := range strings.Split(string(source), "\n") {
				if utf8.RuneCountInString(line) > longest && !raw && !apart.MatchString(line) {
					long = append(long, path+": "+strings.TrimSpace(line))
				}
				raw = raw != (strings.Count(line, "`")%2 == 1)
			}
			return nil
		}))
	}
	assert.Empty(t, long)
}
