package words

import "jevvo/internal/core/technique"

// ours are the texts the program fills in where a painter may type another: the names a
// technique gives its cups, what a coat keeps visible, what a tax is called.
var ours = func() map[string]bool {
	texts := map[string]bool{
		"Clear": true, "Clear reserve": true, "everything": true, "the first pour": true, "VAT": true,
	}
	for _, t := range technique.Library {
		for _, c := range t.Cups {
			texts[c.Name] = true
		}
	}
	return texts
}()

// Filled is a text that was typed, as it was, or else the one the program filled in, in the
// studio's language.
func Filled(text string) Own {
	if ours[text] {
		return Own(T(text))
	}
	return Own(text)
}
