package web_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/bench"
)

// A program asks with a key, and may what its scopes say.
func TestRecordsByKey(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Mudflat"})
	ask := func(key, method, path, body string) (int, map[string]any) {
		r := httptest.NewRequestWithContext(t.Context(), method, "http://localhost"+path, strings.NewReader(body))
		r.Header.Set("Content-Type", "application/json")
		if key != "" {
			r.Header.Set("Authorization", "Bearer "+key)
		}
		w := httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		out := map[string]any{}
		if w.Body.Len() > 0 {
			require.NoError(t, json.Unmarshal(w.Body.Bytes(), &out), w.Body.String())
		}
		return w.Code, out
	}
	key := func(scopes ...access.Scope) string {
		var texts []string
		for _, sc := range scopes {
			texts = append(texts, string(sc))
		}
		k, err := s.Access.MakeKey(t.Context(), "spreadsheet", texts)
		require.NoError(t, err)
		return k
	}
	reads, writes := key(access.ReadPieces, access.ReadStock, access.ReadJournal), key(access.WritePieces,
		access.WriteStock, access.WriteJournal)

	status, got := ask(reads, "GET", "/api/v1/pieces?find=Mud", "")
	require.Equal(t, http.StatusOK, status)
	assert.EqualValues(t, 1, got["total"])
	one := fmt.Sprintf("/api/v1/pieces/%d", p.ID)
	_, got = ask(reads, "GET", one, "")
	assert.Equal(t, "Mudflat", got["fields"].(map[string]any)["name"])
	status, _ = ask(reads, "PATCH", one, `{"rev":1,"fields":{"name":"Marsh"}}`)
	assert.Equal(t, http.StatusForbidden, status, "it only reads")
	status, got = ask(writes, "PATCH", one, fmt.Sprintf(`{"rev":%d,"fields":{"name":"Marsh"}}`, p.Rev))
	require.Equal(t, http.StatusOK, status, got)
	assert.Equal(t, "Marsh", got["name"], "to write is to read too")
	status, got = ask(writes, "PATCH", one, fmt.Sprintf(`{"rev":%d,"fields":{"size":"minus"}}`, p.Rev))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Equal(t, "size", got["errors"].([]any)[0].(map[string]any)["field"])
	status, got = ask(writes, "POST", "/api/v1/pieces", `{"fields":{"name":"Sandbar"}}`)
	assert.Equal(t, http.StatusCreated, status, got)
	_, got = ask(reads, "GET", one+"/coats", "")
	coat := got["coats"].([]any)[0].(map[string]any)
	v := s.view(p)
	assert.InDelta(t, v.Plan.Coats[0].Total.Millilitres(), coat["total_ml"], 1e-9, "as the piece's page says")

	status, doc := ask(reads, "GET", one+"/document", "")
	require.Equal(t, http.StatusOK, status)
	text, err := json.Marshal(doc)
	require.NoError(t, err)
	status, got = ask(writes, "POST", "/api/v1/pieces/document", string(text))
	require.Equal(t, http.StatusCreated, status, got)
	_, again := ask(reads, "GET", fmt.Sprintf("/api/v1/pieces/%v/document", got["id"]), "")
	assert.Equal(t, doc, again, "a piece made of a document has that document")
	status, got = ask(writes, "POST", "/api/v1/pieces/document",
		`{"board":{"shape":"circle","diameter_mm":300},"layers":[{"resin":"nobody's"}]}`)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Equal(t, "layers[0].resin", got["errors"].([]any)[0].(map[string]any)["field"])
	_, got = ask("", "GET", "/api/schemas/piece.json", "")
	assert.Contains(t, got["properties"], "layers")

	_, got = ask(reads, "GET", "/api/v1/stock", "")
	resin := got["resins"].([]any)[0].(map[string]any)
	item := fmt.Sprintf("/api/v1/stock/resins/%v", resin["id"])
	status, got = ask(writes, "PATCH", item, fmt.Sprintf(`{"rev":%v,"fields":{"kit":"900 ml"}}`, resin["rev"]))
	require.Equal(t, http.StatusOK, status, got)
	assert.Equal(t, "900 mL", got["fields"].(map[string]any)["kit"])
	status, _ = ask(writes, "PATCH", item, fmt.Sprintf(`{"rev":%v,"fields":{"kit":"800 ml"}}`, resin["rev"]))
	assert.Equal(t, http.StatusConflict, status, "made on an older state")

	b, err := s.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	status, _ = ask(writes, "POST", "/api/v1/journal", fmt.Sprintf(`{"bench":%d,"text":"lamp on"}`, b.ID))
	assert.Equal(t, http.StatusNoContent, status)
	_, got = ask(reads, "GET", "/api/v1/journal?find=lamp", "")
	assert.Len(t, got["entries"], 1)

	for _, bad := range []struct {
		key, method, path, body string
		status                  int
	}{
		{key(access.ReadStock), "GET", one, "", 403}, {"jevvo_guessed", "GET", one, "", 200}, // the first screen needs no key
		{writes, "PATCH", one, "{", 400}, {writes, "PATCH", one, `{"fields":{}}`, 422},
		{writes, "PATCH", one, `{"fields":{"name":"x"}}`, 422}, {writes, "PATCH", one, `{"rev":1,"fields":{"nmae":"x"}}`,
			422}, {writes, "PATCH", item, `{"rev":1,"fields":{"stcok":"x"}}`, 422}, {writes, "PATCH", one, `{"rev":"a"}`, 422},
		{reads, "GET", "/api/v1/pieces/999999", "", 404}, {reads, "GET", "/api/v1/pieces/x", "", 404},
		{writes, "PATCH", "/api/v1/stock/resins/0", `{"fields":{"name":"x"}}`, 404},
		{writes, "POST", "/api/v1/journal", `{"bench":999999,"text":"x"}`, 404},
	} {
		status, got := ask(bad.key, bad.method, bad.path, bad.body)
		assert.Equal(t, bad.status, status, "%s %s %s: %v", bad.method, bad.path, bad.body, got)
	}
	_, got = ask("", "GET", "/api/openapi.json", "")
	assert.Contains(t, got["paths"], "/api/v1/pieces/{id}/coats")
	_, kept := ask(reads, "GET", "/api/v1/stock", "")
	schemas := got["components"].(map[string]any)["schemas"].(map[string]any)
	for list, schema := range map[string]string{"resins": "ApiResinFields", "pigments": "ApiPigmentFields"} {
		have := kept[list].([]any)[0].(map[string]any)["fields"].(map[string]any)
		described := schemas[schema].(map[string]any)["properties"].(map[string]any)
		assert.ElementsMatch(t, slices.Collect(maps.Keys(have)), slices.Collect(maps.Keys(described)),
			"%s are described", list)
	}
}

