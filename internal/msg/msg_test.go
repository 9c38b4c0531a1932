package msg_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// shout is a language that says everything of the program's in capitals, with a comma for the
// point of a number.
type shout struct{ msg.Lang }

var verbs = regexp.MustCompile(`%[0-9.]*[a-z]`)

func (shout) Text(id string) string {
	var out strings.Builder
	for at := verbs.FindStringIndex(id); at != nil; at = verbs.FindStringIndex(id) {
		out.WriteString(strings.ToUpper(id[:at[0]]) + id[at[0]:at[1]])
		id = id[at[1]:]
	}
	return out.String() + strings.ToUpper(id)
}

func (shout) Figures(text string) string { return strings.ReplaceAll(text, ".", ",") }
func (shout) Preset(text string) string {
	if text == "Swipe" {
		return "SWIPE"
	}
	return text
}

var loud msg.Lang = shout{msg.English}

func TestOnlyTheProgramsTextsAreTranslated(t *testing.T) {
	for _, c := range []struct {
		text msg.Text
		want string
	}{
		{msg.ID("Ready"), "READY"}, {msg.Own("Ready"), "Ready"}, {msg.Figure("1.5 mL"), "1,5 mL"},
		{msg.Preset("Swipe"), "SWIPE"}, {msg.Preset("Our swipe"), "Our swipe"},
		{msg.F("late: %s", "Ready v1.5"), "LATE: Ready v1.5"}, {msg.F("late: %s", msg.ID("Ready")), "LATE: READY"},
		{msg.F("late: %s", nil), "LATE: "},
		{msg.Join(", ", msg.ID("a"), nil, msg.Own("b")), "A, b"}, {msg.C("unit", "piece"), "UNIT: PIECE"},
		{msg.Capital(msg.Own("écume")), "Écume"}, {msg.Lower(msg.Own("UV lamp")), "UV lamp"},
	} {
		assert.Equal(t, c.want, c.text.In(loud))
	}
	assert.Equal(t, "1.50", msg.F("%.2f", 1.5).In(msg.English))
	assert.Equal(t, "1,50", msg.Sprintf(loud, "%.2f", 1.5))
	assert.Nil(t, msg.Join(", ", nil, nil), "of nothing comes nothing")
	assert.Empty(t, msg.Say(nil, loud))
	assert.True(t, msg.Same(msg.F("%d", 1), msg.Own("1")))
	assert.False(t, msg.Is(msg.ID("")))
}

// An error is said in the language as deep as it lies, and in its own words where it is none of
// ours.
func TestErrorsAreSaid(t *testing.T) {
	refused := refusal.New("needs %s", msg.ID("a name"))
	assert.Equal(t, "needs a name", refused.Error())
	for err, want := range map[error]string{
		refused: "NEEDS A NAME", fmt.Errorf("keep the piece: %w", refused): "NEEDS A NAME",
		errors.Join(refused, errors.New("disk")): "NEEDS A NAME; disk", errors.New("disk"): "disk",
		refusal.New("not kept: %w", refused): "NOT KEPT: NEEDS A NAME",
	} {
		assert.Equal(t, strings.ToLower(want), strings.ToLower(msg.Error(err, loud)))
		assert.Equal(t, msg.Error(err, loud), msg.Of(err).In(loud))
	}
	assert.Empty(t, msg.Error(nil, loud))
}

// texts draws any text there is, some levels deep.
func texts(depth int) *rapid.Generator[msg.Text] {
	return rapid.Custom(func(t *rapid.T) msg.Text {
		word := rapid.StringMatching(`[a-zA-Z%&äß ]{0,8}`)
		id := func() msg.ID { return msg.ID(strings.ReplaceAll(word.Draw(t, "id"), "%", "")) }
		kinds := 6
		if depth > 0 {
			kinds = 11
		}
		in := func() msg.Text { return texts(depth-1).Draw(t, "text") }
		switch rapid.IntRange(0, kinds-1).Draw(t, "kind") {
		case 0:
			return id()
		case 1:
			return msg.Own(word.Draw(t, "own"))
		case 2:
			return msg.Preset(word.Draw(t, "preset"))
		case 3:
			return msg.Figure("1.5 mL")
		case 4:
			return msg.N(rapid.IntRange(0, 3).Draw(t, "n"), "cup", "cups")
		case 5:
			return msg.Date(time.Date(2026, 3, rapid.IntRange(1, 28).Draw(t, "day"), 9, 5, 0, 0, time.UTC), "Mon 2 Jan 15:04")
		case 6:
			return msg.F(id()+" %s %.1f %d %s", in(), rapid.Float64Range(-9, 9).Draw(t, "v"), rapid.IntRange(0, 9).Draw(t, "d"),
				word.Draw(t, "string"))
		case 7:
			return msg.Lower(in())
		case 8:
			return msg.Capital(in())
		case 9:
			return msg.Join("; ", in(), in())
		default:
			return msg.And(in(), in(), in())
		}
	})
}

// A text that is kept in a document says the same in every language when it is read again.
func TestStoredTextsSayTheSame(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		was := msg.Store(texts(2).Draw(rt, "text"))
		data, err := json.Marshal(was)
		require.NoError(rt, err)
		var is msg.Stored
		require.NoError(rt, json.Unmarshal(data, &is), string(data))
		for _, l := range []msg.Lang{msg.English, loud} {
			assert.Equal(rt, was.In(l), is.In(l), string(data))
		}
	})
	var old msg.Stored
	require.NoError(t, json.Unmarshal([]byte(`"Swipe"`), &old), "from before texts had a type")
	assert.Equal(t, "SWIPE", old.In(loud))
	require.NoError(t, json.Unmarshal([]byte(`""`), &old))
	assert.Nil(t, old.Text)
}
