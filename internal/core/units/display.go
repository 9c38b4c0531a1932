package units

import (
	"regexp"
	"strings"

	"jevvo/internal/core/refusal"
)

// A Display is one line as a bench scale sends or types it.
type Display struct {
	Mass   Mass
	Moving bool // it says itself that it has not come to rest
}

// ErrOverload is returned for a line that says there is too much on the pan.
var ErrOverload = refusal.New("the scale is overloaded")

// displayed finds the number of a line: a sign that may stand apart, digits, and
// a unit.
var displayed = regexp.MustCompile(`([+\-−]?)\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*(kg|g|oz|lb)?\b`)

// moving and overloaded are what scales write beside the number (common
// practice).
var (
	moving     = regexp.MustCompile(`(?:^|[\s,;])(?:US|UNST|D)(?:[\s,;]|$)|[?~*]`)
	overloaded = regexp.MustCompile(`(?:^|[\s,;])(?:OL|OVER|ERR|ERROR)(?:[\s,;]|$)|-{3,}`)
)

// longestDisplay bounds a line; what is longer is noise on the cable.
const longestDisplay = 80

// ParseDisplay reads a line of a scale, such as "ST,GS,+  123.4 g" or "123,4". A
// number without a unit is grams.
func ParseDisplay(line string) (Display, error) {
	text := strings.TrimSpace(line)
	if text == "" || len(text) > longestDisplay {
		return Display{}, &ParseError{line, refusal.New("the scale sent nothing that can be read")}
	}
	up := strings.ToUpper(text)
	if overloaded.MatchString(up) {
		return Display{}, ErrOverload
	}
	m := displayed.FindStringSubmatch(text)
	if m == nil {
		return Display{}, &ParseError{line, refusal.New("the scale sent nothing that can be read")}
	}
	r, err := ParseMass(m[2]+" "+m[3], "g")
	if err != nil {
		return Display{}, err
	}
	if m[1] == "-" || m[1] == "−" {
		r.Value = -r.Value
	}
	return Display{Mass: r.Value, Moving: moving.MatchString(up)}, nil
}
