package access

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"

	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
)

// passphrase is the name of the passphrase's hash among the secrets.
const passphrase = "passphrase"

// LockAfter is how long a screen may be left before it asks for the passphrase again.
const LockAfter = 30 * time.Minute

// Argon2id with 64 MiB, three passes and four lanes: the second choice of RFC 9106, for
// where memory is short.
const (
	argonMemory = 64 << 10 // KiB
	argonTime   = 3
	argonLanes  = 4
	argonLength = 32
)

// hashed is a passphrase as it is kept, in the form that names its own measure.
func hashed(text string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	sum := argon2.IDKey([]byte(text), salt, argonTime, argonMemory, argonLanes, argonLength)
	b := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonLanes, b(salt),
		b(sum))
}

// fits reports whether a passphrase is the one that is kept.
func fits(kept, text string) (bool, error) {
	parts := strings.Split(kept, "$")
	var version int
	var memory, passes uint32
	var lanes uint8
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false, refusal.New("the saved passphrase cannot be read")
	}
	_, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &lanes)
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	sum, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err := errors.Join(err, err1, err2); err != nil || version != argon2.Version || memory > 1<<20 || passes == 0 ||
		lanes == 0 || len(sum) == 0 {
		return false, errors.Join(refusal.New("the saved passphrase cannot be read"), err)
	}
	got := argon2.IDKey([]byte(text), salt, passes, memory, lanes, uint32(len(sum)))
	return subtle.ConstantTimeCompare(got, sum) == 1, nil
}

// Locks reports whether the screen the program runs on has a passphrase.
func (s *Service) Locks() (bool, error) {
	kept, err := s.secrets.Get(passphrase)
	return kept != "", err
}

// Bounds of a passphrase: no rules but its length (NIST SP 800-63B).
const (
	leastPassphrase = 12
	mostPassphrase  = 200
)

// SetPassphrase keeps a passphrase for the screen, none to lock it no more; who sets it
// knows the one before.
func (s *Service) SetPassphrase(before, to, source string) error {
	if err := s.knows("before", before, source); err != nil {
		return err
	}
	return s.ResetPassphrase(to)
}

// ResetPassphrase does so without the one before: for who can read the folder of the
// data anyway.
func (s *Service) ResetPassphrase(to string) error {
	if n := utf8.RuneCountInString(to); to != "" && (n < leastPassphrase || n > mostPassphrase) {
		return form.Refusef("passphrase", "a passphrase has %d to %d characters; a few words are easy to remember",
			leastPassphrase, mostPassphrase)
	}
	kept := ""
	if to != "" {
		kept = hashed(to)
	}
	if err := s.secrets.Set(passphrase, kept); err != nil {
		return err
	}
	s.LockAll()
	return nil
}

// DropPassphrase forgets it.
func (s *Service) DropPassphrase() error { return s.secrets.Set(passphrase, "") }

// knows reports a passphrase that is not the one that is kept.
func (s *Service) knows(field, text, source string) error {
	kept, err := s.secrets.Get(passphrase)
	if err != nil || kept == "" {
		return err
	}
	right, err := s.tried("passphrase", source)
	if err != nil {
		return err
	}
	ok, err := fits(kept, text)
	if err != nil {
		return err
	}
	if !ok {
		return form.Refusef(field, "that is not the passphrase")
	}
	right()
	return nil
}

// Unlock opens a screen that knows the passphrase, and returns what it is to show.
func (s *Service) Unlock(text, source string) (token string, err error) {
	if err := s.knows("passphrase", text, source); err != nil {
		return "", err
	}
	return s.Open(), nil
}

// Open opens a screen whose painter has just set the passphrase, and returns what it is
// to show.
func (s *Service) Open() string {
	token := rand.Text()
	s.mu.Lock()
	defer s.mu.Unlock()
	s.opened[digest(token)] = s.now()
	return token
}

// Unlocked reports whether a screen is open; touched says that someone is there, not
// only a stream that goes on by itself.
func (s *Service) Unlocked(token string, touched bool) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	key, now := digest(token), s.now()
	at, ok := s.opened[key]
	if ok && now.Sub(at) > LockAfter {
		delete(s.opened, key)
		return false
	}
	if ok && touched {
		s.opened[key] = now
	}
	return ok
}

// LockAll asks every screen for the passphrase.
func (s *Service) LockAll() {
	s.mu.Lock()
	defer s.mu.Unlock()
	clear(s.opened)
}
