package jump

import (
	"context"
	"strings"
	"unicode/utf8"

	"jevvo/internal/msg"
	"jevvo/internal/web/frame"
)

// An action is something to do with a piece, by the word it is asked for with.
type action struct {
	Name msg.ID
	At   string
}

var actions = []action{
	{"Bench", "/bench"}, {"Weigh out", "/weigh"}, {"Preview", "/preview"}, {"Composition", "/composition"},
	{"Level", "/level"},
	{"Run sheet", "/run-sheet"}, {"Price", "/price"}, {"Journal", "/journal"}, {"Labels", "/labels"},
	{"Result", "/result"}, {"On another board", "/rescale"},
}

// fewestLetters is the number of letters an action is found by.
const fewestLetters = 3

// asked splits what was typed into actions and what they are done with: “weigh ferry”
// and “weigh out ferry” are both of the ferry.
func asked(find string, l msg.Lang) (done []action, of string) {
	for _, a := range actions {
		for _, name := range []string{string(a.Name), a.Name.In(l)} {
			if rest, ok := after(strings.ToLower(find), strings.ToLower(name)); ok {
				done, of = append(done, a), rest
				break
			}
		}
	}
	return done, of
}

// after is what follows a name, or the beginning of its first word, in what was typed.
func after(find, name string) (string, bool) {
	if rest, ok := strings.CutPrefix(find, name+" "); ok {
		return strings.TrimSpace(rest), true
	}
	typed, rest, more := strings.Cut(find, " ")
	first, _, _ := strings.Cut(name, " ")
	if more && utf8.RuneCountInString(typed) >= fewestLetters && strings.HasPrefix(first, typed) {
		return strings.TrimSpace(rest), true
	}
	return "", false
}

// todo are the things to do with pieces of a name.
func (a *area) todo(ctx context.Context, find string) ([]link, error) {
	done, of := asked(find, msg.LangOf(ctx))
	if len(done) == 0 || of == "" {
		return nil, nil
	}
	pieces, _, err := a.Studio.Pieces.Pieces(ctx, of, ofAKind, 0)
	if err != nil {
		return nil, err
	}
	var out []link
	for _, p := range pieces {
		if !strings.Contains(strings.ToLower(p.Name), of) {
			continue
		}
		for _, d := range done {
			out = append(out, link{msg.F("%s: %s", d.Name, p.Name), msg.ID("to do"), frame.Piece(p.ID, d.At)})
		}
	}
	return out, nil
}
