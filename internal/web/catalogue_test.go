package web_test

import (
	"io/fs"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"
	"unicode"

	"github.com/leonelquinteros/gotext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/web/translate"
	"jevvo/internal/words"
)

// asItIs are texts that are alike in every language.
var asItIs = []string{"Jevvo", "de Gennes, Brochard-Wyart & Quéré, ch. 2", "CIEDE2000", "English", "name@example.org",
	"/api/openapi.json", `hx-swap-oob="true"`,
	`POST {1} Authorization: Bearer {2} Content-Type: application/json {"temperature_c": 21.4, "humidity_pct": 48, "sensor": "by the window"}`}

// word is one that a language may have its own for; keys and units are shorter.
var word = regexp.MustCompile(`\pL{3}`)

// Every text of every template is in the catalogue of every language.
func TestCataloguesAreWhole(t *testing.T) {
	for _, l := range words.Languages {
		if l.Language.English() {
			continue
		}
		c := words.CatalogueOf(l.Language)
		require.Equal(t, l.Language, c.Language)
		var missing []string
		require.NoError(t, fs.WalkDir(os.DirFS("."), ".", func(path string, _ fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".html") {
				return err
			}
			source, err := os.ReadFile(path)
			for _, text := range append(translate.Messages(string(source)), literals(string(source))...) {
				if word.MatchString(holes.ReplaceAllString(text, "")) && !c.Has(text) && !slices.Contains(asItIs, text) {
					missing = append(missing, path+": "+text)
				}
			}
			return err
		}))
		assert.Empty(t, missing, "in %s", l.Name)
	}
}

// literals are the texts a template says within its actions: labels it hands on, formats,
// both words of a plural.
func literals(source string) []string {
	var out []string
	for _, action := range actions.FindAllString(source, -1) {
		for _, lit := range quoted.FindAllStringSubmatch(action, -1) {
			text := lit[1]
			said := strings.Contains(strings.TrimSpace(text), " ") || text != "" && unicode.IsUpper([]rune(text)[0])
			if said && !strings.HasPrefix(text, "/") && !date.MatchString(text) {
				out = append(out, text)
			}
		}
	}
	return out
}

var (
	actions = regexp.MustCompile(`(?s)\{\{.*?\}\}`)
	quoted  = regexp.MustCompile(`"([^"]*)"`)
	date    = regexp.MustCompile(`\b(?:Jan|January)\b`)
)

var holes = regexp.MustCompile(`\{[^}]*\}|%(?:\[\d+\])?[-+#0-9.]*[a-z%]`)

// A translation has the values of its text, no more and no fewer.
func TestTranslationsKeepTheirValues(t *testing.T) {
	data, err := os.ReadFile("../words/catalogue/de.po")
	require.NoError(t, err)
	po := gotext.NewPo()
	po.Parse(data)
	all := po.GetDomain().GetTranslations()
	require.Greater(t, len(all), 2000)
	for id, said := range all {
		for _, mark := range []string{"<", "{{", `"`} { // translations stand in templates as they are
			assert.Equal(t, strings.Count(id, mark), strings.Count(said.Get(), mark), id)
		}
		of := func(text string) []string {
			found := holes.FindAllString(regexp.MustCompile(`\[\d+\]`).ReplaceAllString(text, ""), -1)
			slices.Sort(found)
			return found
		}
		if strings.Contains(id, "{") || strings.Contains(id, "%s") || strings.Contains(id, "%d") {
			assert.Equal(t, of(id), of(said.Get()), id)
		}
	}
}
