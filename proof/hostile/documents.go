package hostile

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"sync"
)

// nasty are values that come where others are expected, as JSON.
func nasty(random *rand.Rand) string {
	all := []string{
		`null`, `true`, `-1`, `0`, `1e308`, `-1e6`, `99999999999999999999`, `1.5`, `""`, `"x"`, `[]`, `{}`, `[null]`, `{"a":{"b":[]}}`, `"\u0000"`, `"\ud800"`,
		`"\u202egnp.exe"`, `"../../etc/passwd"`, `"' OR 1=1; --"`, `"<script>alert(1)</script>"`, `"javascript:alert(1)"`, `"\u001b[31m"`, `"İ"`, `"ａ"`, `"A "`,
		`"` + strings.Repeat("W", 300) + `"`, `"` + strings.Repeat("漢", 20_000) + `"`, strings.Repeat("[", 80) + strings.Repeat("]", 80),
		`[` + strings.Repeat("{},", 3000) + `{}]`, `"` + strings.Repeat("a", 64) + `"`, `"2026-01-01T00:00:00Z"`, `"0000-00-00"`,
	}
	return all[random.IntN(len(all))]
}

// Asks are requests of people without an account.
func Asks(seed uint64) []File {
	random := rand.New(rand.NewPCG(seed, 7))
	var all []File
	for n := range 200 {
		fields := []string{
			fmt.Sprintf(`"id":"%08d"`, n), `"follow":"` + strings.Repeat("f", 43) + `"`, `"name":` + nasty(random), `"mail":` + nasty(random),
			`"wrong":` + nasty(random), `"tried":` + nasty(random), `"pictures":` + nasty(random), `"` + fmt.Sprint(n) + `":` + nasty(random),
		}
		all = append(all, File{fmt.Sprintf("request %d", n), []byte("{" + strings.Join(fields[:5+random.IntN(4)], ",") + "}")})
	}
	return all
}

// right is a stretch of things that are as the description says, however extreme; else some are not.
type right bool

// point is a place, near or far.
func (ok right) point(random *rand.Rand) string {
	most := 8
	if ok {
		most = 7
	}
	v := func() string {
		return []string{"0", "10", "-5", "99999", "-1e5", "1600.25", "90.001", "1e6"}[random.IntN(most)]
	}
	return fmt.Sprintf(`{"x":%s,"y":%s}`, v(), v())
}

// mark is a mark of any kind and look.
func (ok right) mark(random *rand.Rand, n int) string {
	kinds := []string{"arrow", "line", "box", "ellipse", "pen", "text", "note", "marker", "concealment", "patch", "highlight", "light", "detail", "inset", "pointer", "bomb"}
	extras := 14
	if ok {
		kinds, extras = kinds[:15], 12
	}
	kind := kinds[random.IntN(len(kinds))]
	points := map[string]int{"marker": 1, "pointer": 1, "note": 3, "detail": 3, "pen": 1 + random.IntN(1900)}[kind]
	if points == 0 {
		points = 2
	}
	pts := make([]string, points)
	for i := range pts {
		pts[i] = ok.point(random)
	}
	extra := []string{
		`"dash":"dotted"`, `"dash":"dashed"`, `"look":"hatched"`, `"look":"scrambled"`, `"look":"round","zoom":1000`, `"plate":"bare"`, `"shadow":true`, `"way":"curved"`,
		`"size":200`, `"opacity":50`, `"text":"` + strings.Repeat("W", 1+random.IntN(1990)) + `"`, `"corner":-1`, `"unknown":1`, `"ink":"` + strings.Repeat("r", 40) + `"`,
	}[random.IntN(extras)]
	color := ""
	if kind == "patch" {
		color = `"color":"#a0b0c0",`
	}
	return fmt.Sprintf(`{"id":"m%d","kind":%q,"ink":"red","weight":"fine",%s"shot":"SHOT","points":[%s],%s}`, n, kind, color, strings.Join(pts, ","), extra)
}

func (ok right) figure(random *rand.Rand, n int) string {
	marks := make([]string, []int{0, 1, 5, 30, 120}[random.IntN(5)])
	for i := range marks {
		marks[i] = ok.mark(random, i)
	}
	view := []string{
		``, `"crop":{"x":-5,"y":0,"w":50,"h":1},`, `"tilt":45,`, `"quarter":3,"mirror":true,`, `"folds":[{"from":1,"to":5},{"down":true,"from":2,"to":9}],`,
		`"margin":{"top":16384,"right":16384,"bottom":16384,"left":16384},`, `"width":16384,`, `"edge":{"look":"faded","open":"auto"},`, `"outline":[` + ok.point(random) + `],`,
	}[random.IntN(9)]
	return fmt.Sprintf(`{"id":"f%d","shot":"SHOT","alt":"",%s"marks":[%s]}`, n, view, strings.Join(marks, ","))
}

