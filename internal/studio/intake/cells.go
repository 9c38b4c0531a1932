package intake

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"

	"golang.org/x/image/colornames"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
)

var (
	technique = pieces.CoatKey(plan.FirstCoat, "technique")
	product   = pieces.CoatKey(plan.FirstCoat, "product")
)

// heads are what columns are called besides the names of their fields, in English and German.
var heads = map[string][]string{
	"name": {"colour", "color", "pigment", "product", "article", "item", "title", "piece", "work", "bezeichnung", "farbe",
		"artikel", "titel", "werk", "produkt"},
	"swatch":    {"hex", "rgb", "colour code", "color code", "farbwert", "farbcode"},
	"form":      {"type", "kind", "art", "sorte"},
	"maker":     {"maker", "group", "hersteller"},
	"price":     {"price", "cost", "preis"},
	"bottle":    {"content", "weight", "amount", "inhalt", "menge"},
	"kit":       {"content", "amount", "inhalt", "menge"},
	"pack":      {"pack", "packung"},
	"ratio":     {"ratio", "mixing ratio", "a:b", "mischungsverhältnis", "verhältnis"},
	"by":        {"measured by", "gemessen nach"},
	"working":   {"working time", "pot life", "open time", "verarbeitungszeit", "topfzeit"},
	"hard":      {"hard", "cure time", "cured after", "aushärtung", "hart nach"},
	"viscosity": {"viscosity", "viskosität"},
	"supplier":  {"supplier", "shop", "vendor", "lieferant"},
	"unit":      {"unit", "einheit"},
	"size":      {"dimensions", "format", "maße", "größe"},
	"start":     {"date", "poured", "day", "datum", "gegossen"},
	"brief":     {"notes", "remarks", "notizen", "bemerkung"},
	technique:   {"technique", "technik"},
	product:     {"resin", "harz"},
}

