package access

import (
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/form"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
)

// A gate is a service with a clock that is turned by hand.
type gate struct {
	*Service
	at time.Time
}

func open(t *testing.T) *gate {
	t.Helper()
	dir := t.TempDir()
	db, err := store.Open(t.Context(), filepath.Join(dir, "studio.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	g := &gate{at: time.Date(2026, 5, 4, 9, 0, 0, 0, time.UTC)}
	g.Service = New(db, &secrets.File{Path: filepath.Join(dir, "secrets.json")}, func() time.Time { return g.at })
	return g
}

// anew is the service after a restart: what it knows is what was kept.
func (g *gate) anew() *gate {
	n := &gate{at: g.at}
	n.Service = New(g.store, g.secrets, func() time.Time { return n.at })
	return n
}

func (g *gate) code(t *testing.T, r Role) string {
	t.Helper()
	code, until, err := g.Offer(t.Context(), r, " Mara ")
	require.NoError(t, err)
	assert.Equal(t, g.at.Add(10*time.Minute), until)
	return code
}

func (g *gate) pair(t *testing.T, r Role) (token string, v store.Visitor) {
	t.Helper()
	token, v, err := g.Pair(t.Context(), g.code(t, r), "Tablet", "a")
	require.NoError(t, err)
	return token, v
}

func (g *gate) knows(t *testing.T, token string) bool {
	t.Helper()
	_, ok, err := g.Device(t.Context(), token)
	require.NoError(t, err)
	return ok
}

func refusedAt(t *testing.T, field string, err error) {
	t.Helper()
	var r *form.Refused
	require.ErrorAs(t, err, &r)
	assert.Equal(t, field, r.Field)
}

// A code lets in one device, with the role and the person it was made for, however it is typed.
func TestACodePairsOnce(t *testing.T) {
	g := open(t)
	code := g.code(t, Bench)
	assert.Regexp(t, `^[0-9A-HJKMNP-TV-Z]{4} [0-9A-HJKMNP-TV-Z]{4}$`, code)
	typed := strings.NewReplacer(" ", "-", "0", "o", "1", "l").Replace(strings.ToLower(code))
	token, v, err := g.Pair(t.Context(), typed, "  ", "a")
	require.NoError(t, err)
	assert.Equal(t, []string{"A device", "Mara", "bench"}, []string{v.Name, v.Person, v.May})
	assert.True(t, g.knows(t, token))
	assert.True(t, g.anew().knows(t, token), "after a restart")
	assert.False(t, g.knows(t, ""))
	assert.False(t, g.knows(t, token+"x"))
	_, _, err = g.Pair(t.Context(), code, "Another", "a")
	require.ErrorIs(t, err, ErrCode)
	refusedAt(t, "code", err)
}

func TestACodeIsOverAfterTenMinutes(t *testing.T) {
	g := open(t)
	last, late := g.code(t, Look), g.code(t, Look)
	g.at = g.at.Add(codeFor)
	_, _, err := g.Pair(t.Context(), last, "", "a")
	require.NoError(t, err)
	g.at = g.at.Add(time.Second)
	_, _, err = g.Pair(t.Context(), late, "", "a")
	require.ErrorIs(t, err, ErrCode)
}

// What cannot be a role, a person or a name is refused at its field; the code stays good.
func TestWhatIsOfferedIsLookedAt(t *testing.T) {
	g := open(t)
	_, _, err := g.Offer(t.Context(), "owner", "")
	refusedAt(t, "role", err)
	_, _, err = g.Offer(t.Context(), Look, strings.Repeat("ä", 61))
	refusedAt(t, "person", err)
	_, _, err = g.Offer(t.Context(), Look, strings.Repeat("ä", 60))
	require.NoError(t, err)
	code := g.code(t, Look)
	_, _, err = g.Pair(t.Context(), code, strings.Repeat("ä", 61), "a")
	refusedAt(t, "name", err)
	_, _, err = g.Pair(t.Context(), code, strings.Repeat("ä", 60), "a")
	require.NoError(t, err)
}

// Six tries in vain at once, then one every ten seconds; who was right has spent none, and one
// source does not shut out another.
func TestTriesInVainAreFew(t *testing.T) {
	g := open(t)
	try := func(source, code string) error {
		_, _, err := g.Pair(t.Context(), code, "", source)
		return err
	}
	for range 2 * triesAtOnce {
		require.NoError(t, try("a", g.code(t, Look)))
	}
	for range triesAtOnce {
		require.ErrorIs(t, try("a", "0000 0000"), ErrCode)
	}
	right := g.code(t, Look)
	require.ErrorIs(t, try("a", right), ErrOften)
	require.NoError(t, try("b", right), "the code was not spent, and b tries for the first time")
	g.at = g.at.Add(triesEvery)
	require.ErrorIs(t, try("a", "0000 0000"), ErrCode)
	require.ErrorIs(t, try("a", "0000 0000"), ErrOften)
}

// Sources are forgotten once their tries are whole again, not before.
func TestSourcesAreForgotten(t *testing.T) {
	g := open(t)
	for i := range mostSources {
		_, ok := g.tries.take("code", strings.Repeat("x", i), g.at)
		require.True(t, ok)
	}
	g.tries.take("code", "one more", g.at)
	assert.Len(t, g.tries.by, mostSources+1, "none was whole")
	g.tries.take("code", "and one", g.at.Add(time.Minute))
	assert.Len(t, g.tries.by, 1)
}

// A device that was not seen for sixty days is let in no longer; one that is there now and then
// stays, though looking at a page writes nothing until Keep.
func TestADeviceLeftIsForgotten(t *testing.T) {
	g := open(t)
	token, v := g.pair(t, Studio)
	g.at = g.at.Add(idle)
	assert.True(t, g.knows(t, token))
	all, err := g.Visitors(t.Context())
	require.NoError(t, err)
	assert.Equal(t, g.at, all[0].Used.UTC())
	require.NoError(t, g.Keep(t.Context()))
	require.NoError(t, g.Keep(t.Context()), "nothing more to keep")
	n := g.anew()
	n.at = n.at.Add(idle)
	assert.True(t, n.knows(t, token), "sixty days after it was last seen")
	n = g.anew()
	n.at = n.at.Add(idle + time.Second)
	assert.False(t, n.knows(t, token))
	assert.Equal(t, v.ID, all[0].ID)
}

// Who is let in no longer is so at once, and what it was looking at ends; others go on.
func TestRevokedAtOnce(t *testing.T) {
	g := open(t)
	gone, v := g.pair(t, Bench)
	stays, w := g.pair(t, Bench)
	first, _ := g.Hold(t.Context(), v.ID)
	left, release := g.Hold(t.Context(), v.ID)
	release()
	require.Error(t, left.Err(), "released")
	require.NoError(t, first.Err())
	other, done := g.Hold(t.Context(), w.ID)
	require.NoError(t, g.Revoke(t.Context(), v.ID))
	require.Error(t, first.Err())
	require.NoError(t, other.Err())
	assert.False(t, g.knows(t, gone))
	assert.True(t, g.knows(t, stays))
	done()
	assert.Empty(t, g.holds)
	require.NoError(t, g.Keep(t.Context()), "nothing is kept of who is gone")
	require.ErrorIs(t, g.Revoke(t.Context(), v.ID), store.ErrNotFound)
}

// A key is for programs only, does what its scopes say, and does not grow old.
func TestAKeyIsForAProgram(t *testing.T) {
	g := open(t)
	for field, typed := range map[string]struct {
		name   string
		scopes []string
	}{
		"name":   {strings.Repeat("k", 61), []string{"stock:read"}},
		"scopes": {"Shop", []string{"stock:read", "money:read"}},
	} {
		_, err := g.MakeKey(t.Context(), typed.name, typed.scopes)
		refusedAt(t, field, err)
	}
	_, err := g.MakeKey(t.Context(), " ", []string{"stock:read"})
	refusedAt(t, "name", err)
	_, err = g.MakeKey(t.Context(), "Shop", nil)
	refusedAt(t, "scopes", err)

	_, err = g.Visitors(t.Context())
	require.NoError(t, err)
	key, err := g.MakeKey(t.Context(), strings.Repeat("k", 60), []string{"stock:read", "pieces:write"})
	require.NoError(t, err)
	g.at = g.at.Add(10 * idle)
	for _, g := range []*gate{g, g.anew()} {
		v, ok, err := g.Key(t.Context(), key)
		require.NoError(t, err)
		require.True(t, ok)
		assert.Equal(t, "stock:read pieces:write", v.May)
		assert.False(t, g.knows(t, key), "a key is no device")
	}
	token, _ := g.pair(t, Studio)
	_, ok, err := g.Key(t.Context(), token)
	require.NoError(t, err)
	assert.False(t, ok, "a device's token is no key")
}

// To write is to read too, and nothing else is.
func TestScopes(t *testing.T) {
	for _, have := range ScopeTable {
		for _, want := range ScopeTable {
			thing, deed, _ := strings.Cut(want.Value, ":")
			may := have.Value == want.Value || deed == "read" && have.Value == thing+":write"
			assert.Equal(t, may, Allows(have.Value, Scope(want.Value)), "%s for %s", have.Value, want.Value)
		}
	}
	assert.False(t, Allows("", ReadPieces))
	assert.True(t, Allows("stock:read pieces:write", ReadPieces))
}

// A passphrase locks; who changes it knows the one before, and every screen is asked anew.
func TestThePassphrase(t *testing.T) {
	g := open(t)
	locks := func() bool {
		yes, err := g.Locks()
		require.NoError(t, err)
		return yes
	}
	assert.False(t, locks())
	for _, text := range []string{strings.Repeat("ö", leastPassphrase-1), strings.Repeat("ö", mostPassphrase+1)} {
		refusedAt(t, "passphrase", g.SetPassphrase("", text, "a"))
	}
	old, to := strings.Repeat("ö", leastPassphrase), strings.Repeat("ö", mostPassphrase)
	require.NoError(t, g.SetPassphrase("", old, "a"))
	assert.True(t, locks())
	_, err := g.Unlock(old+" ", "a")
	refusedAt(t, "passphrase", err)
	screen, err := g.Unlock(old, "a")
	require.NoError(t, err)
	refusedAt(t, "before", g.SetPassphrase("", to, "a"))
	assert.True(t, g.Unlocked(screen, false))
	require.NoError(t, g.SetPassphrase(old, to, "a"))
	assert.False(t, g.Unlocked(screen, true), "asked anew")
	for range triesAtOnce {
		_, err = g.Unlock(old, "b")
	}
	refusedAt(t, "passphrase", err)
	_, err = g.Unlock(to, "b")
	require.ErrorIs(t, err, ErrOften)
	require.NoError(t, g.ResetPassphrase(""))
	assert.False(t, locks())
}

// A screen that is left for half an hour is asked; one that someone touches is not, and a stream
// that goes on by itself is nobody.
func TestAScreenLeftIsLocked(t *testing.T) {
	g := open(t)
	token := g.Open()
	for range 3 {
		g.at = g.at.Add(LockAfter)
		require.True(t, g.Unlocked(token, true))
	}
	g.at = g.at.Add(LockAfter)
	require.True(t, g.Unlocked(token, false))
	g.at = g.at.Add(time.Second)
	assert.False(t, g.Unlocked(token, true))
	assert.False(t, g.Unlocked(token, true), "nor later")
	assert.False(t, g.Unlocked("another", true))
}

// The hash names its own measure (RFC 9106: Argon2id, 64 MiB, three passes, four lanes), and what
// cannot be read lets nobody in.
func TestThePassphraseAsKept(t *testing.T) {
	kept := hashed("four words in mind")
	assert.Regexp(t, `^\$argon2id\$v=19\$m=65536,t=3,p=4\$[A-Za-z0-9+/]{22}\$[A-Za-z0-9+/]{43}$`, kept)
	assert.NotEqual(t, kept, hashed("four words in mind"), "salted")
	parts := strings.Split(kept, "$")
	broken := map[int]string{1: "argon2i", 2: "v=16", 3: "m=65536,t=0,p=4", 4: "?", 5: ""}
	for at, part := range broken {
		bad := slices.Clone(parts)
		bad[at] = part
		ok, err := fits(strings.Join(bad, "$"), "four words in mind")
		require.Error(t, err, "%d", at)
		assert.False(t, ok)
	}
	for _, measure := range []string{"m=1048577,t=3,p=4", "m=65536,t=3,p=0"} {
		bad := slices.Clone(parts)
		bad[3] = measure
		_, err := fits(strings.Join(bad, "$"), "four words in mind")
		require.Error(t, err, measure)
	}
	_, err := fits("four words in mind", "four words in mind")
	require.Error(t, err)
}
