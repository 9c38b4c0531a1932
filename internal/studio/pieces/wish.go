package pieces

import (
	"slices"
	"strings"
	"unicode"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/studio/materials"
)

// whiteFrom is the lightness from which a pigment serves as a white, L* of its swatch.
const whiteFrom = 85

// Wish gives the cups of a coat the pigments in stock that somebody's words for colours name: "sea
// green, a little rust". A cup that is to be white gets a white. Where nothing else is named, or no
// white is owned for a coat that needs one, the cups stay as they are.
func Wish(coat *plan.CoatSpec, wanted, unwanted string, b *materials.Book) error {
	avoid := named(unwanted, b.Paints)
	ids := slices.DeleteFunc(named(wanted, b.Paints), func(id int64) bool { return slices.Contains(avoid, id) })
	if len(ids) == 0 {
		return nil
	}
	if slices.ContainsFunc(coat.Colours, func(c plan.Colour) bool { return c.Role == technique.White }) {
		white := whitest(b.Paints, avoid)
		ids = slices.DeleteFunc(ids, func(id int64) bool { return id == white })
		if white == 0 || len(ids) == 0 {
			return nil
		}
		ids = append(ids, white)
	}
	if len(ids) > mostColours {
		ids = slices.Delete(ids, mostColours-1, len(ids)-1)
	}
	return dress(coat, ids, b.Pigments)
}

// What stands between two colours, and what says that one is not wished for.
var (
	between = strings.NewReplacer(" and ", ",", " or ", ",", " with ", ",", " und ", ",", " oder ", ",", " mit ", ",")
	denials = []string{"no", "not", "without", "kein", "keine", "ohne", "nicht"}
)

// named are the pigments that words name, in their order. Each colour is the last word of what stands
// between commas; of several pigments that have it the one with most of the words.
func named(text string, paints []material.Pigment) []int64 {
	var out []int64
	phrases := strings.FieldsFunc(between.Replace(strings.ToLower(text)),
		func(r rune) bool { return strings.ContainsRune(",;/&+\n.", r) })
	for _, phrase := range phrases {
		words := wordsOf(phrase)
		if len(words) == 0 || slices.ContainsFunc(words, func(w string) bool { return slices.Contains(denials, w) }) {
			continue
		}
		best, most := int64(0), 0
		for _, p := range paints {
			has := wordsOf(p.Name)
			common := 0
			for _, w := range words {
				if slices.Contains(has, w) {
					common++
				}
			}
			if !p.Retired && slices.Contains(has, words[len(words)-1]) && common > most {
				best, most = p.ID, common
			}
		}
		if best != 0 && !slices.Contains(out, best) {
			out = append(out, best)
		}
	}
	return out
}

func wordsOf(text string) []string {
	return strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) })
}

// whitest is the lightest pigment that serves as a white and is not to be avoided, 0 for none.
func whitest(paints []material.Pigment, avoid []int64) int64 {
	best, light := int64(0), whiteFrom-1e-9
	for _, p := range paints {
		c, err := colour.ParseHex(p.Swatch)
		if err != nil || p.Retired || slices.Contains(avoid, p.ID) {
			continue
		}
		if l := c.XYZ().Lab(); l.L > light && l.Chroma() < 15 {
			best, light = p.ID, l.L
		}
	}
	return best
}
