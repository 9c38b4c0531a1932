package web_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/words"
)

// sayings are the calls that say something, with those of their arguments that are texts.
var sayings = map[string][]int{
	"words.T": {0}, "words.F": {0}, "words.Mark": {0}, "words.Plural": {1, 2}, "T": {0}, "F": {0}, "Plural": {1, 2},
	"refusal.New": {0}, "refusal.Word": {0}, "errors.New": {0}, "form.Refusef": {1}, "refuse": {0, 1}, "Refuse": {1},
}

// atTheTerminal are the folders whose errors are read there or in the log, never on a page.
var atTheTerminal = []string{"store", "studio/archive", "studio/guard", "device", "demo", "secrets", "certificate",
	"studiotest", "exchange/qr"}

// alike are amounts, names of files and what only a programmer gets wrong.
var alike = []string{"%.0f min", "%d min", "%.0f h %.0f min", "%d-%s-%.0f-min.png", "what", "dict keys are strings",
	"dict takes pairs"}

// What is said and refused in the program is in the catalogue of every language.
func TestWhatIsSaidIsInTheCatalogues(t *testing.T) {
	said := saidIn(t, "..")
	require.Greater(t, len(said), 700)
	for _, l := range words.Languages {
		if l.Language.English() {
			continue
		}
		c := words.CatalogueOf(l.Language)
		var missing []string
		for text, at := range said {
			if !c.Has(text) && !slices.Contains(asItIs, text) && !slices.Contains(alike, text) {
				missing = append(missing, at+": "+text)
			}
		}
		slices.Sort(missing)
		assert.Empty(t, missing, "in %s", l.Name)
	}
}

// saidIn finds the texts of the calls that say something, with a file of each.
func saidIn(t *testing.T, root string) map[string]string {
	t.Helper()
	found := map[string]string{}
	require.NoError(t, filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		in, _ := filepath.Rel(root, path)
		switch {
		case err != nil:
			return err
		case d.IsDir() && slices.Contains(atTheTerminal, filepath.ToSlash(in)):
			return filepath.SkipDir
		case !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go"):
			return nil
		}
		source, err := os.ReadFile(path)
		require.NoError(t, err)
		file, err := parser.ParseFile(token.NewFileSet(), path, source, 0)
		require.NoError(t, err)
		ast.Inspect(file, func(n ast.Node) bool {
			if call, ok := n.(*ast.CallExpr); ok {
				for _, text := range textsOf(call) {
					found[text] = filepath.ToSlash(in)
				}
			}
			return true
		})
		return nil
	}))
	return found
}

// textsOf are the texts with words among the arguments of a call that says something.
func textsOf(call *ast.CallExpr) []string {
	var out []string
	for _, k := range sayings[called(call.Fun)] {
		if k >= len(call.Args) {
			continue
		}
		if text, ok := literal(call.Args[k]); ok && word.MatchString(holes.ReplaceAllString(text, "")) {
			out = append(out, text)
		}
	}
	return out
}

// literal is what a string says in the source, in one piece or in several.
func literal(e ast.Expr) (string, bool) {
	switch e := e.(type) {
	case *ast.BasicLit:
		if e.Kind != token.STRING {
			return "", false
		}
		text, err := strconv.Unquote(e.Value)
		return text, err == nil
	case *ast.BinaryExpr:
		a, first := literal(e.X)
		b, second := literal(e.Y)
		return a + b, first && second && e.Op == token.ADD
	}
	return "", false
}

// called is the name of a function; of a method, its own.
func called(fun ast.Expr) string {
	switch f := fun.(type) {
	case *ast.Ident:
		return f.Name
	case *ast.SelectorExpr:
		if of, ok := f.X.(*ast.Ident); ok && sayings[of.Name+"."+f.Sel.Name] != nil {
			return of.Name + "." + f.Sel.Name
		}
		return f.Sel.Name
	}
	return ""
}
