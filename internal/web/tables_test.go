package web_test

import (
	"reflect"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/propose"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/wet"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/shelf"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// notSaid are the fields of tables that hold what only the program reads.
var notSaid = []string{"ID", "Key", "Kind", "Value", "Swatch", "Of", "For", "Motif", "Window", "Support", "Form",
	"Role", "Outline", "Unit", "Material",
	"Person", "Option", "Choice", "Ground", "Act", "Moment", "Code", "Safety", "Wait", "Who", "Base", "Adds", "Default",
	"Order", "Cause", "Only", "Layout", "When", "Coat", "By",
	"Change", "Step", "Gesture", "Move", "Like", "Material", "Laid", "Takes", "Work", "Asks", "From", "To", "Sort",
	"Place"}

// What the tables of the program say is in the catalogue of every language.
func TestTablesAreInTheCatalogues(t *testing.T) {
	tables := map[string]any{
		"techniques": technique.Library, "top coat": technique.TopCoat, "roles": technique.Roles, "moves": stepsOfTables(),
		"materials":    technique.Materials,
		"preparations": technique.Preparations, "supports": surface.Supports, "causes": diagnose.Causes,
		"faults": diagnose.Faults, "questions": diagnose.Questions,
		"remedies": diagnose.Remedies, "schools": plan.SchoolTable, "forms": colour.Forms, "starts": composition.Starts,
		"things": composition.Kinds, "signs": cure.Signs,
		"moments": journal.Moments, "outcomes": journal.Outcomes, "faces": journal.Faces, "agains": journal.Agains,
		"roles of devices": access.RoleTable, "scopes": access.ScopeTable,
		"fields of commissions": commissions.Fields, "fields of settings": setup.Fields,
		"fields of resins": shelf.ResinFields, "fields of pigments": shelf.PigmentFields,
		"fields of goods": stock.GoodsFields, "glossary": words.Glossary, "fields of a price": prices.AskedFields,
		"fields of money": prices.TermsFields, "fields of the level": bench.LevelFields,
		"works": wet.Works, "complaints": wet.Complaints, "mishaps": wet.Mishaps, "places": technique.Places,
		"sorts": propose.Sorts, "amounts": bench.Abouts,
	}
	for _, l := range words.Languages {
		if l.Language.English() {
			continue
		}
		c := words.CatalogueOf(l.Language)
		var missing []string
		for name, table := range tables {
			said := 0
			texts(reflect.ValueOf(table), func(text string) {
				said++
				if word.MatchString(text) && !c.Has(text) && !slices.Contains(asItIs, text) && text != "Deutsch" &&
					text != "English (US)" {
					missing = append(missing, name+": "+text)
				}
			})
			require.Positive(t, said, name)
		}
		slices.Sort(missing)
		assert.Empty(t, slices.Compact(missing), "in %s", l.Name)
	}
}

// stepsOfTables are the moves and further steps anybody can add to a coat.
func stepsOfTables() (out []technique.Step) {
	for _, r := range technique.MoveRules {
		out = append(out, r.Step)
	}
	for _, e := range technique.Extras {
		out = append(out, e.Step)
	}
	return out
}

// texts walks through all that a table says.
func texts(v reflect.Value, say func(string)) {
	switch v.Kind() {
	case reflect.String:
		say(v.String())
	case reflect.Slice, reflect.Array:
		for k := range v.Len() {
			texts(v.Index(k), say)
		}
	case reflect.Map:
		for _, k := range v.MapKeys() {
			texts(v.MapIndex(k), say)
		}
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			texts(v.Elem(), say)
		}
	case reflect.Struct:
		for k := range v.NumField() {
			if f := v.Type().Field(k); f.IsExported() && !slices.Contains(notSaid, f.Name) {
				texts(v.Field(k), say)
			}
		}
	}
}