func (ok right) words(random *rand.Rand) string {
	most := 8
	if ok {
		most = 6
	}
	return []string{
		`{"type":"doc"}`, `{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"Do it"}]}]}`,
		`{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"` + strings.Repeat("W", 19_000) + `"}]}]}`,
		`{"type":"doc","content":[{"type":"paragraph","content":[` + strings.Repeat(`{"type":"text","text":"a","marks":[{"type":"keycap"}]},`, 1900) + `{"type":"hardBreak"}]}]}`,
		`{"type":"doc","content":[{"type":"bulletList","content":[` + strings.Repeat(`{"type":"listItem","content":[{"type":"paragraph"}]},`, 900) + `{"type":"listItem"}]}]}`,
		`{"type":"doc","content":[{"type":"paragraph","content":[{"type":"markerRef","attrs":{"mark":"m0"}}]}]}`,
		`{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"x","marks":[{"type":"link","attrs":{"href":"javascript:x"}}]}]}]}`,
		nasty(random),
	}[random.IntN(most)]
}

// Changes are bodies of changes to a document; SHOT stands for a shot that is there.
func Changes(seed uint64) []File {
	random := rand.New(rand.NewPCG(seed, 2))
	var all []File
	for n := range 150 {
		ok := right(n%2 == 0)
		var steps []string
		for i := range 1 + random.IntN(3) {
			figures := make([]string, random.IntN(3))
			for j := range figures {
				figures[j] = ok.figure(random, 100*n+10*i+j)
			}
			steps = append(steps, fmt.Sprintf(`{"id":"s%d-%d","base":0,"order":"00%04d","removed":false,"content":{"type":"step","words":%s,"figures":[%s]}}`, n, i, 1000+n, ok.words(random), strings.Join(figures, ",")))
		}
		body := fmt.Sprintf(`{"id":"c%d","blocks":[%s]}`, n, strings.Join(steps, ","))
		switch n % 10 {
		case 1:
			body = `{"id":"large` + fmt.Sprint(n) + `","blocks":[` + strings.Repeat(body[len(`{"id":"c`)+len(fmt.Sprint(n))+len(`","blocks":[`):len(body)-2]+",", 30) + "{}]}"
		case 7:
			body = fmt.Sprintf(`{"id":"c%d","blocks":%s}`, n, nasty(random))
		case 5:
			body = strings.Replace(body, `"removed":false`, `"removed":`+nasty(random), 1)
		case 9:
			body = string(mutated(random, []byte(body), 5))
		}
		all = append(all, File{fmt.Sprintf("%03d change", n), []byte(body)})
	}
	all = append(all,
		File{"objects without end", []byte(`{"id":"o","blocks":[` + strings.Repeat("{},", 5_000_000) + `{}]}`)},
		File{"numbers without end", []byte(`{"id":"o","blocks":[` + strings.Repeat("1,", 7_000_000) + `1]}`)},
		File{"unknown attributes", []byte(`{"id":"o","blocks":[],"x":"` + strings.Repeat("y", 15<<20) + `"}`)},
	)
	return all
}

// Bundles are bundles, or nearly.
func Bundles(seed uint64) []File {
	random := rand.New(rand.NewPCG(seed, 3))
	all, fine, odd := []File{}, fit(seed), Pictures(seed)[180:]
	for n := range 200 {
		ok := right(n%2 == 0)
		picture := fine[random.IntN(len(fine))]
		if !ok {
			picture = odd[random.IntN(len(odd))]
		}
		sum := sha256.Sum256(picture.Data)
		sha := hex.EncodeToString(sum[:])
		file := "shots/" + sha + ".png"
		step := fmt.Sprintf(`{"id":"s","type":"step","words":%s,"figures":[%s]}`, ok.words(random), strings.ReplaceAll(ok.figure(random, 1), "SHOT", sha))
		versions := 6
		if ok {
			versions = 4
		}
		version, title := []string{"1", "2", "3", "4", "5", `"x"`}[random.IntN(versions)], `"Hostile"`
		about := `{"taken":"2026-01-01T00:00:00Z","source":"feed","scale":1}`
		switch n % 8 {
		case 1:
			title = nasty(random)
		case 5:
			step = nasty(random)
		case 3:
			about = `{"taken":"2026-01-01T00:00:00Z","source":"feed","scale":` + nasty(random) + `}`
		case 4:
			for i := range random.IntN(60) {
				step += fmt.Sprintf(`,{"id":"s%d","type":"step","words":%s,"figures":[]}`, i, ok.words(random))
			}
		}
		said := fmt.Sprintf(`"title":%s,"steps":[%s]`, title, step)
		if version == "4" {
			said = fmt.Sprintf(`"format":4,"facts":{"title":%s},"blocks":[%s]`, title, step)
		}
		doc := fmt.Sprintf(`{"format":"raconte-bundle","version":%s,"document":{"id":"d","kind":"procedure",%s},"shots":{%q:{"file":%q}}}`, version, said, sha, file)
		entries := []File{{"document.json", []byte(doc)}, {file, picture.Data}, {"shots/" + sha + ".json", []byte(about)}}
		if n%8 == 7 {
			entries = append(entries, File{[]string{"../x", "document.json", "shots/../x", "readme", strings.Repeat("a", 70_000)[:60_000]}[random.IntN(5)], []byte("x")})
		}
		data := zipped(entries)
		if n%16 == 6 {
			data = mutated(random, data, 20)
		}
		if n%16 == 11 {
			data = data[:random.IntN(len(data))]
		}
		if n%25 == 9 {
			data = numbers()
		}
		all = append(all, File{fmt.Sprintf("%03d bundle", n), data})
	}
	return all
}

