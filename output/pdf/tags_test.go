package pdf_test

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/outputtest"
	"raconte/output/pdf"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// everything is a procedure with all that a page can hold.
func everything() document.Document {
	d := outputtest.Document(6, "Scan the card")
	text := func(s string) words.Node { return words.Node{Type: "text", Text: s} }
	item := func(nodes ...words.Node) words.Node { return words.Node{Type: "listItem", Content: nodes} }
	p := func(nodes ...words.Node) words.Node { return words.Node{Type: "paragraph", Content: nodes} }
	cell := func(kind, s string) words.Node { return words.Node{Type: kind, Content: []words.Node{p(text(s))}} }
	link := text("the rules of the house")
	link.Marks = []words.Style{{Type: "link", Attrs: &words.Attrs{Href: "https://house.example/rules"}}}
	d.Blocks[1].Words = words.Node{Type: "doc", Content: []words.Node{
		p(text("Read "), link, text(", then see "), words.Node{Type: "reference", Attrs: &words.Attrs{Kind: words.ToStep, To: "s4"}}, text(".")),
		{Type: "bulletList", Content: []words.Node{item(p(text("one")), words.Node{Type: "orderedList", Content: []words.Node{item(p(text("deep"))), item(p(text("deeper")))}}), item(p(text("two")))}},
		{Type: "table", Content: []words.Node{{Type: "tableRow", Content: []words.Node{cell("tableHeader", "Fruit"), cell("tableHeader", "Most")}}, {Type: "tableRow", Content: []words.Node{cell("tableCell", "Pears"), cell("tableCell", "400 kg")}}}},
	}}
	d.Blocks[2].Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia.", Avoid: "Wear the mask."}
	d.Blocks[2].Critical = true
	d.Blocks[3].Beside = []document.WebLink{{Address: "https://films.example/lift", Title: "Lifting", Film: true}}
	d.Blocks = append(d.Blocks[:3], append([]document.Block{document.NewSection("h", 1, words.Plain("Second part")), document.NewPassage("p", words.Plain("Before you start"))}, d.Blocks[3:]...)...)
	return d
}

// mapsOnly leaves out objects that are no dictionaries, such as numbers.
func mapsOnly(t *testing.T, raw []byte) []byte {
	var all map[string]map[string]any
	require.NoError(t, json.Unmarshal(raw, &all))
	for _, o := range all {
		if _, is := o["value"].(map[string]any); !is {
			delete(o, "value")
		}
	}
	out, err := json.Marshal(all)
	require.NoError(t, err)
	return out
}

