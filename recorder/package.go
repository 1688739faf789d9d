package recorder

import (
	"bytes"
	"crypto"
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"crypto/x509"
	"encoding/binary"
	"encoding/json"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"os"
)

// Package is the recorder for many machines: signed with the house's own key, so that browsers that a policy tells to
// install it from here take it and its updates.
type Package struct {
	ID   string // by which browsers know it: 32 letters from a to p, made of the key
	Data []byte // a CRX file, version 3
}

const keyBits = 2048

// Pack signs the recorder with the key in a file, which is made where it is missing. It fails where the file can't be
// read or written.
func Pack(keyFile string) (Package, error) {
	key, err := houseKey(keyFile)
	if err != nil {
		return Package{}, err
	}
	var zip bytes.Buffer
	if err := WriteZip(&zip, ""); err != nil {
		return Package{}, err
	}
	return sign(key, zip.Bytes())
}

// Version is the recorder's, as its manifest has it. It fails where the recorder was not built.
func Version() (string, error) {
	data, err := built.ReadFile("dist/manifest.json")
	if err != nil {
		return "", fmt.Errorf("the recorder is not built: %w", err)
	}
	var manifest struct {
		Version string `json:"version"`
	}
	err = json.Unmarshal(data, &manifest)
	return manifest.Version, err
}

func houseKey(file string) (*rsa.PrivateKey, error) {
	data, err := os.ReadFile(file)
	if errors.Is(err, fs.ErrNotExist) {
		return newKey(file)
	}
	if err != nil {
		return nil, fmt.Errorf("the recorder's key can't be read: %w", err)
	}
	block, _ := pem.Decode(data)
	if block == nil {
		return nil, fmt.Errorf("the recorder's key in %s is no PEM", file)
	}
	key, err := x509.ParsePKCS1PrivateKey(block.Bytes)
	if err != nil {
		return nil, fmt.Errorf("the recorder's key in %s is not in order: %w", file, err)
	}
	return key, nil
}

func newKey(file string) (*rsa.PrivateKey, error) {
	key, err := rsa.GenerateKey(rand.Reader, keyBits)
	if err != nil {
		return nil, fmt.Errorf("making the recorder's key: %w", err)
	}
	data := pem.EncodeToMemory(&pem.Block{Type: "RSA PRIVATE KEY", Bytes: x509.MarshalPKCS1PrivateKey(key)})
	if err := os.WriteFile(file, data, 0o600); err != nil {
		return nil, fmt.Errorf("the recorder's key can't be kept: %w", err)
	}
	return key, nil
}

// sign makes a CRX file of a zip: "Cr24", the version 3, the length of the header, the header (a CrxFileHeader in the
// encoding of protocol buffers: one proof of an RSA key, and the signed data, which is the id), and the zip.
func sign(key *rsa.PrivateKey, zip []byte) (Package, error) {
	public, err := x509.MarshalPKIXPublicKey(&key.PublicKey)
	if err != nil {
		return Package{}, err
	}
	sum := sha256.Sum256(public)
	id := sum[:16]
	signed := field(1, id) // SignedData.crx_id
	length := binary.LittleEndian.AppendUint32(nil, uint32(len(signed)))
	digest := sha256.New()
	for _, part := range [][]byte{[]byte("CRX3 SignedData\x00"), length, signed, zip} {
		digest.Write(part)
	}
	signature, err := rsa.SignPKCS1v15(rand.Reader, key, crypto.SHA256, digest.Sum(nil))
	if err != nil {
		return Package{}, fmt.Errorf("signing the recorder: %w", err)
	}
	proof := append(field(1, public), field(2, signature)...)
	header := append(field(2, proof), field(10000, signed)...) // sha256_with_rsa, signed_header_data
	out := append([]byte("Cr24"), 3, 0, 0, 0)
	out = binary.LittleEndian.AppendUint32(out, uint32(len(header)))
	out = append(append(out, header...), zip...)
	name := make([]byte, 0, 2*len(id))
	for _, b := range id {
		name = append(name, 'a'+b>>4, 'a'+b&15)
	}
	return Package{ID: string(name), Data: out}, nil
}

// field is a field of bytes in the encoding of protocol buffers.
func field(number uint64, data []byte) []byte {
	out := binary.AppendUvarint(nil, number<<3|2)
	out = binary.AppendUvarint(out, uint64(len(data)))
	return append(out, data...)
}