// numbers is a bundle of 20 million numbers in few bytes.
var numbers = sync.OnceValue(func() []byte {
	doc := `{"format":"raconte-bundle","version":2,"shots":{},"document":[` + strings.Repeat("1,", 20_000_000) + `1]}`
	return zipped([]File{{"document.json", []byte(doc)}})
})

func zipped(files []File) []byte {
	return written(func(b *bytes.Buffer) error {
		z := zip.NewWriter(b)
		for _, f := range files {
			method := zip.Deflate
			if strings.HasSuffix(f.Name, ".png") {
				method = zip.Store
			}
			w, err := z.CreateHeader(&zip.FileHeader{Name: f.Name, Method: method})
			if err == nil {
				_, err = w.Write(f.Data)
			}
			if err != nil {
				return err
			}
		}
		return z.Close()
	})
}

// Value is one request with a value in it that is not expected there.
type Value struct {
	Method, Path string
	Body         []byte
}

// Values are requests to every address, with values that are not expected.
func Values(seed uint64) []Value {
	random := rand.New(rand.NewPCG(seed, 4))
	plain := func() string {
		v := nasty(random)
		var s any
		if json.Unmarshal([]byte(v), &s) == nil {
			v = fmt.Sprint(s)
		}
		if len(v) > 2000 {
			v = v[:2000]
		}
		return v
	}
	escape := func(s string) string {
		var b strings.Builder
		for i := range len(s) {
			fmt.Fprintf(&b, "%%%02x", s[i])
		}
		return b.String()
	}
	gets := []string{
		"/api/documents?title=%s", "/api/documents/%s", "/api/documents/DOC/changes?since=%s", "/api/documents/DOC/pages?layout=%s", "/api/documents/DOC/figures/%s",
		"/api/documents/DOC/figures/f0?width=%s", "/api/documents/%s/deliveries", "/api/documents/DOC/history?x=%s", "/api/deliveries/%s", "/api/shots?text=%s", "/api/shots?day=%s",
		"/api/shots?after=%s&afterId=x", "/api/shots?window=%s", "/api/shots?placed=%s", "/api/shots?day=2026-01-01&offset=%s", "/api/shots/%s", "/api/shots/%s/about",
		"/api/shots/%s/changed", "/api/captures/%s", "/d/%s", "/api/%s", "/assets/%s",
	}
	sends := [][2]string{
		{"POST", "/api/documents"}, {"POST", "/api/documents/DOC/changes"}, {"PUT", "/api/documents/DOC/state"}, {"POST", "/api/documents/DOC/deliveries"}, {"POST", "/api/finished"},
		{"PUT", "/api/secret-words"}, {"POST", "/api/styles"}, {"PUT", "/api/shots/discarded"}, {"PUT", "/api/captures/c1"}, {"PUT", "/api/captures/c1/order"}, {"POST", "/api/devices"},
		{"POST", "/api/shots/SHOT/targets"}, {"POST", "/api/shots/SHOT/scaled"}, {"POST", "/api/password"}, {"POST", "/api/shots/SHOT/handed"},
	}
	keys := []string{"facts", "blocks", "id", "act", "seq", "layout", "format", "figure", "first", "type", "version", "words", "name", "kind", "style", "shots", "discarded", "from", "marks", "width", "old", "new", "most"}
	var all []Value
	for n := range 500 {
		if n%2 == 0 {
			all = append(all, Value{"GET", fmt.Sprintf(gets[random.IntN(len(gets))], escape(plain())), nil})
			continue
		}
		to := sends[random.IntN(len(sends))]
		body := nasty(random)
		if random.IntN(4) > 0 {
			var fields []string
			for range 1 + random.IntN(4) {
				v := nasty(random)
				if random.IntN(3) == 0 {
					v = right(n%4 == 1).figure(random, 0)
				}
				fields = append(fields, fmt.Sprintf("%q:%s", keys[random.IntN(len(keys))], v))
			}
			body = "{" + strings.Join(fields, ",") + "}"
		}
		all = append(all, Value{to[0], to[1], []byte(body)})
	}
	for _, raw := range []string{"/api/documents/%ff", "/api/shots?text=%ff%fe", "/api/documents?title=" + strings.Repeat("a+", 15_000), "/api/shots/%2e%2e%2f%2e%2e", "/%00", "//evil.example"} {
		all = append(all, Value{"GET", raw, nil})
	}
	return all
}
