package web_test

import (
	"go/ast"
	"go/constant"
	"go/types"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/go/packages"

	"jevvo/internal/calc"
	"jevvo/internal/testsize"
	"jevvo/internal/web/translate"
	"jevvo/internal/words"
)

// asItIs are texts that are alike in every language.
var asItIs = []string{"Jevvo", "de Gennes, Brochard-Wyart & Quéré, ch. 2", "CIEDE2000", "English", "name@example.org",
	"/api/openapi.json", "%d min", "Huppert 1982.", "Jeffreys 1930.", "Stokes 1851.",
	"Kamal & Sourour 1973; Castro & Macosko 1982.", "Nederlands (deels)",
	"Carslaw & Jaeger, Conduction of Heat in Solids.",
	"de Gennes, Brochard-Wyart & Quéré, Capillarity and Wetting Phenomena, ch. 2.",
	"Received in good order:\n\n\n____________________________",
	`hx-swap-oob="true"`,
	`POST {1} Authorization: Bearer {2} Content-Type: application/json {"temperature_c": 21.4, "humidity_pct": 48, "sensor": "by the window"}`}

// word is one that a language may have its own for; keys are shorter, and units are no words.
var (
	word     = regexp.MustCompile(`\pL{2}`)
	measures = regexp.MustCompile(`\b(mm|cm|mL|Pa|US)\b|µm`)
)

// figures are amounts and formulas.
var figures = regexp.MustCompile(`^[\d%]\S* ?(min|d?-?\S*\.png)?$|^%.0f h %.0f min$|^Rate = `)

// holes are the values of a text.
var holes = regexp.MustCompile(`\{[^}]*\}|%(?:\[\d+\])?[-+#0-9.]*[a-z%]`)

// said are the texts of the program by where they stand: the constants of the types that are
// said, and the texts of templates and scripts. all are the string constants there are besides.
func saidIn(t *testing.T) (said map[string]string, all map[string]bool) {
	t.Helper()
	said, all = map[string]string{}, map[string]bool{}
	load := packages.NeedName | packages.NeedSyntax | packages.NeedTypes | packages.NeedTypesInfo | packages.NeedImports |
		packages.NeedExportFile
	loaded, err := packages.Load(&packages.Config{Mode: load, Dir: "../.."}, "./...")
	require.NoError(t, err)
	for _, p := range loaded {
		require.Empty(t, p.Errors)
		for _, f := range p.Syntax {
			ast.Inspect(f, func(n ast.Node) bool {
				e, ok := n.(ast.Expr)
				if !ok {
					return true
				}
				of := p.TypesInfo.Types[e]
				if of.Value == nil || of.Value.Kind() != constant.String {
					return true
				}
				text := constant.StringVal(of.Value)
				all[text] = true
				if isSaid(of.Type) {
					said[text] = p.PkgPath
				}
				return false // of a text in several pieces, the whole
			})
		}
	}
	for _, calculators := range calc.Pages() { // their labels stand in tags
		for _, c := range calculators {
			for _, f := range c.Page.Fields {
				said[string(f.Label)] = "calc " + c.Name
			}
			for _, f := range c.Page.Figures {
				said[string(f.Label)] = "calc " + c.Name
			}
		}
	}
	templates(t, func(path, source string) {
		for _, text := range append(translate.Messages(source), literals(source)...) {
			said[text] = path
		}
	})
	scripts, err := filepath.Glob("frame/assets/*.js")
	require.NoError(t, err)
	for _, path := range scripts {
		source, err := os.ReadFile(path)
		require.NoError(t, err)
		for _, m := range inScripts.FindAllStringSubmatch(string(source), -1) {
			said[strings.ReplaceAll(m[1], `\'`, "'")] = path
		}
	}
	return said, all
}

var inScripts = regexp.MustCompile(`\b(?:t|inWords)\('((?:[^'\\]|\\.)*)'`)

// isSaid reports whether values of a type are texts of the program's.
func isSaid(of types.Type) bool {
	n, ok := of.(*types.Named)
	return ok && n.Obj().Pkg() != nil && n.Obj().Pkg().Path() == "jevvo/internal/msg" &&
		(n.Obj().Name() == "ID" || n.Obj().Name() == "Preset")
}

func templates(t *testing.T, do func(path, source string)) {
	t.Helper()
	require.NoError(t, fs.WalkDir(os.DirFS("."), ".", func(path string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".html") {
			return err
		}
		source, err := os.ReadFile(path)
		do(path, string(source))
		return err
	}))
}

