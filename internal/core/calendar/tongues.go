package calendar

import "strings"

// plain is a word of a day as it is read: other languages' words are taken in whatever
// language the studio speaks, since none of them means something else in English.
func plain(word string) string {
	bare := strings.TrimRight(word, ",:.")
	if p, ok := german[bare]; ok {
		return p
	}
	return word
}

var german = map[string]string{
	"mo": "mon", "montag": "mon", "di": "tue", "dienstag": "tue", "mi": "wed", "mittwoch": "wed", "do": "thu",
	"donnerstag": "thu",
	"fr":         "fri", "freitag": "fri", "sa": "sat", "samstag": "sat", "sonnabend": "sat", "so": "sun",
	"sonntag": "sun",
	"januar":  "jan", "februar": "feb", "mär": "mar", "märz": "mar", "mrz": "mar", "mai": "may", "juni": "jun",
	"juli": "jul",
	"okt":  "oct", "oktober": "oct", "dez": "dec", "dezember": "dec",
	"heute": "today", "morgen": "tomorrow", "nur": "only", "zu": "closed", "geschlossen": "closed", "frei": "off",
	"täglich": "daily", "werktags": "weekdays", "wochenende": "weekends", "und": "and",
	"von": "from", "bis": "to", "uhr": "",
}

// plainWords are the words of a text as they are read.
func plainWords(text string) []string {
	var out []string
	for _, w := range strings.Fields(dashes.Replace(strings.ToLower(text))) {
		read := plain(w)
		switch {
		case read != "":
			out = append(out, read)
		case strings.HasSuffix(w, ",") && len(out) > 0: // 9-12 Uhr, 13-17 Uhr
			out[len(out)-1] += ","
		}
	}
	return out
}
