package main_test

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// binary is the real program, built once.
var binary string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "jevvo")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "jevvo")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		panic(string(out))
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

func run(stdin string, args ...string) (stdout, stderr string, code int) {
	var out, errs bytes.Buffer
	c := exec.Command(binary, args...)
	c.Stdin, c.Stdout, c.Stderr = strings.NewReader(stdin), &out, &errs
	err := c.Run()
	var exit *exec.ExitError
	if errors.As(err, &exit) {
		return out.String(), errs.String(), exit.ExitCode()
	}
	if err != nil {
		return out.String(), err.Error(), -1
	}
	return out.String(), errs.String(), 0
}

func TestCalcExitCodes(t *testing.T) {
	out, _, code := run(`{"product":{"ratio_a":3,"ratio_b":1,"by":"weight"},"total_g":40}`, "calc", "mix")
	assert.Zero(t, code)
	assert.Contains(t, out, `"b_g":10`)
	out, errs, code := run(`{"film_mm":1}`, "calc", "coat")
	assert.Equal(t, 1, code, "a refused input")
	assert.Contains(t, out, `"status":422`, "the problem object goes to standard output")
	assert.Empty(t, errs)
	out, _, code = run(`nonsense`, "calc", "coat")
	assert.Equal(t, 1, code)
	assert.Contains(t, out, `"status":400`)
	_, errs, code = run(``, "calc", "magic")
	assert.Equal(t, 2, code, "wrong usage")
	assert.Contains(t, errs, "magic")
	_, _, code = run(``, "calc", "mix", "extra")
	assert.Equal(t, 2, code)
	_, _, code = run(``, "paint")
	assert.Equal(t, 2, code)
	_, _, code = run(``, "serve", "--no-such-flag")
	assert.Equal(t, 2, code)
	out, _, code = run(``, "calc")
	assert.Zero(t, code)
	assert.Contains(t, out, "puddle-height\n")
	out, _, code = run(``, "--help")
	assert.Zero(t, code)
	assert.Contains(t, out, "serve")
}

// A running is a started program.
type running struct {
	*exec.Cmd
	url string
}

func start(t *testing.T, data string, args ...string) running {
	t.Helper()
	c := exec.Command(binary, append(args, "--data", data, "--port", "0")...)
	out, err := c.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, c.Start())
	t.Cleanup(func() {
		if c.ProcessState == nil {
			c.Process.Kill()
			c.Wait()
		}
	})
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	go io.Copy(io.Discard, out)
	_, rest, found := strings.Cut(line, "open at ")
	require.True(t, found, line)
	return running{c, strings.TrimSuffix(strings.Fields(rest)[0], "/")}
}

func body(t *testing.T, u string) string {
	t.Helper()
	res, err := http.Get(u)
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return string(b)
}

// Every change that was acknowledged before a kill -9 is there after it.
func TestKillLosesNothing(t *testing.T) {
	data := t.TempDir()
	p := start(t, data, "demo")
	for round := range 3 {
		var last string
		for i := range 5 {
			last = fmt.Sprintf("round %d change %d", round, i)
			res, err := http.PostForm(p.url+"/pieces/1/edit", url.Values{"brief": {last}, "rev": {"1"}})
			require.NoError(t, err)
			res.Body.Close()
			require.Equal(t, 200, res.StatusCode)
		}
		require.NoError(t, p.Process.Signal(syscall.SIGKILL))
		p.Wait()
		p = start(t, data, "demo")
		assert.Contains(t, body(t, p.url+"/pieces/1"), last)
	}
	assert.Contains(t, body(t, p.url+"/pieces"), "Night ferry", "and the demo is not laid out twice")
	assert.Equal(t, 5, strings.Count(body(t, p.url+"/pieces"), `class="card-piece"`))
}

func TestStopsGracefullyWithAStreamOpen(t *testing.T) {
	p := start(t, t.TempDir(), "demo")
	res, err := http.PostForm(p.url+"/pieces/1/weigh/first", nil)
	require.NoError(t, err)
	res.Body.Close()
	stream, err := http.Get(p.url + "/weighings/1/stream")
	require.NoError(t, err)
	defer stream.Body.Close()
	require.NoError(t, p.Process.Signal(syscall.SIGTERM))
	assert.NoError(t, p.Wait(), "exit code 0")
}

func TestBusyPortSaysSo(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	_, port, err := net.SplitHostPort(l.Addr().String())
	require.NoError(t, err)
	_, errs, code := run("", "demo", "--data", t.TempDir(), "--port", port)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "port "+port+" is busy")
	assert.Contains(t, errs, "--port")
	_, errs, code = run("", "serve", "--data", t.TempDir(), "--log", "loud")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "log level")
}

func TestListensOnThisMachineOnly(t *testing.T) {
	p := start(t, t.TempDir(), "serve")
	assert.True(t, strings.HasPrefix(p.url, "http://127.0.0.1:"), p.url)
	assert.Contains(t, body(t, p.url+"/"), "Nothing is planned yet", "an empty studio has a first page")
}

func TestBackupWhileRunning(t *testing.T) {
	data := t.TempDir()
	start(t, data, "demo")
	copied := filepath.Join(t.TempDir(), "b", "jevvo.db")
	require.NoError(t, os.MkdirAll(filepath.Dir(copied), 0o700))
	_, errs, code := run("", "backup", copied, "--data", data)
	require.Zero(t, code, errs)
	again := start(t, filepath.Dir(copied), "serve")
	assert.Contains(t, body(t, again.url+"/pieces"), "Salt pans")
	_, errs, code = run("", "backup", copied, "--data", t.TempDir())
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "no studio")
}
