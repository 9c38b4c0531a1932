package main_test

import (
	"bufio"
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"image/png"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/testsize"
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

// A scene is answered as JSON and shown as a picture; one that cannot be is a plain
// sentence.
func TestFlowPictures(t *testing.T) {
	file := filepath.Join(t.TempDir(), "board.png")
	scene := `{"board":{"shape":"circle","diameter_mm":200},"cell_mm":5,"moves":[{"at_s":0,"move":"puddle","at_mm":[100,100],"volume_ml":20,"srgb":"#3050a0"}],"sample_s":[20]}`
	out, errs, code := run(scene, "flow", "-", "--out", file)
	require.Zero(t, code, errs)
	assert.Contains(t, out, `"run_off_ml":0`)
	f, err := os.Open(file)
	require.NoError(t, err)
	defer f.Close()
	m, err := png.Decode(f)
	require.NoError(t, err)
	assert.Greater(t, m.Bounds().Dx(), 1000)
	_, errs, code = run(strings.Replace(scene, "[100,100]", "[900,100]", 1), "flow", "-")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "off the board")
	_, _, code = run(scene, "flow", filepath.Join(t.TempDir(), "none.json"))
	assert.Equal(t, 1, code)
	_, _, code = run(scene, "flow")
	assert.Equal(t, 2, code)
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
	args = append(args, "--data", data, "--port", "0")
	if args[0] == "demo" {
		args = append(args, "--short")
	}
	c := exec.Command(binary, args...)
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
	at, _, _ := strings.Cut(strings.Fields(rest)[0], "/enter?key=")
	return running{c, strings.TrimSuffix(at, "/")}
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
	assert.Equal(t, 12, strings.Count(body(t, p.url+"/pieces"), `class="card-piece"`))
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
	t.Setenv("JEVVO_PREVIEW_CELLS", "many")
	_, errs, code = run("", "serve", "--data", t.TempDir(), "--port", "0")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "JEVVO_PREVIEW_CELLS")
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

// Names that are none and ports that are none are refused in words, and nothing is
// written anywhere.
func TestNamesThatAreNone(t *testing.T) {
	here := t.TempDir()
	t.Chdir(here)
	for _, args := range [][]string{{"serve", "--data", ""}, {"backup", "x.db", "--data", " "},
		{"serve", "--port", "abc", "--data", here}, {"restore", "none.db", "--data", here}, {"check", "--data", here}} {
		_, errs, code := run("", args...)
		assert.Equal(t, 1, code, args)
		assert.NotEmpty(t, errs)
	}
	t.Setenv("JEVVO_PORT", "abc")
	_, errs, code := run("", "serve", "--data", here)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, `not "abc"`)
	left, err := filepath.Glob(filepath.Join(here, "*"))
	require.NoError(t, err)
	for _, name := range left {
		assert.Equal(t, "jevvo.lock", filepath.Base(name))
	}
}

// A second program on the same folder says so; a backup may be written meanwhile,
// and is restored once it is closed, with what was there kept.
func TestOneProgramAFolderAndRestore(t *testing.T) {
	data := t.TempDir()
	p := start(t, data, "demo")
	_, errs, code := run("", "serve", "--data", data, "--port", "0")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "open in another Jevvo")
	copied := filepath.Join(t.TempDir(), "b.db")
	_, errs, code = run("", "backup", copied, "--data", data)
	require.Zero(t, code, errs)
	_, errs, code = run("", "restore", copied, "--data", data, "--replace")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "open in another Jevvo")
	res, err := http.PostForm(p.url+"/pieces/1/edit", url.Values{"brief": {"after the backup"}, "rev": {"1"}})
	require.NoError(t, err)
	res.Body.Close()
	require.NoError(t, p.Process.Signal(syscall.SIGTERM))
	require.NoError(t, p.Wait())
	_, errs, code = run("", "restore", copied, "--data", data)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "--replace")
	out, errs, code := run("", "restore", copied, "--data", data, "--replace")
	require.Zero(t, code, errs)
	assert.Contains(t, out, "is kept as")
	out, errs, code = run("", "check", "--data", data)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "All is well")
	again := start(t, data, "demo")
	assert.NotContains(t, body(t, again.url+"/pieces/1"), "after the backup")
}

// A first start that is cut off leaves nothing half laid out, however often.
func TestAFirstStartIsWholeOrNotAtAll(t *testing.T) {
	data := t.TempDir()
	for k := range 6 {
		c := exec.Command(binary, "demo", "--data", data, "--port", "0")
		require.NoError(t, c.Start())
		for growing(data) < int64(k)*64<<10 { // killed at another place each time
			runtime.Gosched()
		}
		require.NoError(t, c.Process.Kill())
		c.Wait()
		if _, err := os.Stat(filepath.Join(data, "jevvo.db")); err == nil {
			break
		}
	}
	p := start(t, data, "demo")
	assert.Equal(t, 12, strings.Count(body(t, p.url+"/pieces"), `class="card-piece"`))
}

