package calc

import (
	"encoding/json"

	"github.com/creasty/defaults"
	schemas "github.com/swaggest/jsonschema-go"

	"jevvo/internal/exchange/piecefile"
)

// PieceSchemaPath is where the schema of the piece document lies.
const PieceSchemaPath = "/api/schemas/piece.json"

var pieceSchema = lazily("piece", new(piecefile.Document))

// PieceSchema returns the JSON Schema of the piece document.
func PieceSchema() ([]byte, error) {
	reflector := schemas.Reflector{}
	s, err := reflector.Reflect(new(piecefile.Document), schemas.InlineRefs)
	if err != nil {
		return nil, err
	}
	s.WithID(PieceSchemaPath)
	s.WithSchema("https://json-schema.org/draft/2020-12/schema")
	s.WithTitle("Piece")
	return json.MarshalIndent(s, "", "  ")
}

// ReadPiece reads a piece document, or returns a [*Problem] that names the fields
// that cannot be.
func ReadPiece(body []byte) (piecefile.Document, error) {
	var d piecefile.Document
	value, err := parse(body)
	if err != nil {
		return d, err
	}
	if err := pieceSchema().Validate(value); err != nil {
		return d, refused(fieldErrors(err)...)
	}
	if err := defaults.Set(&d); err != nil {
		return d, err
	}
	return d, json.Unmarshal(body, &d)
}
