package certificate_test

import (
	"crypto/x509"
	"os"
	"path/filepath"
	"regexp"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/certificate"
)

// A certificate is made once, is its own authority and nobody else's, and is made anew
// before it is over.
func TestOwn(t *testing.T) {
	dir, now := t.TempDir(), time.Now()
	first, err := certificate.Own(dir, now)
	require.NoError(t, err)
	roots := x509.NewCertPool()
	roots.AddCert(first.Leaf)
	for _, name := range append([]string{"localhost", "127.0.0.1"}, certificate.Names()...) {
		_, err := first.Leaf.Verify(x509.VerifyOptions{Roots: roots, DNSName: name, CurrentTime: now})
		assert.NoError(t, err, name)
	}
	_, err = first.Leaf.Verify(x509.VerifyOptions{Roots: roots, DNSName: "elsewhere.example", CurrentTime: now})
	assert.Error(t, err)
	assert.True(t, first.Leaf.MaxPathLenZero)
	assert.LessOrEqual(t, first.Leaf.NotAfter.Sub(first.Leaf.NotBefore), 825*24*time.Hour,
		"telephones accept no longer ones (from memory)")
	assert.Regexp(t, regexp.MustCompile(`^([0-9A-F]{2}:){31}[0-9A-F]{2}$`), certificate.Fingerprint(first))

	again, err := certificate.Own(dir, now.Add(700*24*time.Hour))
	require.NoError(t, err)
	assert.Equal(t, certificate.Fingerprint(first), certificate.Fingerprint(again))
	later, err := certificate.Own(dir, now.Add(800*24*time.Hour))
	require.NoError(t, err)
	assert.NotEqual(t, certificate.Fingerprint(first), certificate.Fingerprint(later))

	require.NoError(t, os.WriteFile(filepath.Join(dir, "lan-certificate.pem"), []byte("torn"), 0o600))
	_, err = certificate.Own(dir, now)
	assert.ErrorContains(t, err, "take lan-certificate.pem and lan-key.pem away", "a damaged one is not written over")
}
