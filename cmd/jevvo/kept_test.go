package main_test

import (
	"bytes"
	"database/sql"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"
)

// nobody is a user that owns nothing else.
const nobody = 65534

// shut makes a folder one that the user of a command can read and not write to, and
// returns the command. Root writes everywhere, so its commands run as nobody.
func shut(t *testing.T, folder string, args ...string) *exec.Cmd {
	t.Helper()
	c := exec.Command(binary, args...)
	if os.Getuid() == 0 && runtime.GOOS == "linux" {
		c.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: nobody, Gid: nobody}}
		for _, dir := range []string{folder, filepath.Dir(folder), filepath.Dir(binary)} {
			require.NoError(t, os.Chmod(dir, 0o755))
		}
		files, err := filepath.Glob(filepath.Join(folder, "*"))
		require.NoError(t, err)
		for _, f := range append(files, folder) {
			require.NoError(t, os.Chown(f, nobody, nobody))
		}
	}
	require.NoError(t, os.Chmod(folder, 0o500))
	t.Cleanup(func() { os.Chmod(folder, 0o700) })
	return c
}

func names(t *testing.T, folder string) (out []string) {
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	for _, e := range entries {
		out = append(out, e.Name())
	}
	return out
}

// A folder that cannot be written to, as one on a disk that failed, is read all the same,
// what its log holds with it.
func TestAFolderThatCannotBeWrittenIsRead(t *testing.T) {
	data, out := t.TempDir(), t.TempDir()
	p := start(t, data, "demo")
	require.NoError(t, p.Process.Kill())
	p.Wait()
	require.Contains(t, names(t, data), "jevvo.db-wal")
	require.NoError(t, os.Chmod(out, 0o777))
	require.NoError(t, os.Chmod(filepath.Dir(out), 0o755))
	before := names(t, data)
	for _, args := range [][]string{{"check"}, {"backup", filepath.Join(out, "b.db")},
		{"export", filepath.Join(out, "all.zip")}} {
		c := shut(t, data, append(args, "--data", data)...)
		said, err := c.CombinedOutput()
		require.NoError(t, err, "%s: %s", args[0], said)
	}
	assert.Equal(t, before, names(t, data))
	for _, file := range []string{"b.db", "all.zip"} {
		how := map[string]string{"b.db": "restore", "all.zip": "import"}[file]
		into := t.TempDir()
		_, errs, code := run("", how, filepath.Join(out, file), "--data", into)
		require.Zero(t, code, errs)
		assert.Contains(t, body(t, start(t, into, "serve").url+"/pieces"), `class="card-piece"`)
	}
}

// What a backup brings that the program cannot read, or that would run by itself, is
// listed, and nothing is put in the place of a studio but on being told to.
func TestABackupIsReadBeforeItIsPutInPlace(t *testing.T) {
	data, elsewhere := t.TempDir(), t.TempDir()
	p := start(t, data, "demo")
	require.NoError(t, p.Process.Signal(syscall.SIGTERM))
	require.NoError(t, p.Wait())
	ruined := filepath.Join(elsewhere, "ruined.db")
	_, errs, code := run("", "backup", ruined, "--data", data)
	require.Zero(t, code, errs)
	db, err := sql.Open("sqlite", "file:"+ruined)
	require.NoError(t, err)
	_, err = db.Exec(`UPDATE documents SET doc = '"ruined"' WHERE kind = 'palette';
		CREATE TRIGGER stranger AFTER UPDATE ON settings BEGIN DELETE FROM pieces; END;
		DROP TRIGGER papers_stay`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	before, err := os.ReadFile(filepath.Join(data, "jevvo.db"))
	require.NoError(t, err)
	_, errs, code = run("", "restore", ruined, "--data", data, "--replace")
	assert.Equal(t, 1, code)
	for _, said := range []string{"the palette 1", `the trigger "stranger" is none`,
		`the trigger "papers_stay" is missing`, "--anyway"} {
		assert.Contains(t, errs, said)
	}
	after, err := os.ReadFile(filepath.Join(data, "jevvo.db"))
	require.NoError(t, err)
	assert.True(t, bytes.Equal(before, after))
	_, errs, code = run("", "restore", ruined, "--data", data, "--replace", "--anyway")
	require.Zero(t, code, errs)
	assert.Contains(t, errs, "the palette 1")
	_, errs, code = run("", "check", "--data", data)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, `"stranger"`)
}
