package msg

import (
	"strings"
	"time"
	"unicode"
	"unicode/utf8"
)

// English is the language the texts are written in.
var English Lang = english{}

type english struct{}

// Text implements Lang.
func (english) Text(id string) string { return id }

// Plural implements Lang.
func (english) Plural(one, many string, n int) string {
	if n == 1 {
		return one
	}
	return many
}

// Preset implements Lang.
func (english) Preset(text string) string { return text }

// Figures implements Lang.
func (english) Figures(text string) string { return text }

// Date implements Lang.
func (english) Date(t time.Time, layout string) string { return t.Format(layout) }

// Lower implements Lang: a word that is all capitals stays.
func (english) Lower(s string) string { return lower(s) }

func lower(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if size == 0 || first == utf8.RuneError {
		return s
	}
	if second, _ := utf8.DecodeRuneInString(s[size:]); unicode.IsUpper(second) {
		return s
	}
	return string(unicode.ToLower(first)) + s[size:]
}

func capital(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if size == 0 || first == utf8.RuneError {
		return s
	}
	return string(unicode.ToUpper(first)) + strings.TrimPrefix(s, string(first))
}