// TestThePDFIsTagged holds what is painted against the structure: everything painted is in a part or is an artifact,
// parts and pages agree on what belongs where, links have theirs, and what is read out comes in its order.
func TestThePDFIsTagged(t *testing.T) {
	if _, err := exec.LookPath("qpdf"); err != nil {
		t.Skip("qpdf is not installed")
	}
	dir := t.TempDir()
	file := filepath.Join(dir, "in.pdf")
	require.NoError(t, os.WriteFile(file, outputtest.Write(t, pdf.Format{}, everything()), 0o600))
	out, err := exec.Command("qpdf", "--check", file).CombinedOutput()
	require.NoError(t, err, string(out))
	raw, err := exec.Command("qpdf", "--json=2", "--json-stream-data=file", "--json-stream-prefix="+filepath.Join(dir, "s"), "--decode-level=generalized", file).Output()
	require.NoError(t, err)
	var read struct{ Qpdf [2]json.RawMessage }
	require.NoError(t, json.Unmarshal(raw, &read))
	var objects map[string]struct {
		Value  map[string]any
		Stream struct{ Datafile string }
	}
	require.NoError(t, json.Unmarshal(mapsOnly(t, read.Qpdf[1]), &objects))
	value := func(ref any) map[string]any { return objects["obj:"+ref.(string)].Value }
	catalog := value(objects["trailer"].Value["/Root"])
	assert.Equal(t, "u:en", catalog["/Lang"])
	nums := value(value(catalog["/StructTreeRoot"])["/ParentTree"])["/Nums"].([]any)
	parents := map[int]any{}
	for i := 0; i < len(nums); i += 2 {
		parents[int(nums[i].(float64))] = nums[i+1]
	}
	marked := regexp.MustCompile(`^/(\w+) ?<< ?/MCID (\d+) ?>> ?BDC$`)
	paints := regexp.MustCompile(`(TJ .*ET|^f|Do Q)$`)
	figures := 0
	for _, ref := range value(catalog["/Pages"])["/Kids"].([]any) {
		page := value(ref)
		own := parents[int(page["/StructParents"].(float64))].([]any)
		content, err := os.ReadFile(objects["obj:"+page["/Contents"].(string)].Stream.Datafile)
		require.NoError(t, err)
		inside, next := false, 0
		for _, line := range strings.Split(strings.TrimSpace(string(content)), "\n") {
			switch m := marked.FindStringSubmatch(line); {
			case m != nil:
				require.False(t, inside, "marked content is not nested")
				inside = true
				n, _ := strconv.Atoi(m[2])
				assert.Equal(t, next, n)
				part := value(own[n])
				assert.Equal(t, "/"+m[1], part["/S"])
				kids := part["/K"].([]any)
				held := false
				for _, k := range kids {
					if id, is := k.(float64); is && int(id) == n {
						held = true
					} else if other, is := k.(map[string]any); is && other["/MCID"] == float64(n) && other["/Pg"] == ref {
						held = true
					}
				}
				assert.True(t, held, "the part knows its content")
				next++
			case strings.HasSuffix(line, "BDC"):
				require.True(t, strings.HasPrefix(line, "/Artifact") && !inside, line)
				inside = true
			case line == "EMC":
				inside = false
			case paints.MatchString(line):
				require.True(t, inside, "painted outside of all: %s", line)
			}
		}
		assert.False(t, inside)
		assert.Len(t, own, next)
		for _, a := range page["/Annots"].([]any) {
			note := value(a)
			part := value(parents[int(note["/StructParent"].(float64))])
			assert.Equal(t, "/Link", part["/S"])
			assert.NotEmpty(t, note["/Contents"])
		}
	}
	for _, o := range objects {
		if o.Value["/S"] == "/Figure" {
			figures++
			assert.NotEmpty(t, o.Value["/Alt"])
			assert.NotNil(t, o.Value["/A"].(map[string]any)["/BBox"])
		}
	}
	assert.Equal(t, 7, figures, "six pictures and a code")

	tree, err := exec.Command("pdfinfo", "-struct-text", file).Output()
	require.NoError(t, err)
	got := strings.Join(strings.Fields(string(tree)), " ")
	at := 0
	for _, want := range []string{
		"Document", "H1 (block) \"Lots & rooms\"", "Link (inline) Figure", "TOC", "TOCI", "Link (inline) \"1 Scan the card 1", "L (block)", "LI (block) Lbl (block) \"1\" LBody (block) P (block) \"Scan the card 1.\"",
		"P (block) \"Read \" Link (inline) \"the rules of the house\"", "\", then see \" Link (inline) \"step 5\"", "L (block)", "LI (block) Lbl (block) \"•\" LBody (block) P (block) \"one\"",
		"L (block)", "Lbl (block) \"1.\" LBody (block) P (block) \"deep\"", "\"two\"", "Table", "TR TH: /Scope /Column P (block) \"Fruit\"", "TR TD P (block) \"Pears\"",
		"\"DANGER\"", "\"Ammonia. Wear the mask.\"", "\"Scan the card 3.\"", "H2 (block) \"1 Second part\"", "\"Before you start\"", "\"Scan the card 4.\"", "Film: Lifting",
	} {
		found := strings.Index(got[at:], want)
		require.GreaterOrEqual(t, found, 0, "%q after %.200q", want, got[at:])
		at += found + len(want)
	}
}
