package words

import (
	"embed"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/leonelquinteros/gotext"
)

// A Language is one the program speaks.
type Language string

// The languages. English is what stands in the program; the others have a catalogue,
// the American one of what it spells and writes otherwise.
const (
	English  Language = "en"
	American Language = "en-US"
	German   Language = "de"
)

// English reports whether it is one of the ways to write English, which need not have
// every text in their catalogue.
func (l Language) English() bool { return l == English || l == American }

// Languages are all of them, with their own names.
var Languages = []struct {
	Language Language
	Name     string
}{{English, "English"}, {American, "English (US)"}, {German, "Deutsch"}}

//go:embed catalogue/*.po
var catalogues embed.FS

// spoken is the language of the studio. A program is one studio's, so one is enough.
var spoken atomic.Pointer[Catalogue]

// A Catalogue turns English texts into those of a language.
type Catalogue struct {
	Language Language
	texts    map[string]string
}

var (
	loading sync.Mutex
	loaded  = map[Language]*Catalogue{}
)

// CatalogueOf returns that of a language; of one that is not spoken, English.
func CatalogueOf(l Language) *Catalogue {
	loading.Lock()
	defer loading.Unlock()
	if c, ok := loaded[l]; ok {
		return c
	}
	c := &Catalogue{Language: l, texts: map[string]string{}}
	data, err := catalogues.ReadFile("catalogue/" + string(l) + ".po")
	if err != nil {
		c.Language = English
	} else {
		po := gotext.NewPo()
		po.Parse(data)
		for id, t := range po.GetDomain().GetTranslations() {
			if text := t.Get(); id != "" && text != "" {
				c.texts[id] = text
			}
		}
	}
	loaded[l] = c
	return c
}

// Has reports whether a text is in the catalogue.
func (c *Catalogue) Has(text string) bool { return c.texts[text] != "" }

// Text returns a text in the language, or as it is where there is none. Sentences that
// were put together are looked up one by one.
func (c *Catalogue) Text(text string) string {
	if said, ok := c.texts[text]; ok {
		return said
	}
	if c.Language == English {
		return text
	}
	for end := strings.LastIndex(text, ". "); end >= 0; end = strings.LastIndex(text[:end], ". ") {
		if said, ok := c.texts[text[:end+1]]; ok {
			return said + " " + c.Text(text[end+2:])
		}
	}
	return text
}

// Use makes a language that of the studio.
func Use(l Language) { spoken.Store(CatalogueOf(l)) }

func catalogue() *Catalogue {
	if c := spoken.Load(); c != nil {
		return c
	}
	return CatalogueOf(English)
}

// Current is the studio's language.
func Current() Language { return catalogue().Language }

// T returns a text in the studio's language.
func T(text string) string { return catalogue().Text(text) }

// Mark marks a text that is looked up where it is printed, as gettext's N_ does.
func Mark(text string) string { return text }

// F prints by a format in the studio's language; a language may take the arguments in
// another order, as %[2]s.
func F(format string, args ...any) string { return fmt.Sprintf(T(format), args...) }

// Names of days and months in English, the short ones first: none is the beginning of
// another of its length.
var calendarNames = slices.Concat(names(7, func(k int) (string, string) {
	d := time.Weekday(k).String()
	return d, d[:3]
}), names(12, func(k int) (string, string) {
	m := time.Month(k + 1).String()
	return m, m[:3]
}))

func names(n int, of func(int) (long, short string)) []string {
	var longs, shorts []string
	for k := range n {
		long, short := of(k)
		longs, shorts = append(longs, long), append(shorts, short)
	}
	return append(longs, shorts...)
}

// layout is how the language writes a date of a layout: "date: 2 Jan" in the catalogue.
func (c *Catalogue) layout(layout string) string {
	const mark = "date: "
	return strings.TrimPrefix(c.Text(mark+layout), mark)
}

// Date prints a time by a layout, its days and months in the studio's language.
func Date(t time.Time, layout string) string {
	c := catalogue()
	if c.Language == English {
		return t.Format(layout)
	}
	pairs := make([]string, 0, 2*len(calendarNames))
	for _, name := range calendarNames {
		pairs = append(pairs, name, c.Text(name))
	}
	return strings.NewReplacer(pairs...).Replace(t.Format(c.layout(layout)))
}
