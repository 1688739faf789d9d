package hostile

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"math/rand/v2"
	"strings"
)

// Upload is a file that is sent somewhere: to be made a document of, to be heard, or to be written with.
type Upload struct {
	File
	Path string // where DOC stands for a document of the sender
}

// Uploads are files of other programs, sounds and templates that nobody should send.
func Uploads(seed uint64) (all []Upload) {
	add := func(path, name string, data []byte) { all = append(all, Upload{File{name, data}, path}) }
	text := func(name, s string) { add("/api/imports?name="+name, name, []byte(s)) }
	for name, s := range map[string]string{
		"quoted.md": strings.Repeat(">", 300_000), "listed.md": strings.Repeat("1. ", 100_000), "linked.md": strings.Repeat("[a](", 75_000), "starred.md": strings.Repeat("*a", 150_000),
		"ticked.md": strings.Repeat("`", 300_000), "tabled.md": "|" + strings.Repeat("a|", 50_000) + "\n|" + strings.Repeat("-|", 50_000) + "\n",
		"deep.html": strings.Repeat("<div>", 100_000), "formatted.html": strings.Repeat("<b><i><u>", 30_000) + "x", "styled.html": "<style>" + strings.Repeat("a b c,", 50_000) + "d{display:none}</style><p>x",
		"selected.html": "<style>" + strings.Repeat(":not(.a) :not(.b){display:none}", 4000) + "</style>" + strings.Repeat("<p>x", 4000), "tabled.html": strings.Repeat("<table><tr><td>", 30_000),
	} {
		text(name, s)
	}
	part := func(body string) []byte {
		return zipped([]File{{"word/document.xml", []byte(`<w:document xmlns:w="w"><w:body>` + body + `</w:body></w:document>`)}})
	}
	add("/api/imports?name=many.docx", "a DOCX of a million elements", part(strings.Repeat("<w:p/>", 1_900_000)))
	add("/api/imports?name=deep.docx", "a deep DOCX", part(strings.Repeat("<w:p>", 50_000)))
	add("/api/imports?name=tables.docx", "a DOCX of tables in tables", part(strings.Repeat("<w:tbl><w:tr><w:tc>", 150)+strings.Repeat("</w:tc></w:tr></w:tbl>", 150)))
	sound := func(rate uint32) []byte {
		out := append([]byte("RIFF\x24\x10\x00\x00WAVEfmt \x10\x00\x00\x00\x01\x00\x01\x00"), binary.LittleEndian.AppendUint32(nil, rate)...)
		out = append(binary.LittleEndian.AppendUint32(out, rate*2), 2, 0, 16, 0)
		return append(append(out, "data\x00\x10\x00\x00"...), make([]byte, 4096)...)
	}
	random := rand.New(rand.NewPCG(seed, 9))
	for name, data := range map[string][]byte{
		"a playlist": []byte("#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n"), "a list of files": []byte("ffconcat version 1.0\nfile /etc/passwd\n"),
		"one sample a second": sound(1), "two thousand million": sound(1 << 31), "nothing": {}, "a picture": bases()[0].Data, "damaged": mutated(random, sound(48_000), 20),
	} {
		add("/api/documents/DOC/voices", "a voice: "+name, data)
	}
	for name, s := range map[string]string{
		"loops in loops":   strings.Repeat("{{range .Blocks}}", 30) + strings.Repeat("{{end}}", 30),
		"many arguments":   "{{print" + strings.Repeat(" .Title", 2000) + "}}",
		"a wide number":    strings.Repeat(`{{printf "%999999d" 1}}`, 5000),
		"doubling":         "{{$x := .Title}}" + strings.Repeat(`{{$x = printf "%s%s" $x $x}}`, 60),
		"deep conditions":  strings.Repeat("{{if .Title}}", 5000) + strings.Repeat("{{end}}", 5000),
		"parts in parts":   `{{define "a"}}{{template "b" .}}{{template "b" .}}{{end}}{{define "b"}}{{template "a" .}}{{template "a" .}}{{end}}{{template "a" .}}`,
		"deep elements":    strings.Repeat("<div>", 50_000),
		"foreign elements": "<math><mtext></math><svg></math><script>alert(1)</script>",
	} {
		add("/api/templates/checked", "a template: "+name, []byte(s))
	}
	add("/api/housefiles?name=face.ttf", "a face of nothing", append([]byte("\x00\x01\x00\x00\x00\x20"), bytes.Repeat([]byte{0xff}, 2000)...))
	return all
}

func (u Upload) String() string { return fmt.Sprintf("%s to %s", u.Name, u.Path) }
