package msg

import (
	"encoding/json"
	"fmt"
	"time"
)

// A Stored text is kept in a document, to be said in whatever language it is read in. Its zero
// is no text.
type Stored struct{ Text }

// Store is a text to be kept.
func Store(t Text) Stored { return Stored{t} }

// In implements Text.
func (s Stored) In(l Lang) string { return Say(s.Text, l) }

// String is the text in English.
func (s Stored) String() string { return s.In(English) }

// MarshalJSON implements json.Marshaler: a painter's text is a string, any other an object
// with what it is made of.
func (s Stored) MarshalJSON() ([]byte, error) { return json.Marshal(write(s.Text)) }

// UnmarshalJSON implements json.Unmarshaler. A bare string may be one the program filled in,
// in a document from before texts had a type.
func (s *Stored) UnmarshalJSON(data []byte) error {
	var bare string
	if json.Unmarshal(data, &bare) == nil {
		s.Text = nil
		if bare != "" {
			s.Text = Preset(bare)
		}
		return nil
	}
	var r record
	if err := json.Unmarshal(data, &r); err != nil {
		return err
	}
	t, err := r.text()
	s.Text = t
	return err
}

// record is how a text is kept; its kind says which of the values it has.
type record struct {
	Own    *string    `json:"own,omitempty"`
	Preset *string    `json:"preset,omitempty"`
	Figure *string    `json:"figure,omitempty"`
	ID     ID         `json:"id,omitempty"`
	Many   ID         `json:"many,omitempty"`
	N      int        `json:"n,omitempty"`
	Values []any      `json:"values,omitempty"`
	Date   *time.Time `json:"date,omitempty"`
	Layout string     `json:"layout,omitempty"`
	Lower  *record    `json:"lower,omitempty"`
	Capped *record    `json:"capital,omitempty"`
	Sep    string     `json:"sep,omitempty"`
	Texts  []*record  `json:"texts,omitempty"`
	And    []*record  `json:"and,omitempty"`
}

func write(t Text) *record {
	switch t := t.(type) {
	case nil:
		return nil
	case Stored:
		return write(t.Text)
	case ID:
		return &record{ID: t}
	case Preset:
		return &record{Preset: (*string)(&t)}
	case Figure:
		return &record{Figure: (*string)(&t)}
	case *filled:
		r := &record{ID: t.id, Many: t.many, N: t.n}
		if t.many == "" {
			for _, v := range t.values {
				r.Values = append(r.Values, writeValue(v))
			}
		}
		return r
	case date:
		return &record{Date: &t.t, Layout: t.layout}
	case lowered:
		return &record{Lower: write(t.text)}
	case capitalised:
		return &record{Capped: write(t.text)}
	case joined:
		return &record{Sep: t.sep, Texts: writeAll(t.texts)}
	case list:
		return &record{And: writeAll(t)}
	}
	own := t.In(English) // a painter's, or a kind that is not kept
	return &record{Own: &own}
}

func writeAll(texts []Text) []*record {
	out := []*record{}
	for _, t := range texts {
		if r := write(t); r != nil {
			out = append(out, r)
		}
	}
	return out
}

// writeValue keeps a value of a format: texts as records, numbers and strings as they are.
func writeValue(v any) any {
	switch v := v.(type) {
	case Text:
		return write(v)
	case float64, int, string, nil:
		return v
	}
	return fmt.Sprint(v)
}

func (r *record) text() (Text, error) {
	switch {
	case r == nil:
		return nil, nil
	case r.Own != nil:
		return Own(*r.Own), nil
	case r.Preset != nil:
		return Preset(*r.Preset), nil
	case r.Figure != nil:
		return Figure(*r.Figure), nil
	case r.Many != "":
		return N(r.N, r.ID, r.Many), nil
	case r.Date != nil:
		return Date(*r.Date, r.Layout), nil
	case r.Lower != nil:
		t, err := r.Lower.text()
		return Lower(t), err
	case r.Capped != nil:
		t, err := r.Capped.text()
		return Capital(t), err
	case r.And != nil:
		all, err := readAll(r.And)
		return And(all...), err
	case r.Texts != nil:
		all, err := readAll(r.Texts)
		return Join(r.Sep, all...), err
	case len(r.Values) == 0:
		return r.ID, nil
	}
	values := make([]any, len(r.Values))
	for i, v := range r.Values {
		read, err := readValue(v)
		if err != nil {
			return nil, err
		}
		values[i] = read
	}
	return F(r.ID, values...), nil
}

func readAll(all []*record) ([]Text, error) {
	out := make([]Text, len(all))
	for i, r := range all {
		t, err := r.text()
		if err != nil {
			return nil, err
		}
		out[i] = t
	}
	return out, nil
}

// readValue reads a value of a format; a number that is whole fits %d and %.0f alike.
func readValue(v any) (any, error) {
	m, ok := v.(map[string]any)
	if !ok {
		return v, nil
	}
	data, err := json.Marshal(m)
	if err != nil {
		return nil, err
	}
	var r record
	if err := json.Unmarshal(data, &r); err != nil {
		return nil, err
	}
	return r.text()
}
