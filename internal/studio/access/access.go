// Package access is who is let into a studio besides the screen it runs on: devices
// that were paired, each with a role, programs with a key, and the painter who knows
// the passphrase of a locked screen. What they show is kept as a digest only.
package access

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"golang.org/x/time/rate"

	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// A Role is the permission of a device.
type Role string

// The roles.
const (
	Studio Role = "studio" // everything
	Bench  Role = "bench"  // weigh, be at the bench, write the journal, take photographs
	Look   Role = "look"   // read
)

// RoleTable names the roles, the widest first.
var RoleTable = []form.Option{
	{Value: string(Studio), Label: msg.ID("Studio: everything")},
	{Value: string(Bench), Label: msg.ID("Bench: weigh, pour, note, photograph")},
	{Value: string(Look), Label: msg.ID("View: read only")},
}

// ParseRole reads a role.
func ParseRole(text string) (Role, error) {
	for _, o := range RoleTable {
		if o.Value == text {
			return Role(text), nil
		}
	}
	return "", refusal.New("a role is studio, bench or look, not %q", text)
}

// Errors that are told apart.
var (
	// ErrCode means that a code is wrong, used or over: which, is not told.
	ErrCode = refusal.New("this code does not work: it is mistyped, already used or expired. Ask for a new one on the " +
		"main screen")
	// ErrOften means that too many tries came in too short a time.
	ErrOften = refusal.New("too many tries; wait a minute")
)

const (
	codeFor    = 10 * time.Minute // how long a code to pair with is open
	codeLength = 8
	idle       = 60 * 24 * time.Hour // after which a device is let in no longer
)

// letters of a code: none that is read as another (Crockford's base 32 without U).
const letters = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"

// A Service keeps who is let in.
type Service struct {
	store   *store.Store
	secrets Secrets
	now     func() time.Time

	mu     sync.Mutex
	known  map[string]store.Visitor // by digest; nil until read
	used   map[int64]time.Time      // not kept yet
	holds  map[int64]map[int]func() // what ends when a visitor is let in no longer
	next   int
	tries  tries
	opened map[string]time.Time // screens that gave the passphrase, and when they were last used
}

// Secrets keeps what must not lie in the database.
type Secrets interface {
	Get(name string) (string, error)
	Set(name, value string) error
}

// New returns the service.
func New(db *store.Store, secrets Secrets, now func() time.Time) *Service {
	return &Service{
		store: db, secrets: secrets, now: now,
		tries: tries{map[try]*rate.Limiter{}}, used: map[int64]time.Time{}, holds: map[int64]map[int]func(){},
		opened: map[string]time.Time{},
	}
}

func digest(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:])
}

// Offer makes a code that pairs one device, and returns it with the moment it is over.
func (s *Service) Offer(ctx context.Context, role Role, person string) (code string, until time.Time, err error) {
	if _, err := ParseRole(string(role)); err != nil {
		return "", until, form.Refusef("role", "%w", err)
	}
	person = strings.TrimSpace(person)
	if utf8.RuneCountInString(person) > 60 {
		return "", until, form.Refusef("person", "a name has at most 60 characters")
	}
	raw := make([]byte, codeLength)
	rand.Read(raw)
	for i, b := range raw {
		raw[i] = letters[b%byte(len(letters))]
	}
	now := s.now()
	until = now.Add(codeFor)
	err = s.store.Write(ctx, "offer to pair", func(tx *store.Tx) error {
		return tx.OfferPair(ctx, store.PairCode{Digest: digest(string(raw)), Role: string(role), Person: person,
			Until: until}, now)
	})
	return string(raw[:4]) + " " + string(raw[4:]), until, err
}

// plainCode is a code as it was typed, without spaces and with letters that are read
// as others taken for those.
func plainCode(typed string) string {
	return strings.NewReplacer(" ", "", "-", "", "O", "0", "I", "1", "L", "1").Replace(strings.ToUpper(typed))
}

// tried spends a try of a source; what it returns gives it back to who was right.
func (s *Service) tried(kind, source string) (give func(), err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	back, ok := s.tries.take(kind, source, s.now())
	if !ok {
		return nil, ErrOften
	}
	return func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		back()
	}, nil
}

