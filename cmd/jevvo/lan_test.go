package main_test

import (
	"crypto/sha256"
	"crypto/tls"
	"fmt"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/certificate"
)

// A studio on the network: its certificate is its own and stays, a code from another
// terminal pairs a device, which is known again after a restart.
func TestOnTheNetwork(t *testing.T) {
	own := certificate.Addresses()
	if len(own) == 0 {
		t.Skip("this computer is on no network")
	}
	data := t.TempDir()
	p := start(t, data, "serve", "--lan", "--name", "studio.home")
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	// its fingerprint is compared below
	device := &http.Client{Jar: jar,
		Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}, ForceAttemptHTTP2: true}}
	at := func() string {
		u, err := url.Parse(p.url)
		require.NoError(t, err)
		return "https://" + net.JoinHostPort(own[0].String(), u.Port())
	}
	get := func(path string) *http.Response {
		res, err := device.Get(at() + path)
		require.NoError(t, err)
		t.Cleanup(func() { res.Body.Close() })
		return res
	}
	res := get("/pieces")
	assert.Equal(t, http.StatusUnauthorized, res.StatusCode)
	assert.Equal(t, 2, res.ProtoMajor, "many streams on one connection")
	print := fmt.Sprintf("%X", sha256.Sum256(res.TLS.PeerCertificates[0].Raw))
	for _, name := range []string{"lan-key.pem", "lan-certificate.pem", "jevvo.db"} {
		info, err := os.Stat(filepath.Join(data, name))
		require.NoError(t, err)
		assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), name)
	}
	assert.Contains(t, res.TLS.PeerCertificates[0].DNSNames, "localhost")

	out, errs, code := run("", "pair", "look", "--data", data, "--person", "Imke")
	require.Zero(t, code, errs)
	form := url.Values{"code": {strings.SplitN(out, "\n", 2)[0]}, "name": {"Phone"}}
	res, err = device.PostForm(at()+"/pair", form)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode, "let in, and led on")

	require.NoError(t, p.Process.Kill())
	p.Wait()
	p = start(t, data, "serve", "--lan")
	res = get("/pieces")
	assert.Equal(t, http.StatusOK, res.StatusCode)
	assert.Equal(t, print, fmt.Sprintf("%X", sha256.Sum256(res.TLS.PeerCertificates[0].Raw)), "the certificate stays")
	_, _, code = run("", "pair", "--data", data, "--role", "king")
	assert.Equal(t, 1, code)
	_, errs, code = run("", "serve", "--data", data, "--cert", "x.pem")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "--key")
}

// The lock is set and taken away on the command line, and asks on the first screen.
func TestPassphraseCommand(t *testing.T) {
	data := t.TempDir()
	p := start(t, data, "serve")
	_, errs, code := run("short\n", "passphrase", "--data", data)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "12")
	_, _, code = run("", "passphrase", "--data", data)
	assert.Equal(t, 1, code)
	_, errs, code = run("tide marks on grey sand\n", "passphrase", "--data", data)
	require.Zero(t, code, errs)
	res, err := http.Get(p.url + "/pieces")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusUnauthorized, res.StatusCode)
	secret, err := os.ReadFile(filepath.Join(data, "secrets.json"))
	require.NoError(t, err)
	assert.Contains(t, string(secret), "$argon2id$v=19$m=65536,t=3,p=4$")
	assert.NotContains(t, string(secret), "tide")
	_, _, code = run("", "passphrase", "--drop", "--data", data)
	assert.Zero(t, code)
	res, err = http.Get(p.url + "/pieces")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode)
}

// The doctor says what is amiss, and what helps.
func TestDoctor(t *testing.T) {
	data := filepath.Join(t.TempDir(), "studio")
	out, errs, code := run("", "doctor", "--data", data, "--port", "0")
	assert.Zero(t, code, out+errs)
	p := start(t, data, "demo")
	require.NoError(t, p.Process.Kill())
	p.Wait()
	out, errs, code = run("", "doctor", "--data", data, "--port", "0")
	assert.Zero(t, code, out+errs)
	assert.Contains(t, out, "are sound")
	require.NoError(t, os.Chmod(data, 0o755))
	out, errs, code = run("", "doctor", "--data", data, "--port", "0", "--snapshots", filepath.Join(data, "none"))
	assert.Equal(t, 1, code)
	assert.Regexp(t, `(?m)^amiss  folder .*chmod 700`, out)
	assert.Regexp(t, `(?m)^amiss  snapshots`, out)
	assert.Contains(t, errs, "2 of")
}

// One thing is handed over on the command line.
func TestShareCommands(t *testing.T) {
	here, there := t.TempDir(), t.TempDir()
	for _, data := range []string{here, there} {
		p := start(t, data, "demo")
		require.NoError(t, p.Process.Kill())
		p.Wait()
	}
	file := filepath.Join(t.TempDir(), "ebb.json")
	_, errs, code := run("", "export", file, "--data", here, "--piece", "1")
	require.Zero(t, code, errs)
	_, _, code = run("", "export", file, "--data", here, "--piece", "1")
	assert.Equal(t, 1, code, "nothing is written over")
	out, errs, code := run("", "import", file, "--data", there)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "was taken in")
	_, errs, code = run("", "export", filepath.Join(there, "x.json"), "--data", here, "--resin", "999")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "there is no resin 999")
	require.NoError(t, os.WriteFile(file, []byte("{}"), 0o600))
	_, errs, code = run("", "import", file, "--data", there)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "no shared piece")
}

func TestVersionNamesItsCommit(t *testing.T) {
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("there is no git")
	}
	out, _, code := run("", "--version")
	assert.Zero(t, code)
	assert.Regexp(t, regexp.MustCompile(`^jevvo version \S+ \(commit `), out)
}
