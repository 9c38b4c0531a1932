package calc

import (
	"reflect"
	"slices"
	"strings"

	"jevvo/internal/msg"
)

// A Page is how a calculator is asked by hand. What is typed and what comes out stand at the
// fields of its request and its answer, in tags beside those of the contract:
//
//	ask   the label of an input; one without is for scripts only
//	say   the label of a figure of the answer
//	as    how it is typed or printed, where the unit in its name does not say
//	start what the field starts with, where that is not the default
//	when  shown only for these choices: "shape:rectangle,ellipse"
//	lead  the figure one came for
type Page struct {
	Group    Group
	Question msg.ID
	Words    msg.ID // the formula in words
	Source   msg.ID
	Fields   []Field
	Figures  []Figure
}

// A Group gathers the calculators that are looked for together.
type Group string

// The groups, in the order they are shown.
const (
	HowMuch     Group = "How much"
	Mixing      Group = "Mixing"
	TheFilm     Group = "The film"
	TimeAndHeat Group = "Time and heat"
)

// Groups are all of them.
var Groups = []Group{HowMuch, Mixing, TheFilm, TimeAndHeat}

// Name is the heading of a group.
func (g Group) Name() msg.ID { return msg.ID(g) }

// A Kind is how a value is typed and printed.
type Kind string

// The kinds that no unit in a name says. Film is a length that is small; sheet is a data sheet,
// chosen from what is owned.
const (
	Number Kind = "number"
	Text   Kind = "text"
	YesNo  Kind = "bool"
	Choice Kind = "choice"
	Sheet  Kind = "sheet"
)

// endings are the kinds of values by the end of their names, the longest first.
var endings = []struct {
	end  string
	kind Kind
}{
	{"_per_min", Number}, {"_per_s", Number}, {"_mn_m", Number}, {"_kw_m2", Number},
	{"_kg_m3", "density"}, {"_mpas", "viscosity"}, {"_share", "share"}, {"_mm2", "area"}, {"_deg", "angle"},
	{"_min", "minutes"}, {"_mm", "length"}, {"_ml", "volume"}, {"_um", "micron"}, {"_g", "mass"},
	{"_c", "temperature"}, {"_s", "seconds"},
}

// A Field is one input.
type Field struct {
	Key     string // dotted, of the request
	Label   msg.ID
	Kind    Kind
	Start   string // what it starts with
	Default string // what a request without it means; "" for nothing
	Options []string
	When    string
}

// A Figure is one value of the answer, one row of them where it stands in a list.
type Figure struct {
	Path  string // dotted, of the answer
	Label msg.ID
	Kind  Kind
	Lead  bool
}

// asks gives a calculator its page.
func (c *Calculator) asks(p Page) {
	p.Fields = fieldsOf(reflect.TypeOf(c.Request).Elem())
	p.Figures = figuresOf(reflect.TypeOf(c.Answer).Elem())
	c.Page = &p
}

// Pages are the calculators that have a page, by group.
func Pages() map[Group][]*Calculator {
	out := map[Group][]*Calculator{}
	for _, c := range ordered {
		if c.Page != nil {
			out[c.Page.Group] = append(out[c.Page.Group], c)
		}
	}
	return out
}

func fieldsOf(request reflect.Type) []Field {
	var out []Field
	labelled(request, "", "ask", func(f reflect.StructField, key, label string) {
		out = append(out, Field{Key: key, Label: msg.ID(label), Kind: kindOf(f, key), Start: f.Tag.Get("start"),
			Default: f.Tag.Get("default"), Options: options(f), When: f.Tag.Get("when")})
	})
	return out
}

// figuresOf are the figures of an answer, those one came for at the head.
func figuresOf(answer reflect.Type) []Figure {
	var out []Figure
	labelled(answer, "", "say", func(f reflect.StructField, key, label string) {
		out = append(out, Figure{Path: key, Label: msg.ID(label), Kind: kindOf(f, key), Lead: f.Tag.Get("lead") != ""})
	})
	slices.SortStableFunc(out, func(a, b Figure) int { return lead(b) - lead(a) })
	return out
}

// labelled goes through the fields of the contract that have a label, and through those of
// structures and lists that have none.
func labelled(t reflect.Type, within, tag string, do func(f reflect.StructField, key, label string)) {
	for _, f := range reflect.VisibleFields(t) {
		key, named := jsonKey(f)
		label, has := f.Tag.Lookup(tag)
		switch of := plain(f.Type); {
		case !named:
		case has:
			do(f, within+key, label)
		case of.Kind() == reflect.Struct:
			labelled(of, within+key+".", tag, do)
		}
	}
}

func lead(f Figure) int {
	if f.Lead {
		return 1
	}
	return 0
}

// jsonKey is the name of a field in the contract, false for one that has none.
func jsonKey(f reflect.StructField) (string, bool) {
	key, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	return key, key != ""
}

// plain is the element type of a pointer or a list.
func plain(t reflect.Type) reflect.Type {
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	return t
}

func options(f reflect.StructField) []string {
	if all, ok := f.Tag.Lookup("enum"); ok {
		return strings.Split(all, ",")
	}
	return nil
}

// kindOf is how a value is typed and printed: as its tag says, or by the unit in its name.
func kindOf(f reflect.StructField, key string) Kind {
	if as := f.Tag.Get("as"); as != "" {
		return Kind(as)
	}
	if f.Tag.Get("enum") != "" {
		return Choice
	}
	for _, u := range endings {
		if strings.HasSuffix(key, u.end) {
			return u.kind
		}
	}
	switch plain(f.Type).Kind() {
	case reflect.String:
		return Text
	case reflect.Bool:
		return YesNo
	}
	return Number
}