// Every text of the program is in the catalogue of every language, and no catalogue has one
// that is said nowhere.
func TestCataloguesAreWhole(t *testing.T) {
	testsize.Sequential(t)
	said, all := saidIn(t)
	require.Greater(t, len(said), 2000)
	for _, l := range words.Languages {
		c := words.In(l.Language)
		require.Equal(t, l.Language, c.Language)
		var missing, unused []string
		for text, at := range said {
			plain := measures.ReplaceAllString(holes.ReplaceAllString(text, ""), "")
			if !l.Language.English() && !l.Part && word.MatchString(plain) && !c.Has(text) &&
				!c.Has("paper: "+text) && !slices.Contains(asItIs, text) && !figures.MatchString(text) {
				missing = append(missing, at+": "+text)
			}
		}
		for id := range c.Each() {
			if said[id] == "" && !all[id] && !contexts.MatchString(id) && !calendarWord(id) {
				unused = append(unused, id)
			}
		}
		slices.Sort(missing)
		slices.Sort(unused)
		assert.Empty(t, strings.Join(missing, "\n"), "missing in %s", l.Name)
		assert.Empty(t, strings.Join(unused, "\n"), "said nowhere, in %s", l.Name)
	}
}

// contexts are texts behind the name of a context, and layouts.
var contexts = regexp.MustCompile(`^(unit|date|paper): |^decimal mark`)

// calendarWord reports whether a text is a name of a day or a month, or the short form.
func calendarWord(id string) bool { return calendarNames[id] }

var calendarNames = func() map[string]bool {
	out := map[string]bool{}
	for _, name := range strings.Fields(
		"Monday Tuesday Wednesday Thursday Friday Saturday Sunday January February March " +
			"April May June July August September October November December") {
		out[name], out[name[:3]] = true, true
	}
	return out
}()

// literals are the texts a template says within its actions.
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
	for _, m := range countedWords.FindAllStringSubmatch(source, -1) {
		out = append(out, m[1], m[2])
	}
	return out
}

var (
	actions      = regexp.MustCompile(`(?s)\{\{.*?\}\}`)
	quoted       = regexp.MustCompile(`"([^"]*)"`)
	countedWords = regexp.MustCompile(`\bplural\s+(?:\((?:[^()]|\([^()]*\))*\)|\S+)\s+"([^"]*)"\s+"([^"]*)"`)
	date         = regexp.MustCompile(`\b(?:Jan|January)\b`)
)

// A translation has the values of its text, no more and no fewer.
func TestTranslationsKeepTheirValues(t *testing.T) {
	all := maps.Collect(words.In(words.German).Each())
	require.Greater(t, len(all), 2000)
	for id, said := range words.In(words.Dutch).Each() {
		all[id+" "] = said + " " // beside the German
	}
	for id, said := range all {
		for _, mark := range []string{"<", "{{", `"`} { // translations stand in templates as they are
			assert.Equal(t, strings.Count(id, mark), strings.Count(said, mark), id)
		}
		of := func(text string) []string {
			found := holes.FindAllString(regexp.MustCompile(`\[\d+\]`).ReplaceAllString(text, ""), -1)
			slices.Sort(found)
			return found
		}
		if strings.Contains(id, "{") || strings.Contains(id, "%s") || strings.Contains(id, "%d") {
			assert.Equal(t, of(id), of(said), id)
		}
	}
}

// dialect are words that no painter says, or that have another here: batch for what is mixed at once,
// materials for what is owned, closed, calculate, cover for what opacity does, data sheet.
var dialect = regexp.MustCompile(`(?i)\breckon|\bshuts?\b|\bparts? (meet|met)\b|\bis beside the (board|picture)\b|` +
	`\blet in\b|\banew\b|\bthe shelf\b|\bhides?\b|\bproduct['’]?s? sheet\b|\btake(n)? in\b(?: what|$)|\bcannot be$|` +
	`\bno hands\b|\bforgives\b(?: in)|\bbelow nothing\b|\bletters?\b (?:long|at most)|\b(than|above|between) nothing\b|\bgoes nowhere\b`)

// british are spellings of which the American catalogue has its own.
var british = regexp.MustCompile(`(?i)colour|\bgrey|metre|\blitre|\bmould|neighbour|\bcentre|vapour|odour|levell|modell|` +
	`label{2}ed|learnt|spilt|enquir|towards|\bmatt\b`)

// English is plain, and American in the United States.
func TestEnglishIsPlain(t *testing.T) {
	said, _ := saidIn(t)
	american := words.In(words.American)
	for text, at := range said {
		assert.False(t, dialect.MatchString(holes.ReplaceAllString(text, "")), "%s: %s", at, text)
		assert.False(t, british.MatchString(american.Text(text)), "%s: %s", at, american.Text(text))
	}
	for _, words := range []string{"It is reckoned", "The studio is shut", "the parts meet", "a colour"} {
		assert.True(t, dialect.MatchString(words) || british.MatchString(words), words)
	}
}
