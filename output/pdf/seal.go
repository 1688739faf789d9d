package pdf

import (
	"bytes"
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"crypto/sha256"
	"crypto/sha512"
	"encoding/binary"
	"fmt"

	"raconte/output"

	"golang.org/x/text/unicode/norm"
)

// sealed is what a file is encrypted with: the standard handler of ISO 32000-2, revision 6, by AES with 256 bits.
type sealed struct {
	block cipher.Block
	dict  string
}

// random are bytes that nobody can guess.
func random(n int) []byte {
	b := make([]byte, n)
	_, _ = rand.Read(b) // it never fails
	return b
}

// seal makes the key of a file, and what tells a reader who knows the password to find it (7.6.4.4).
func seal(s output.Seal) (*sealed, error) {
	key := random(32)
	user := []byte(norm.NFKC.String(s.Password))
	owner := random(24) // nobody has it: what is not allowed can't be allowed by a second password
	user = user[:min(len(user), 127)]
	var err error
	lock := func(password, with []byte) (check, locked []byte) {
		validation, salt := random(8), random(8)
		check = append(append(hardened(password, validation, with), validation...), salt...)
		block, e := aes.NewCipher(hardened(password, salt, with))
		if e != nil {
			err = e
			return check, nil
		}
		locked = make([]byte, len(key))
		cipher.NewCBCEncrypter(block, make([]byte, aes.BlockSize)).CryptBlocks(locked, key)
		return check, locked
	}
	u, ue := lock(user, nil)
	o, oe := lock(owner, u)
	if err != nil {
		return nil, fmt.Errorf("encrypting the PDF: %w", err)
	}
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, fmt.Errorf("encrypting the PDF: %w", err)
	}
	// The bits of table 22: all that is not forbidden is allowed, reading out always.
	const print, change, copying, assemble, sharp = 1 << 2, 1 << 3, 1 << 4, 1 << 10, 1 << 11
	allowed := int32(-4)
	if s.NoPrint {
		allowed &^= print | sharp
	}
	if s.NoCopy {
		allowed &^= copying | change | assemble
	}
	perms := binary.LittleEndian.AppendUint32(nil, uint32(allowed))
	perms = append(append(perms, 0xff, 0xff, 0xff, 0xff, 'T', 'a', 'd', 'b'), random(4)...)
	block.Encrypt(perms, perms)
	return &sealed{block, fmt.Sprintf("<</Filter/Standard/V 5/R 6/Length 256/CF<</StdCF<</CFM/AESV3/AuthEvent/DocOpen/Length 32>>>>/StmF/StdCF/StrF/StdCF/U<%x>/UE<%x>/O<%x>/OE<%x>/P %d/Perms<%x>>>",
		u, ue, o, oe, allowed, perms)}, nil
}

// hardened is the hash of a password that takes a while to find out (algorithm 2.B).
func hardened(password, salt, with []byte) []byte {
	sum := sha256.Sum256(append(append(bytes.Clone(password), salt...), with...))
	k := sum[:]
	for round := 0; ; round++ {
		k1 := bytes.Repeat(append(append(bytes.Clone(password), k...), with...), 64)
		block, err := aes.NewCipher(k[:16])
		if err != nil {
			panic("pdf: a key of 16 bytes is refused: " + err.Error())
		}
		cipher.NewCBCEncrypter(block, k[16:32]).CryptBlocks(k1, k1)
		rest := 0
		for _, b := range k1[:16] { // a number of 16 bytes divided by 3 leaves what the sum of them does
			rest += int(b)
		}
		switch rest % 3 {
		case 0:
			s := sha256.Sum256(k1)
			k = s[:]
		case 1:
			s := sha512.Sum384(k1)
			k = s[:]
		default:
			s := sha512.Sum512(k1)
			k = s[:]
		}
		if round >= 63 && int(k1[len(k1)-1]) <= round-31 {
			return k[:32]
		}
	}
}

// closed is data as it stands in the file: encrypted, with what it began with before it (7.6.3).
func (s *sealed) closed(data []byte) []byte {
	if s == nil {
		return data
	}
	pad := aes.BlockSize - len(data)%aes.BlockSize
	out := make([]byte, aes.BlockSize+len(data)+pad)
	copy(out, random(aes.BlockSize))
	copy(out[aes.BlockSize:], data)
	for i := range pad {
		out[len(out)-1-i] = byte(pad)
	}
	cipher.NewCBCEncrypter(s.block, out[:aes.BlockSize]).CryptBlocks(out[aes.BlockSize:], out[aes.BlockSize:])
	return out
}
