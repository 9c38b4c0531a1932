package words

import (
	"embed"
	"iter"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/leonelquinteros/gotext"

	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
)

// A Language is one the program speaks.
type Language string

// The languages. English is what stands in the program; the others have a catalogue,
// the American one of what it spells and writes otherwise.
const (
	English  Language = "en"
	American Language = "en-US"
	German   Language = "de"
	Dutch    Language = "nl"
)

// English reports whether it is one of the ways to write English, which need not have
// every text in their catalogue.
func (l Language) English() bool { return l == English || l == American }

// WeekBegins is the first day of a week where the language is spoken (CLDR, weekData).
func (l Language) WeekBegins() time.Weekday {
	if l == American {
		return time.Sunday
	}
	return time.Monday
}

// Languages are all of them, with their own names. Of one that is in part the rest is said in English.
var Languages = []struct {
	Language Language
	Name     string
	Part     bool
}{{English, "English", false}, {American, "English (US)", false}, {German, "Deutsch", false},
	{Dutch, "Nederlands (deels)", true}}

//go:embed catalogue/*.po
var catalogues embed.FS

// A Catalogue says texts in a language: it is the msg.Lang of one.
type Catalogue struct {
	Language Language
	po       *gotext.Po // nil for English
	texts    map[string]string
}

var (
	loading sync.Mutex
	loaded  = map[Language]*Catalogue{}
)

// In returns the catalogue of a language; of one that is not spoken, English.
func In(l Language) *Catalogue {
	loading.Lock()
	defer loading.Unlock()
	if c, ok := loaded[l]; ok {
		return c
	}
	c := &Catalogue{Language: English, texts: map[string]string{}}
	if data, err := catalogues.ReadFile("catalogue/" + string(l) + ".po"); err == nil {
		c = Read(l, data)
	}
	loaded[l] = c
	return c
}

// Read returns the catalogue of a language from a gettext file. What it lacks is said in English.
func Read(l Language, po []byte) *Catalogue {
	c := &Catalogue{Language: l, texts: map[string]string{}, po: gotext.NewPo()}
	c.po.Parse(po)
	for id, t := range c.po.GetDomain().GetTranslations() {
		if text := t.Get(); id != "" && text != "" {
			c.texts[id] = text
		}
		if t.PluralID != "" {
			c.texts[t.PluralID] = t.Trs[1]
		}
	}
	return c
}

// Has reports whether a text is in the catalogue.
func (c *Catalogue) Has(text string) bool { return c.texts[text] != "" }

// Each returns all texts of the catalogue with what they are in its language.
func (c *Catalogue) Each() iter.Seq2[string, string] { return maps.All(c.texts) }

// Text implements msg.Lang.
func (c *Catalogue) Text(id string) string {
	if said, ok := c.texts[id]; ok {
		return said
	}
	return id
}

// Plural implements msg.Lang by the catalogue's plural rule; English has its own.
func (c *Catalogue) Plural(one, many string, n int) string {
	if c.po != nil && c.Has(many) {
		return c.po.GetN(one, many, n)
	}
	return msg.English.Plural(one, many, n)
}

// Preset implements msg.Lang.
func (c *Catalogue) Preset(text string) string {
	if presets[text] {
		return c.Text(text)
	}
	return text
}

// Lower implements msg.Lang. Other languages than English may write nouns with capitals.
func (c *Catalogue) Lower(text string) string {
	if c.Language.English() {
		return msg.English.Lower(text)
	}
	return text
}

// presets are the texts the program fills in where a painter may type another: what a technique
// is made of, the names it gives its cups, what a coat keeps visible.
var presets = func() map[string]bool {
	texts := map[string]bool{
		"Clear": true, "Clear reserve": true, "everything": true, "the first pour": true, "left over": true,
	}
	for _, text := range technique.Presets() {
		texts[string(text)] = true
	}
	return texts
}()

// Filled is a text that was typed, as it was, or else the one the program filled in.
func Filled(text string) msg.Text { return msg.Preset(text) }

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

// Date implements msg.Lang.
func (c *Catalogue) Date(t time.Time, layout string) string {
	if c.Language == English {
		return t.Format(layout)
	}
	pairs := make([]string, 0, 2*len(calendarNames))
	for _, name := range calendarNames {
		pairs = append(pairs, name, c.Text(name))
	}
	return strings.NewReplacer(pairs...).Replace(t.Format(c.layout(layout)))
}
