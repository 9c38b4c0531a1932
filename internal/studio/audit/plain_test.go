package audit_test

import (
	"encoding/json"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/colours"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/learn"
	"jevvo/internal/studio/mail"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
)

// What is kept can be read again: no document holds a value of an interface, of which JSON
// would not know what to make.
func TestDocumentsHoldNoInterfaces(t *testing.T) {
	for _, doc := range []any{plan.Spec{}, material.Product{}, material.Pigment{}, technique.Technique{}, agenda.KeptDay{},
		colours.Palette{}, commissions.Commission{}, journal.Result{}, journal.Judgement{}, learn.Confirmed{},
		documents.Doc{},
		mail.Letter{}, preview.Tried{}, prices.Asked{}, prices.Terms{}, session.Bench{}, session.Event{}, weighing.Weighing{},
		setup.Settings{}, stock.Goods{}, stock.Note{}} {
		walk(t, reflect.TypeOf(doc), reflect.TypeOf(doc).String(), map[reflect.Type]bool{})
	}
}

func walk(t *testing.T, of reflect.Type, path string, seen map[reflect.Type]bool) {
	t.Helper()
	if seen[of] || reflect.PointerTo(of).Implements(reflect.TypeFor[json.Unmarshaler]()) {
		return
	}
	seen[of] = true
	switch of.Kind() {
	case reflect.Interface:
		assert.Fail(t, "an interface in a document", path)
	case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
		walk(t, of.Elem(), path, seen)
	case reflect.Struct:
		for i := range of.NumField() {
			if f := of.Field(i); f.IsExported() && f.Tag.Get("json") != "-" {
				walk(t, f.Type, path+"."+f.Name, seen)
			}
		}
	}
}