// Pair lets a device in that shows a code, and returns what it is to show from now on.
// source is where it asks from.
func (s *Service) Pair(ctx context.Context, typed, name, source string) (token string, v store.Visitor, err error) {
	right, err := s.tried("code", source)
	if err != nil {
		return "", v, err
	}
	if name = strings.TrimSpace(name); name == "" {
		name = "A device"
	}
	if utf8.RuneCountInString(name) > 60 {
		return "", v, form.Refusef("name", "a name has at most 60 characters")
	}
	token, now := rand.Text(), s.now()
	err = s.store.Write(ctx, "pair", func(tx *store.Tx) error {
		c, err := tx.TakePair(ctx, digest(plainCode(typed)), now)
		if err != nil {
			return err
		}
		v = store.Visitor{Kind: store.VisitorDevice, Name: name, Person: c.Person, May: c.Role, Digest: digest(token),
			At: now, Used: now}
		v.ID, err = tx.AddVisitor(ctx, v)
		return err
	})
	if errors.Is(err, store.ErrNotFound) {
		return "", v, form.Refusef("code", "%w", ErrCode)
	}
	if err != nil {
		return "", v, err
	}
	right()
	s.learn(v)
	return token, v, nil
}

func (s *Service) learn(v store.Visitor) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.known != nil {
		s.known[v.Digest] = v
	}
}

// who finds who shows something.
func (s *Service) who(ctx context.Context, shown, kind string) (v store.Visitor, ok bool, err error) {
	if shown == "" {
		return v, false, nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.known == nil {
		all, err := s.store.Visitors(ctx)
		if err != nil {
			return v, false, err
		}
		s.known = map[string]store.Visitor{}
		for _, v := range all {
			s.known[v.Digest] = v
		}
	}
	v, ok = s.known[digest(shown)]
	now := s.now()
	if !ok || v.Kind != kind || kind == store.VisitorDevice && now.Sub(v.Used) > idle {
		return v, false, nil
	}
	v.Used = now
	s.known[v.Digest], s.used[v.ID] = v, now
	return v, true, nil
}

// Device finds the device that shows a token.
func (s *Service) Device(ctx context.Context, token string) (v store.Visitor, ok bool, err error) {
	return s.who(ctx, token, store.VisitorDevice)
}

// Keep keeps when everyone was last there: looking at a page writes nothing.
func (s *Service) Keep(ctx context.Context) error {
	s.mu.Lock()
	used := s.used
	s.used = map[int64]time.Time{}
	s.mu.Unlock()
	if len(used) == 0 {
		return nil
	}
	return s.store.Write(ctx, "keep who was there", func(tx *store.Tx) error {
		for _, id := range slices.Sorted(maps.Keys(used)) {
			if err := tx.VisitorUsed(ctx, id, used[id]); err != nil {
				return err
			}
		}
		return nil
	})
}

// Visitors are all who are let in, with when they were last there.
func (s *Service) Visitors(ctx context.Context) ([]store.Visitor, error) {
	all, err := s.store.Visitors(ctx)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for i, v := range all {
		if at, ok := s.used[v.ID]; ok && at.After(v.Used) {
			all[i].Used = at
		}
	}
	return all, nil
}

// Revoke lets a visitor in no longer; what it is looking at ends.
func (s *Service) Revoke(ctx context.Context, id int64) error {
	if err := s.store.Write(ctx, "let in no longer",
		func(tx *store.Tx) error { return tx.DropVisitor(ctx, id) }); err != nil {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.known = nil
	delete(s.used, id)
	for _, end := range s.holds[id] {
		end()
	}
	delete(s.holds, id)
	return nil
}

// Hold returns a context that ends when a visitor is let in no longer; release is to be
// called when what it was for is done.
func (s *Service) Hold(ctx context.Context, id int64) (held context.Context, release func()) {
	held, cancel := context.WithCancel(ctx)
	s.mu.Lock()
	defer s.mu.Unlock()
	n := s.next
	s.next++
	if s.holds[id] == nil {
		s.holds[id] = map[int]func(){}
	}
	s.holds[id][n] = cancel
	return held, func() {
		cancel()
		s.mu.Lock()
		defer s.mu.Unlock()
		if delete(s.holds[id], n); len(s.holds[id]) == 0 {
			delete(s.holds, id)
		}
	}
}
