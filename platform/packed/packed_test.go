package packed_test

import (
	"bytes"
	"io/fs"
	"testing"
	"testing/fstest"

	"raconte/platform/packed"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestFilesAreReadAsTheyWereHoweverTheyLie(t *testing.T) {
	var small bytes.Buffer
	w := brotli.NewWriter(&small)
	_, err := w.Write(bytes.Repeat([]byte("letters "), 1000))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	files := packed.New(fstest.MapFS{
		"as/it.txt": {Data: []byte("is")}, "packed.js.br": {Data: small.Bytes()}, "broken.js.br": {Data: small.Bytes()[:9]},
	})
	for range 2 { // the second time it is kept
		data, err := files.Read("packed.js")
		require.NoError(t, err)
		assert.Equal(t, 8000, len(data))
	}
	data, err := files.Read("as/it.txt")
	require.NoError(t, err)
	assert.Equal(t, "is", string(data))
	_, err = files.Packed("as/it.txt")
	assert.ErrorIs(t, err, fs.ErrNotExist)
	_, err = files.Read("broken.js")
	assert.ErrorContains(t, err, "unpacking broken.js")
	for name, there := range map[string]bool{"packed.js": true, "as/it.txt": true, "as": false, "none": false} {
		assert.Equal(t, there, files.Has(name), name)
	}
	one, err := files.Sum("packed.js")
	require.NoError(t, err)
	other, err := files.Sum("as/it.txt")
	require.NoError(t, err)
	assert.NotEqual(t, one, other)
}
