package secrets_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/secrets"
)

func TestOnlyTheOwnerReadsIt(t *testing.T) {
	f := &secrets.File{Path: filepath.Join(t.TempDir(), "deep", "secrets.json")}
	got, err := f.Get("mail_password")
	require.NoError(t, err)
	assert.Empty(t, got, "none is kept yet")
	require.NoError(t, f.Set("mail_password", "hunter2"))
	info, err := os.Stat(f.Path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	got, err = f.Get("mail_password")
	require.NoError(t, err)
	assert.Equal(t, "hunter2", got)
	t.Setenv("JEVVO_MAIL_PASSWORD", "from the environment")
	got, err = f.Get("mail_password")
	require.NoError(t, err)
	assert.Equal(t, "from the environment", got)
}

func TestADamagedFileIsSaid(t *testing.T) {
	path := filepath.Join(t.TempDir(), "secrets.json")
	require.NoError(t, os.WriteFile(path, []byte("{"), 0o600))
	_, err := (&secrets.File{Path: path}).Get("mail_password")
	assert.Error(t, err)
}