// A change that is sent again with its key is made once, and answered as it was; a key
// that comes with another change is refused, and one that failed may be sent again.
func TestAChangeSentAgainIsMadeOnce(t *testing.T) {
	s := open(t)
	caller, err := s.Access.MakeKey(t.Context(), "spreadsheet", []string{string(access.WritePieces)})
	require.NoError(t, err)
	ask := func(key, body string) *httptest.ResponseRecorder {
		r := httptest.NewRequestWithContext(t.Context(), "POST", "http://localhost/api/v1/pieces", strings.NewReader(body))
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Authorization", "Bearer "+caller)
		r.Header.Set("Idempotency-Key", key)
		w := httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		return w
	}
	many := func() int {
		_, n, err := s.Pieces.Pieces(t.Context(), "", 1, 0)
		require.NoError(t, err)
		return n
	}
	const sandbar, spit = `{"fields":{"name":"Sandbar"}}`, `{"fields":{"name":"Spit"}}`
	first := ask("k1", sandbar)
	require.Equal(t, http.StatusCreated, first.Code, first.Body)
	again := ask("k1", sandbar)
	assert.Equal(t, http.StatusCreated, again.Code)
	assert.JSONEq(t, first.Body.String(), again.Body.String())
	assert.Equal(t, 1, many())
	assert.Equal(t, http.StatusUnprocessableEntity, ask("k1", spit).Code)
	assert.Equal(t, http.StatusCreated, ask("k2", sandbar).Code, "another key is another change")
	assert.Equal(t, http.StatusUnprocessableEntity, ask("k3", `{"fields":{"size":"minus"}}`).Code)
	assert.Equal(t, http.StatusCreated, ask("k3", spit).Code)
	assert.Equal(t, 3, many())
	assert.Equal(t, http.StatusBadRequest, ask(strings.Repeat("k", 256), spit).Code)

	var group sync.WaitGroup
	for range 8 {
		group.Go(func() { assert.Equal(t, http.StatusCreated, ask("k4", spit).Code) })
	}
	group.Wait()
	assert.Equal(t, 4, many())
}