// plainHead is a head without case, unit and punctuation.
func plainHead(text string) string {
	text = strings.ToLower(text)
	for _, end := range []string{"(", ",", " at ", " bei "} {
		text, _, _ = strings.Cut(text, end)
	}
	return strings.TrimFunc(text, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}

// keyOf is the field a head names, "" for none.
func (d desk) keyOf(head string) string {
	plain := plainHead(head)
	if plain == "" {
		return ""
	}
	for _, f := range d.fields {
		if plain == plainHead(f.Label.In(msg.English)) || plain == plainHead(f.Label.In(d.say)) || plain == f.Key {
			return f.Key
		}
	}
	for _, f := range d.fields {
		for _, other := range heads[f.Key] {
			if plain == plainHead(other) {
				return f.Key
			}
		}
	}
	return ""
}

// columns finds what the columns are and returns the rows below the heads. Without heads
// the first column is the name and the others are what their cells look like.
func (d desk) columns(rows [][]string) ([]Column, [][]string) {
	first := rows[0]
	named := make([]Column, len(first))
	used := map[string]bool{}
	for i, head := range first {
		key := d.keyOf(head)
		if used[key] {
			key = ""
		}
		used[key] = true
		named[i] = Column{Head: head, Key: key}
	}
	if !used["name"] || len(rows) == 1 && len(first) == 1 {
		return d.sorted(rows)
	}
	d.label(named)
	return named, rows[1:]
}

func (d desk) label(columns []Column) {
	for i, c := range columns {
		if f, ok := d.field(c.Key); ok {
			columns[i].Label = f.Label
		}
	}
}

func (d desk) field(key string) (form.View, bool) {
	for _, f := range d.fields {
		if f.Key == key && key != "" {
			return f, true
		}
	}
	return form.View{}, false
}

// sorted reads a list without heads: a line begins with the name, and each of its other cells is
// what it looks like, whatever stands there in the next line. What looks like nothing comes last.
func (d desk) sorted(rows [][]string) ([]Column, [][]string) {
	found := map[string]bool{"name": true}
	read, unread := make([]map[string]string, len(rows)), make([][]string, len(rows))
	for i, row := range rows {
		row = d.apart(row)
		read[i] = map[string]string{"name": row[0]}
		for _, cell := range row[1:] {
			switch key := d.guess(cell, read[i]); {
			case key != "":
				read[i][key], found[key] = cell, true
			case cell != "":
				unread[i] = append(unread[i], cell)
			}
		}
	}
	var columns []Column
	for _, f := range d.fields {
		if found[f.Key] {
			columns = append(columns, Column{Key: f.Key})
		}
	}
	d.label(columns)
	out := make([][]string, len(rows))
	for i := range rows {
		for _, c := range columns {
			out[i] = append(out[i], read[i][c.Key])
		}
		out[i] = append(out[i], unread[i]...)
	}
	return columns, out
}

// apart divides a line that stands in one cell: at its semicolons, at its commas where all that
// follows looks like something, and before the figures of a colour at its end.
func (d desk) apart(row []string) []string {
	if len(row) > 1 {
		return row
	}
	if parts := strings.Split(row[0], ";"); len(parts) > 1 {
		for i := range parts {
			parts[i] = strings.TrimSpace(parts[i])
		}
		return parts
	}
	if parts := strings.Split(row[0], ","); len(parts) > 1 {
		read := map[string]string{"name": row[0]}
		for i := range parts {
			parts[i] = strings.TrimSpace(parts[i])
			if i == 0 {
				continue
			}
			key := d.guess(parts[i], read)
			if key == "" {
				return row
			}
			read[key] = parts[i]
		}
		return parts
	}
	if at := strings.LastIndex(row[0], " "); at > 0 && hexCode.MatchString(row[0][at+1:]) && row[0][at+1] == '#' {
		return []string{strings.TrimSpace(row[0][:at]), row[0][at+1:]}
	}
	return row
}

// guess is the field a cell looks like that is not among those of its line yet, "" for none.
func (d desk) guess(cell string, read map[string]string) string {
	if cell == "" {
		return ""
	}
	for _, f := range d.fields {
		if _, has := read[f.Key]; !has && d.looksLike(f, cell) {
			return f.Key
		}
	}
	return ""
}

var (
	hexCode  = regexp.MustCompile(`^(#?[0-9a-fA-F]{6}|#[0-9a-fA-F]{3})$`)
	ratio    = regexp.MustCompile(`^\d+([.,]\d+)?\s*:\s*\d+([.,]\d+)?$`)
	size     = regexp.MustCompile(`^\d+([.,]\d+)?\s*(cm|mm|m|in|")?\s*[x×*]\s*\d+`)
	currency = regexp.MustCompile(`[€$£]|EUR|USD|GBP`)
	price    = regexp.MustCompile(`^([€$£]|EUR|USD|GBP)?\s*\d+([.,]\d{2})?\s*([€$£]|EUR|USD|GBP)$`)
)

// looksLike reports whether a cell without a head can only be that field's.
func (d desk) looksLike(f form.View, cell string) bool {
	switch {
	case f.Kind == form.Colour:
		return colourOf(cell) != ""
	case len(f.Options) > 0:
		_, ok := d.option(f, cell)
		return ok
	case f.Key == "ratio":
		return ratio.MatchString(cell)
	case f.Key == "size":
		return size.MatchString(cell)
	case f.Key == "price":
		return price.MatchString(cell)
	case f.Kind == form.Moment:
		_, ok := d.day(cell)
		return ok
	}
	return false
}

// option is the choice a cell names: by its value, its label, or a label that begins so.
func (d desk) option(f form.View, cell string) (string, bool) {
	plain := plainHead(cell)
	if plain == "" {
		return "", false
	}
	for _, o := range f.Options {
		if plain == strings.ToLower(o.Value) || plain == plainHead(o.Label.In(msg.English)) ||
			plain == plainHead(o.Label.In(d.say)) {
			return o.Value, true
		}
	}
	for _, o := range f.Options {
		if len(plain) > 2 && (strings.HasPrefix(plainHead(o.Label.In(msg.English)), plain) ||
			strings.HasPrefix(plainHead(o.Label.In(d.say)), plain)) {
			return o.Value, true
		}
	}
	return "", false
}

// days are how spreadsheets write a date: by the standard, else the day first. With strokes a
// studio that reads American English has the month first.
var (
	days        = []string{time.DateOnly, "2006-01-02T15:04", "2006-01-02 15:04", "2.1.2006", "2.1.06"}
	strokes     = []string{"2/1/2006", "2/1/06"}
	monthsFirst = []string{"1/2/2006", "1/2/06"}
)

func (d desk) day(cell string) (time.Time, bool) {
	others := strokes
	if d.monthFirst {
		others = monthsFirst
	}
	for _, layout := range slices.Concat(days, others) {
		if t, err := time.Parse(layout, cell); err == nil {
			return t, true
		}
	}
	return time.Time{}, false
}

// row reads the cells of a line.
func (d desk) row(columns []Column, cells []string) Row {
	r := Row{Typed: map[string]string{}, Shown: map[string]msg.Text{}, Notices: form.NewNotices()}
	for i, cell := range cells {
		if cell == "" {
			continue
		}
		if i >= len(columns) {
			r.Unread = append(r.Unread, cell)
			continue
		}
		if f, ok := d.field(columns[i].Key); ok {
			f.Value = d.text(f, cell)
			r.Typed[f.Key], r.Shown[f.Key] = f.Value, f.Shown()
		}
	}
	r.Name = r.Typed["name"]
	if _, has := r.Typed["swatch"]; d.kind == Pigments && !has {
		if hex := named(r.Name); hex != "" {
			r.Typed["swatch"], r.Guessed = hex, true
		}
	}
	if _, has := r.Typed["state"]; d.kind == Past && !has {
		r.Typed["state"] = string(plan.Done)
	}
	return r
}

// text is a cell as it would be typed into its field.
func (d desk) text(f form.View, cell string) string {
	switch {
	case f.Kind == form.Colour:
		return cmp.Or(colourOf(cell), cell)
	case len(f.Options) > 0:
		if value, ok := d.option(f, cell); ok {
			return value
		}
	case f.Kind == form.Yes:
		if strings.Contains(" yes y ja j x true 1 ", " "+strings.ToLower(cell)+" ") {
			return "yes"
		}
		return "no"
	case f.Kind == form.Moment:
		if t, ok := d.day(cell); ok {
			return t.Format(form.MomentLayout)
		}
	case f.Key == "price":
		return strings.TrimSpace(currency.ReplaceAllString(cell, ""))
	}
	return cell
}

// alike are colour words of the trade and of German by those of the standard's list they come nearest to.
var alike = map[string]string{"weiß": "white", "schwarz": "black", "rot": "red", "blau": "blue", "grün": "green",
	"gelb": "yellow", "violett": "violet", "lila": "purple", "braun": "brown", "grau": "gray", "türkis": "turquoise",
	"silber": "silver", "rosa": "pink", "grey": "gray", "copper": "peru", "kupfer": "peru", "bronze": "darkgoldenrod",
	"ochre": "goldenrod", "ocker": "goldenrod", "sand": "tan", "pearl": "whitesmoke", "rust": "sienna", "rost": "sienna",
	"slate": "slategray", "schiefer": "slategray", "bone": "antiquewhite", "cream": "cornsilk", "creme": "cornsilk",
	"sage": "darkseagreen", "salbei": "darkseagreen", "moss": "darkolivegreen", "moos": "darkolivegreen",
	"mustard": "goldenrod", "senf": "goldenrod", "burgundy": "maroon", "bordeaux": "maroon", "wine": "maroon",
	"terracotta": "darksalmon", "emerald": "mediumseagreen", "smaragd": "mediumseagreen", "jade": "mediumseagreen",
	"ruby": "crimson", "rubin": "crimson", "sapphire": "mediumblue", "saphir": "mediumblue", "amber": "orange",
	"bernstein": "orange", "rose": "palevioletred", "blush": "mistyrose", "graphite": "dimgray", "graphit": "dimgray",
	"charcoal": "darkslategray", "anthrazit": "darkslategray", "soot": "black", "umber": "saddlebrown",
	"umbra": "saddlebrown", "petrol": "teal", "aubergine": "indigo", "mint": "mediumaquamarine", "denim": "steelblue",
	"ink": "midnightblue", "tinte": "midnightblue", "lagoon": "lightseagreen", "lagune": "lightseagreen",
	"night": "midnight", "nacht": "midnight", "himmel": "sky", "see": "sea", "wald": "forest", "brass": "darkgoldenrod",
	"messing": "darkgoldenrod", "dunkel": "dark", "hell": "light"}

// apartWords divides a German word that ends in a colour, schieferblau into schiefer and blau.
func apartWords(word string) []string {
	for _, end := range []string{"weiß", "schwarz", "rot", "blau", "grün", "gelb", "violett", "braun", "grau", "türkis",
		"rosa", "silber"} {
		if begin := strings.TrimSuffix(word, end); begin != word && len(begin) > 2 {
			return []string{begin, end}
		}
	}
	return []string{word}
}

// hues are so wide that a word beside one says more: navy blue is navy.
var hues = map[string]bool{"red": true, "blue": true, "green": true, "yellow": true, "brown": true, "gray": true}

// named is the colour a name suggests, by the names of SVG 1.1: two words together before
// one, the last before the first, a mere hue after all others; "" where it suggests none.
func named(name string) string {
	var words []string
	for _, w := range strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) }) {
		words = append(words, apartWords(w)...)
	}
	plain := make([]string, len(words))
	for i, w := range words {
		plain[i] = cmp.Or(alike[w], w)
	}
	var tried []string
	for i := len(words) - 1; i > 0; i-- {
		tried = append(tried, words[i-1]+words[i], plain[i-1]+plain[i])
	}
	slices.Reverse(plain)
	slices.SortStableFunc(plain, func(a, b string) int { return rank(a) - rank(b) })
	for _, name := range append(tried, plain...) {
		if c, ok := colornames.Map[name]; ok {
			return hexOf(c.R, c.G, c.B)
		}
	}
	return ""
}

func rank(word string) int {
	if hues[word] {
		return 1
	}
	return 0
}

// colourOf is the colour a cell says in figures or by one word of it, "" where it says none.
func colourOf(cell string) string {
	if !hexCode.MatchString(cell) {
		return named(cell)
	}
	figures := strings.ToLower(strings.TrimPrefix(cell, "#"))
	if len(figures) == 3 {
		figures = string([]byte{figures[0], figures[0], figures[1], figures[1], figures[2], figures[2]})
	}
	return "#" + figures
}

func hexOf(r, g, b uint8) string { return fmt.Sprintf("#%02x%02x%02x", r, g, b) }
