package pdf

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"strconv"
	"unicode/utf16"

	"github.com/klauspost/compress/zlib"
)

// file writes the objects of a PDF 1.7 (ISO 32000-1) one after the other, and knows where each begins.
type file struct {
	to      *bufio.Writer
	at      int64
	offsets []int64 // of object i+1
	sealed  *sealed // nil of a file that is not encrypted
	err     error
}

func newFile(w io.Writer) *file {
	f := &file{to: bufio.NewWriterSize(w, 1<<16)}
	f.bytes([]byte("%PDF-1.7\n%\xe2\xe3\xcf\xd3\n"))
	return f
}

func (f *file) bytes(b []byte) {
	if f.err == nil {
		_, f.err = f.to.Write(b)
	}
	f.at += int64(len(b))
}

func (f *file) text(format string, args ...any) { f.bytes(fmt.Appendf(nil, format, args...)) }

// reserve gives a number to an object that is written later.
func (f *file) reserve() int { f.offsets = append(f.offsets, 0); return len(f.offsets) }

// object writes an object; 0 takes the next number. The answer is its number.
func (f *file) object(id int, body string) int {
	if id == 0 {
		id = f.reserve()
	}
	f.offsets[id-1] = f.at
	f.text("%d 0 obj\n%s\nendobj\n", id, body)
	return id
}

// stream writes data as it is; dict is what its dictionary says besides the length.
func (f *file) stream(id int, dict string, data []byte) int {
	if id == 0 {
		id = f.reserve()
	}
	f.offsets[id-1] = f.at
	data = f.sealed.closed(data)
	f.text("%d 0 obj\n<<%s/Length %d>>stream\n", id, dict, len(data))
	f.bytes(data)
	f.text("\nendstream\nendobj\n")
	return id
}

// packed writes data compressed.
func (f *file) packed(id int, dict string, data []byte) int {
	return f.stream(id, dict+"/Filter/FlateDecode", deflated(data))
}

func deflated(data []byte) []byte {
	var b bytes.Buffer
	z, err := zlib.NewWriterLevel(&b, 6)
	if err == nil {
		_, err = z.Write(data)
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		panic("pdf: compressing into memory: " + err.Error())
	}
	return b.Bytes()
}

// finish writes where all objects are. The id tells files apart.
func (f *file) finish(root, info int, id string) error {
	lock := ""
	if f.sealed != nil {
		lock = fmt.Sprintf("/Encrypt %d 0 R", f.object(0, f.sealed.dict))
	}
	at := f.at
	f.text("xref\n0 %d\n0000000000 65535 f \n", len(f.offsets)+1)
	for _, o := range f.offsets {
		f.text("%010d 00000 n \n", o)
	}
	f.text("trailer\n<</Size %d/Root %d 0 R/Info %d 0 R/ID[<%s><%s>]%s>>\nstartxref\n%d\n%%%%EOF\n", len(f.offsets)+1, root, info, id, id, lock, at)
	if f.err == nil {
		f.err = f.to.Flush()
	}
	return f.err
}

// str is a text string: ASCII as it is, else UTF-16 with its mark (7.9.2.2).
func (f *file) str(s string) string {
	plain := true
	for _, r := range s {
		plain = plain && r >= 32 && r < 127
	}
	raw := []byte(s)
	if !plain {
		raw = []byte{0xfe, 0xff}
		for _, u := range utf16.Encode([]rune(s)) {
			raw = append(raw, byte(u>>8), byte(u))
		}
	}
	return f.literal(raw)
}

// literal is a string of bytes.
func (f *file) literal(raw []byte) string {
	b := []byte("(")
	for _, c := range f.sealed.closed(raw) {
		switch c {
		case '(', ')', '\\':
			b = append(b, '\\', c)
		case '\r': // a reader would take it for a line feed
			b = append(b, `\r`...)
		default:
			b = append(b, c)
		}
	}
	return string(append(b, ')'))
}

// num appends a number with at most three decimals, as short as it goes.
func num(b []byte, v float64) []byte {
	n := int64(v*1000 + 0.5)
	if v < 0 {
		n = -int64(-v*1000 + 0.5)
	}
	if n < 0 {
		b, n = append(b, '-'), -n
	}
	b = strconv.AppendInt(b, n/1000, 10)
	if f := n % 1000; f != 0 {
		digits := []byte{'.', byte('0' + f/100), byte('0' + f/10%10), byte('0' + f%10)}
		b = append(b, bytes.TrimRight(digits, "0")...)
	}
	return b
}
