package access

import (
	"context"
	"crypto/rand"
	"slices"
	"strings"
	"unicode/utf8"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// A Scope is the permission of a program's key.
type Scope string

// The scopes: writing is reading too.
const (
	ReadPieces   Scope = "pieces:read"
	WritePieces  Scope = "pieces:write"
	ReadStock    Scope = "stock:read"
	WriteStock   Scope = "stock:write"
	ReadJournal  Scope = "journal:read"
	WriteJournal Scope = "journal:write"
)

// ScopeTable names the scopes.
var ScopeTable = []form.Option{
	{Value: string(ReadPieces), Label: msg.ID("read pieces and their coats")},
	{Value: string(WritePieces), Label: msg.ID("change pieces")},
	{Value: string(ReadStock), Label: msg.ID("read materials")},
	{Value: string(WriteStock), Label: msg.ID("change materials")},
	{Value: string(ReadJournal), Label: msg.ID("read the journal")},
	{Value: string(WriteJournal), Label: msg.ID("write the journal")},
}

// keyMark begins every key, so that one that is found somewhere is known for what it is.
const keyMark = "jevvo_"

// MakeKey makes a key for a program, and returns it: it is shown once.
func (s *Service) MakeKey(ctx context.Context, name string, scopes []string) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || utf8.RuneCountInString(name) > 60 {
		return "", form.Refusef("name", "give the key a name of at most 60 characters")
	}
	for _, sc := range scopes {
		if !slices.ContainsFunc(ScopeTable, func(o form.Option) bool { return o.Value == sc }) {
			return "", form.Refusef("scopes", "there is no scope %q", sc)
		}
	}
	if len(scopes) == 0 {
		return "", form.Refusef("scopes", "choose what the program may do")
	}
	key, now := keyMark+strings.ToLower(rand.Text()), s.now()
	v := store.Visitor{Kind: store.VisitorKey, Name: name, May: strings.Join(scopes, " "), Digest: digest(key), At: now,
		Used: now}
	err := s.store.Write(ctx, "make a key", func(tx *store.Tx) (err error) {
		v.ID, err = tx.AddVisitor(ctx, v)
		return err
	})
	if err != nil {
		return "", err
	}
	s.learn(v)
	return key, nil
}

// Key finds the program that shows a key.
func (s *Service) Key(ctx context.Context, key string) (v store.Visitor, ok bool, err error) {
	if !strings.HasPrefix(key, keyMark) {
		return v, false, nil
	}
	return s.who(ctx, key, store.VisitorKey)
}

// Allows reports whether the scopes of a key hold one: to write is to read too.
func Allows(may string, want Scope) bool {
	for have := range strings.FieldsSeq(may) {
		if have == string(want) || have == strings.TrimSuffix(string(want), ":read")+":write" {
			return true
		}
	}
	return false
}
