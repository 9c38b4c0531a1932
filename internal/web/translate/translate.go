// Package translate exchanges the texts of templates for those of another language.
//
// Templates are written in English. In another language their texts are exchanged before
// they are parsed: a text is what stands between two tags or two controls, its values as
// {1}, {2} … in the order they come; a translation may order them otherwise. What a value
// says is looked up when it is printed, by the function "said".
package translate

import (
	"regexp"
	"strconv"
	"strings"
	"unicode"
)

// A piece of a template's source.
type piece struct {
	kind pieceKind
	text string
}

type pieceKind int

const (
	words pieceKind = iota // between tags
	value                  // an action that prints
	control
	tag
)

// sayer translates a template.
type sayer struct {
	text func(string) string
}

// Source returns a template's source with its texts as text has them.
func Source(source string, text func(string) string) string {
	return sayer{text}.run(split(source))
}

// Messages are the texts of a template's source that a catalogue has to have.
func Messages(source string) []string {
	var out []string
	Source(source, func(id string) string {
		out = append(out, id)
		return id
	})
	return out
}

// run translates a row of pieces.
func (s sayer) run(pieces []piece) string {
	var out strings.Builder
	var open []piece
	flush := func() {
		out.WriteString(s.message(open))
		open = nil
	}
	for _, p := range pieces {
		switch p.kind {
		case words, value:
			open = append(open, p)
		case control:
			flush()
			out.WriteString(p.text)
		case tag:
			flush()
			out.WriteString(s.tag(p.text))
		}
	}
	flush()
	return out.String()
}

// message translates one text with its values; the blanks around it stay.
func (s sayer) message(pieces []piece) string {
	id, values := messageOf(pieces)
	core := strings.TrimSpace(id)
	var plain strings.Builder
	for _, p := range pieces {
		if p.kind == value {
			plain.WriteString(said(p.text))
		} else {
			plain.WriteString(p.text)
		}
	}
	if !hasLetters(core) {
		return plain.String()
	}
	translated := s.text(core)
	if translated == core {
		return plain.String()
	}
	at := strings.Index(id, core)
	return fillIn(id[:at]+translated+id[at+len(core):], values)
}

// messageOf is a text as the catalogue has it, blanks run together, and its values.
func messageOf(pieces []piece) (string, []string) {
	var id strings.Builder
	var values []string
	for _, p := range pieces {
		if p.kind == value {
			values = append(values, p.text)
			id.WriteString("{" + strconv.Itoa(len(values)) + "}")
			continue
		}
		id.WriteString(blanks.ReplaceAllString(p.text, " "))
	}
	return id.String(), values
}

var (
	blanks      = regexp.MustCompile(`\s+`)
	placeholder = regexp.MustCompile(`\{(\d+)\}`)
	attribute   = regexp.MustCompile(`(?s)\b(aria-label|placeholder|title|alt|data-[\w-]+)="`)
)

func fillIn(text string, values []string) string {
	return placeholder.ReplaceAllStringFunc(text, func(p string) string {
		n, err := strconv.Atoi(p[1 : len(p)-1])
		if err != nil || n < 1 || n > len(values) {
			return p
		}
		return said(values[n-1])
	})
}

// told lets the values in a piece of a tag be told in the language.
func told(text string) string {
	var out strings.Builder
	for _, p := range actions(text) {
		if p.kind == value {
			out.WriteString(by("told", p.text))
		} else {
			out.WriteString(p.text)
		}
	}
	return out.String()
}

// actions cuts a piece of a tag into its actions and what is between them.
func actions(text string) []piece {
	var out []piece
	for text != "" {
		at := strings.Index(text, "{{")
		if at < 0 {
			return append(out, piece{tag, text})
		}
		n := actionLen(text[at:])
		kind := value
		if controls.MatchString(text[at : at+n]) {
			kind = control
		}
		out = append(out, piece{tag, text[:at]}, piece{kind, text[at : at+n]})
		text = text[at+n:]
	}
	return out
}

// said lets a value be said when it is printed.
func said(action string) string { return by("said", action) }

