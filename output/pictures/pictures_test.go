package pictures_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"image/jpeg"
	"io"
	"testing"

	"raconte/output/outputtest"
	"raconte/output/pictures"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestPicturesAreNumberedAndNamedByTheirSteps(t *testing.T) {
	data := outputtest.Write(t, pictures.Format{}, outputtest.Document(12, `Scan: the "card"`))
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	require.Len(t, z.File, 13)
	for i, f := range z.File[:12] {
		assert.Equal(t, fmt.Sprintf("%03d %d Scan the card %d.jpg", i+1, i+1, i+1), f.Name)
		r, err := f.Open()
		require.NoError(t, err)
		_, err = jpeg.Decode(r)
		require.NoError(t, err)
	}
	list, err := z.File[12].Open()
	require.NoError(t, err)
	said, err := io.ReadAll(list)
	require.NoError(t, err)
	assert.Contains(t, string(said), "012 12 Scan the card 12.jpg\tPicture: Scan: the \"card\" 12")
}
