package seal

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestASecretOpensForWhatItBelongsToAndWithItsKey(t *testing.T) {
	file := filepath.Join(t.TempDir(), "key")
	k, err := File(file)
	require.NoError(t, err)
	about, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), about.Mode().Perm(), "nobody else reads the key")
	sealed, err := k.Seal("hush", "tracker Authorization")
	require.NoError(t, err)
	assert.True(t, Sealed(sealed))
	assert.NotContains(t, sealed, "hush")
	twice, err := k.Seal("hush", "tracker Authorization")
	require.NoError(t, err)
	assert.NotEqual(t, sealed, twice, "the same secret does not look the same")
	again, err := File(file)
	require.NoError(t, err)
	open, err := again.Open(sealed, "tracker Authorization")
	require.NoError(t, err)
	assert.Equal(t, "hush", open)

	other, err := File(filepath.Join(t.TempDir(), "key"))
	require.NoError(t, err)
	_, err = other.Open(sealed, "tracker Authorization")
	assert.ErrorContains(t, err, "another key")
	for _, bad := range []struct{ sealed, belongs string }{
		{sealed, "chat Authorization"}, {"hush", "x"}, {sealed[:20], "tracker Authorization"}, {strings.Replace(sealed, "sealed:", "sealed:AAAA", 1), "tracker Authorization"}, {"", ""},
	} {
		_, err := k.Open(bad.sealed, bad.belongs)
		assert.Error(t, err, bad)
	}
	_, err = Key{}.Seal("x", "y")
	assert.Error(t, err)
	for _, bad := range []string{"", "short", strings.Repeat("A", 44)} {
		_, err := Parse(bad)
		assert.Error(t, err, bad)
	}
}
