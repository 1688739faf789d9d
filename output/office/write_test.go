package office

import (
	"encoding/xml"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatIsWrittenIsXMLWhateverItSays(t *testing.T) {
	const nasty = `a & b < "c" > 'd'`
	type relationship struct {
		ID     string `xml:"Id,attr"`
		Type   string `xml:"Type,attr"`
		Target string `xml:"Target,attr"`
		Mode   string `xml:"TargetMode,attr"`
	}
	var read struct {
		All []relationship `xml:"Relationship"`
	}
	require.NoError(t, xml.Unmarshal([]byte(Declaration+RelationList(
		Relation{ID: "a", Kind: "hyperlink", Target: "https://x.example/?a=1&b=" + nasty, Outside: true}, Relation{ID: "b", Kind: "http://other.example/kind", Target: "media/x.png"},
	)), &read))
	assert.Equal(t, []relationship{
		{"a", Kinds + "hyperlink", "https://x.example/?a=1&b=" + nasty, "External"}, {"b", "http://other.example/kind", "media/x.png", ""},
	}, read.All)

	var known struct {
		Title    string `xml:"title"`
		Creator  string `xml:"creator"`
		Language string `xml:"language"`
		Created  string `xml:"created"`
	}
	made := time.Date(2026, 3, 2, 9, 0, 0, 0, time.FixedZone("", 3600))
	require.NoError(t, xml.Unmarshal([]byte(Properties{nasty, "Ines & Co", "de", made}.XML()), &known))
	assert.Equal(t, []string{nasty, "Ines & Co", "de", "2026-03-02T08:00:00Z"}, []string{known.Title, known.Creator, known.Language, known.Created})
	assert.NotContains(t, Properties{Title: "x"}.XML(), "creator", "nobody is named where nobody is known")

	var types struct {
		Defaults []struct {
			Extension string `xml:"Extension,attr"`
		} `xml:"Default"`
		Overrides []struct {
			Part string `xml:"PartName,attr"`
		} `xml:"Override"`
	}
	require.NoError(t, xml.Unmarshal([]byte(ContentTypes([]Part{{"mp4", "video/mp4"}}, []Part{{"word/document.xml", "x"}})), &types))
	assert.Len(t, types.Defaults, 5)
	assert.Equal(t, "/word/document.xml", types.Overrides[0].Part)
	assert.Equal(t, "/"+CorePart, types.Overrides[1].Part)
}

func TestSignalWordsHaveTheColoursOfTheStandard(t *testing.T) {
	for signal, want := range map[string][2]string{
		"danger": {"C8102E", "FFFFFF"}, "warning": {"FF8200", "000000"}, "caution": {"FFD100", "000000"}, "notice": {"0067B1", "FFFFFF"},
	} {
		fill, ink := Panel(signal)
		assert.Equal(t, want, [2]string{fill, ink}, signal)
	}
}
