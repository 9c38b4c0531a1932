package api

import (
	"github.com/swaggest/jsonschema-go"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// A ChangeOf is a [Change] whose fields are described: F is one of the types below.
type ChangeOf[F any] struct {
	Rev    int64 `json:"rev,omitempty" description:"the one the change was made on"`
	Fields F     `json:"fields" required:"true"`
}

// The fields of what is kept, described by the same entries as the forms.
type (
	pieceFields   Fields
	resinFields   Fields
	pigmentFields Fields
)

// PrepareJSONSchema describes the fields of a board; those of its coats and cups have ids in their keys.
func (pieceFields) PrepareJSONSchema(s *jsonschema.Schema) error {
	s.WithDescription("Those of the coats and cups as GET shows them, with their ids in the keys; those of the board:")
	return describe(s, pieces.BoardFields())
}

// PrepareJSONSchema describes the fields of a resin.
func (resinFields) PrepareJSONSchema(s *jsonschema.Schema) error {
	return describe(s, materials.ResinFields)
}

// PrepareJSONSchema describes the fields of a pigment.
func (pigmentFields) PrepareJSONSchema(s *jsonschema.Schema) error {
	return describe(s, materials.PigmentFields)
}

// describe adds a property a field: its label, an example and its choices.
func describe[T any](s *jsonschema.Schema, fields form.Fields[T]) error {
	for _, f := range fields {
		p := jsonschema.String.ToSchemaOrBool()
		p.TypeObject.WithTitle(msg.Say(f.Label, msg.English))
		if f.Hint != nil {
			p.TypeObject.WithExamples(msg.Say(f.Hint, msg.English))
		}
		for _, o := range f.Options {
			p.TypeObject.Enum = append(p.TypeObject.Enum, o.Value)
		}
		s.WithPropertiesItem(f.Key, p)
	}
	return nil
}