// growing is how large a studio is that is being laid out in a folder; one that is
// whole counts as larger than any.
func growing(folder string) int64 {
	if _, err := os.Stat(filepath.Join(folder, "jevvo.db")); err == nil {
		return 1 << 40
	}
	most := int64(0)
	names, _ := filepath.Glob(filepath.Join(folder, ".new-*", "*"))
	for _, name := range names {
		if info, err := os.Stat(name); err == nil {
			most = max(most, info.Size())
		}
	}
	return most
}

// What is exported and imported again shows the same pages, as a folder and as a zip;
// a folder of snapshots gets today's.
func TestExportAndImport(t *testing.T) {
	data, out, snaps := t.TempDir(), t.TempDir(), t.TempDir()
	p := start(t, data, "demo")
	before := body(t, p.url+"/pieces/1/run-sheet")
	for _, name := range []string{"all.zip", "all"} {
		path := filepath.Join(out, name)
		_, errs, code := run("", "export", path, "--data", data)
		require.Zero(t, code, errs)
		_, errs, code = run("", "export", path, "--data", data)
		assert.Equal(t, 1, code)
		assert.Contains(t, errs, "exists already")
		into := t.TempDir()
		_, errs, code = run("", "import", path, "--data", into)
		require.Zero(t, code, errs)
		_, errs, code = run("", "import", path, "--data", into)
		assert.Equal(t, 1, code)
		assert.Contains(t, errs, "--replace")
		again := start(t, into, "serve", "--snapshots", snaps)
		assert.Equal(t, printedAt.ReplaceAllString(before, ""),
			printedAt.ReplaceAllString(body(t, again.url+"/pieces/1/run-sheet"), ""))
		_, errs, code = run("", "check", "--data", into)
		require.Zero(t, code, errs)
	}
	for _, name := range []string{"README.md", "studio.json", "pieces.csv", "days.ics", "palettes/1.gpl",
		"tables/pieces.json", "schema.sql", "drawings/piece-1.svg"} {
		_, err := os.Stat(filepath.Join(out, "all", name))
		assert.NoError(t, err, name)
	}
	drawn, err := os.ReadFile(filepath.Join(out, "all", "drawings", "piece-1.svg"))
	require.NoError(t, err)
	require.NoError(t, xml.Unmarshal(drawn, new(struct{})))
	assert.NotRegexp(t, `href="[^#]`, string(drawn), "it stands by itself")
	_, errs, code := run("", "import", filepath.Join(out, "all", "README.md"), "--data", t.TempDir())
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "neither a folder nor a zip")
	require.Eventually(t, func() bool {
		names, _ := filepath.Glob(filepath.Join(snaps, "jevvo-*.db"))
		return len(names) == 1
	}, 10*time.Second, 50*time.Millisecond)
}

// printedAt is what differs from minute to minute, and the mark of the demo.
var printedAt = regexp.MustCompile(`Printed [^<]*|<span class="demo">demo data</span>`)

// orphans sends posts as another user and closes each socket at once: the system then
// no longer says whose it was.
func orphans(t *testing.T, url string, n int) {
	t.Helper()
	port := url[strings.LastIndex(url, ":")+1:]
	form := "name=Orphan+post&client=Nobody"
	c := exec.Command("/bin/bash", "-c", fmt.Sprintf(`for i in $(seq %d); do exec 3<>/dev/tcp/127.0.0.1/%s || continue
printf 'POST /commissions HTTP/1.0\r\nHost: localhost\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: %d\r\n\r\n%s' >&3; exec 3>&-; done`,
		n, port, len(form), form))
	c.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
	c.Dir = "/"
	out, err := c.CombinedOutput()
	require.NoError(t, err, string(out))
}

// Another user of this computer is refused through the same port, unless all are let
// in. It takes root to be another user.
func TestAnotherUserIsRefused(t *testing.T) {
	if os.Getuid() != 0 {
		t.Skip("only root can be someone else")
	}
	asNobody := func(url string) string {
		port := url[strings.LastIndex(url, ":")+1:]
		c := exec.Command("/bin/bash", "-c",
			`exec 3<>/dev/tcp/127.0.0.1/`+port+`; printf 'GET /healthz HTTP/1.0\r\nHost: localhost\r\n\r\n' >&3; cat <&3`)
		c.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
		c.Dir = "/"
		out, err := c.CombinedOutput()
		require.NoError(t, err, string(out))
		return string(out)
	}
	p := start(t, t.TempDir(), "serve")
	assert.Contains(t, asNobody(p.url), "403 Forbidden")
	assert.Contains(t, body(t, p.url+"/healthz"), "ok")
	demo := start(t, t.TempDir(), "demo")
	orphans(t, demo.url, testsize.Of(t, "JEVVO_ORPHANS", 300))
	http.DefaultClient.CloseIdleConnections() // that waited all the while
	assert.Never(t, func() bool { return strings.Contains(body(t, demo.url+"/commissions?find=Orphan"), "Orphan post") },
		2*time.Second, 200*time.Millisecond, "nothing comes in by a socket that was closed at once")
	all := start(t, t.TempDir(), "serve", "--any-user")
	assert.Contains(t, asNobody(all.url), "200 OK")
}
