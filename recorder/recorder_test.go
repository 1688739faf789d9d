package recorder_test

import (
	"archive/zip"
	"bytes"
	"crypto"
	"crypto/rsa"
	"crypto/sha256"
	"crypto/x509"
	"encoding/binary"
	"path/filepath"
	"testing"

	"raconte/recorder"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestThePackageIsSignedAndKeepsItsID(t *testing.T) {
	key := filepath.Join(t.TempDir(), "recorder.pem")
	first, err := recorder.Pack(key)
	require.NoError(t, err)
	second, err := recorder.Pack(key)
	require.NoError(t, err)
	assert.Equal(t, first.ID, second.ID, "an update is one only under the same id")
	assert.Regexp(t, "^[a-p]{32}$", first.ID)

	require.Equal(t, "Cr24\x03\x00\x00\x00", string(first.Data[:8]))
	n := binary.LittleEndian.Uint32(first.Data[8:])
	header, packed := first.Data[12:12+n], first.Data[12+n:]
	proof := read(t, header, 2)
	signed := read(t, header, 10000)
	public, err := x509.ParsePKIXPublicKey(read(t, proof, 1))
	require.NoError(t, err)
	digest := sha256.New()
	digest.Write([]byte("CRX3 SignedData\x00"))
	digest.Write(binary.LittleEndian.AppendUint32(nil, uint32(len(signed))))
	digest.Write(signed)
	digest.Write(packed)
	assert.NoError(t, rsa.VerifyPKCS1v15(public.(*rsa.PublicKey), crypto.SHA256, digest.Sum(nil), read(t, proof, 2)))
	z, err := zip.NewReader(bytes.NewReader(packed), int64(len(packed)))
	require.NoError(t, err)
	var names []string
	for _, f := range z.File {
		names = append(names, f.Name)
	}
	assert.Contains(t, names, "manifest.json", "in a package the files lie at the top")
}

// read finds a field of bytes in the encoding of protocol buffers.
func read(t *testing.T, message []byte, number uint64) []byte {
	for len(message) > 0 {
		tag, n := binary.Uvarint(message)
		length, m := binary.Uvarint(message[n:])
		data := message[n+m : uint64(n+m)+length]
		if tag>>3 == number {
			return data
		}
		message = message[uint64(n+m)+length:]
	}
	t.Fatalf("there is no field %d", number)
	return nil
}
