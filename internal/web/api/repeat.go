package api

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"net/http"

	"jevvo/internal/calc"
	"jevvo/internal/msg"
)

// repeatHeader makes a change safe to send again: one that was kept under the same key is
// answered as it was (draft-ietf-httpapi-idempotency-key-header-07).
const repeatHeader = "Idempotency-Key"

// repeatable describes the header.
type repeatable struct {
	Key string `header:"Idempotency-Key" maxLength:"255" description:"Of the caller's making, a UUID say: a change sent again with it within 14 days is made once, and answered as it was."`
}

const mostKey = 255

// What was sent under a key, and how it was answered.
type answered struct {
	Sent   string          `json:"sent"` // digest of method, address and body
	Status int             `json:"status"`
	Body   json.RawMessage `json:"body,omitempty"`
}

func digest(parts ...string) string {
	sum := sha256.New()
	for _, p := range parts {
		sum.Write([]byte(p))
		sum.Write([]byte{0})
	}
	return hex.EncodeToString(sum.Sum(nil))
}

// once answers a change, or one that has been made before as it was answered then.
func (a *records) once(at route, r *http.Request, body []byte) (answered, error) {
	key := r.Header.Get(repeatHeader)
	if at.method == http.MethodGet || key == "" {
		return at.run(r, body)
	}
	if len(key) > mostKey {
		return answered{}, &calc.Problem{
			Title:  "Key too long",
			Status: http.StatusBadRequest,
			Detail: msg.ID("Idempotency-Key has at most 255 letters"),
		}
	}
	sent := digest(at.method, r.URL.RequestURI(), string(body))
	var now answered
	was, before, err := a.st.Idempotency.Do(
		r.Context(),
		digest(repeatHeader, r.Header.Get("Authorization"), key),
		func(ctx context.Context) (string, error) {
			var err error
			if now, err = at.run(r.WithContext(ctx), body); err != nil {
				return "", err
			}
			now.Sent = sent
			text, err := json.Marshal(now)
			return string(text), err
		},
	)
	if err != nil || !before {
		return now, err
	}
	return again(was, sent)
}

// again is the answer to a repeated request.
func again(was, sent string) (out answered, err error) {
	if was == "" { // the program ended between the change and its answer
		return out, &calc.Problem{Title: "Done already", Status: http.StatusConflict,
			Detail: msg.ID("this change was saved, and its answer was lost; ask for what it changed")}
	}
	if err = json.Unmarshal([]byte(was), &out); err == nil && out.Sent != sent {
		err = &calc.Problem{Title: "Key used before", Status: http.StatusUnprocessableEntity,
			Detail: msg.ID("another change was sent with this Idempotency-Key; take a new one")}
	}
	return out, err
}

// run does what a route is for.
func (at route) run(r *http.Request, body []byte) (answered, error) {
	out, err := at.do(r, body)
	if err != nil || out == nil {
		return answered{Status: http.StatusNoContent}, err
	}
	text, err := json.Marshal(out)
	status := http.StatusOK
	if at.method == http.MethodPost {
		status = http.StatusCreated
	}
	return answered{Status: status, Body: text}, err
}