// by has a function print a value.
func by(function, action string) string {
	inner := strings.TrimSuffix(strings.TrimPrefix(action, "{{"), "}}")
	before, after := "", ""
	if strings.HasPrefix(inner, "- ") {
		before, inner = "- ", inner[2:]
	}
	if strings.HasSuffix(inner, " -") {
		after, inner = " -", inner[:len(inner)-2]
	}
	return "{{" + before + function + " (" + strings.TrimSpace(inner) + ")" + after + "}}"
}

func hasLetters(text string) bool {
	return strings.ContainsFunc(placeholder.ReplaceAllString(text, ""), unicode.IsLetter)
}

// tag translates those attributes of a tag that are read out or shown; texts in its
// data are told in the language, figures there are for programs.
func (s sayer) tag(text string) string {
	var out strings.Builder
	for {
		at := attribute.FindStringIndex(text)
		if at == nil {
			out.WriteString(text)
			return out.String()
		}
		name := text[at[0]:at[1]]
		out.WriteString(text[:at[1]])
		text = text[at[1]:]
		end := closing(text)
		if strings.HasPrefix(name, "data-") {
			out.WriteString(told(text[:end]))
		} else {
			out.WriteString(s.run(split(text[:end])))
		}
		text = text[end:]
	}
}

// closing is where the quoted value of an attribute ends, quotes of actions aside.
func closing(text string) int {
	for i := 0; i < len(text); i++ {
		switch {
		case strings.HasPrefix(text[i:], "{{"):
			i += actionLen(text[i:]) - 1
		case text[i] == '"':
			return i
		}
	}
	return len(text)
}

// actionLen is how long an action at the beginning of a text is.
func actionLen(text string) int {
	if strings.HasPrefix(text, "{{/*") {
		if end := strings.Index(text, "*/}}"); end >= 0 {
			return end + 4
		}
	}
	if end := strings.Index(text, "}}"); end >= 0 {
		return end + 2
	}
	return len(text)
}

var controls = regexp.MustCompile(
	`^\{\{-?\s*(/\*|if\b|else\b|end\b|range\b|with\b|define\b|template\b|block\b|break\b|continue\b|\$\w+\s*:?=|icon\b)`)

// split cuts a template's source into its pieces.
func split(source string) []piece {
	var out []piece
	add := func(kind pieceKind, text string) {
		if text != "" {
			out = append(out, piece{kind, text})
		}
	}
	from := 0
	for i := 0; i < len(source); {
		switch {
		case strings.HasPrefix(source[i:], "{{"):
			add(words, source[from:i])
			n := actionLen(source[i:])
			kind := value
			if controls.MatchString(source[i : i+n]) {
				kind = control
			}
			add(kind, source[i:i+n])
			i += n
			from = i
		case source[i] == '<' && i+1 < len(source) &&
			(unicode.IsLetter(rune(source[i+1])) || source[i+1] == '/' || source[i+1] == '!'):
			add(words, source[from:i])
			n := tagLen(source[i:])
			if m := verbatim.FindStringSubmatch(source[i : i+n]); m != nil {
				if end := strings.Index(source[i+n:], "</"+m[1]); end >= 0 {
					add(tag, source[i:i+n])
					add(control, source[i+n:i+n+end])
					i += n + end
					from = i
					continue
				}
			}
			add(tag, source[i:i+n])
			i += n
			from = i
		default:
			i++
		}
	}
	add(words, source[from:])
	return out
}

// verbatim are the tags whose content is no text of a language; what stands in a textarea is
// sent back as it is.
var verbatim = regexp.MustCompile(`^<(script|style|code|pre|textarea)\b`)

// tagLen is how long a tag at the beginning of a text is.
func tagLen(text string) int {
	i := 1
	for i < len(text) && text[i] != '>' {
		switch {
		case strings.HasPrefix(text[i:], "{{"):
			i += actionLen(text[i:])
		case text[i] == '"':
			i += 1 + closing(text[i+1:]) + 1
		case text[i] == '\'':
			i += 2 + strings.IndexByte(text[i+1:], '\'')
		default:
			i++
		}
	}
	return min(len(text), i+1)
}
