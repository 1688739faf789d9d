package data_test

import (
	"bytes"
	"encoding/json"
	"image/jpeg"
	"testing"

	"raconte/output/data"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestJSONIsAFormat(t *testing.T) {
	outputtest.Run(t, data.Format{}, func(t *testing.T, raw []byte) string {
		var d struct {
			Format, Title string
			Blocks        []struct {
				Number, Text string
				Notice       *struct{ Lines []string }
				Pictures     []struct {
					Width int
					Alt   string
					Data  []byte
				}
			}
		}
		require.NoError(t, json.Unmarshal(raw, &d))
		assert.Equal(t, "raconte-document", d.Format)
		said := d.Title + "\n"
		for _, b := range d.Blocks {
			said += b.Text + "\n"
			if b.Notice != nil {
				said += b.Notice.Lines[0]
			}
			for _, p := range b.Pictures {
				img, err := jpeg.DecodeConfig(bytes.NewReader(p.Data))
				require.NoError(t, err)
				assert.Equal(t, p.Width, img.Width)
				assert.NotEmpty(t, p.Alt)
			}
		}
		return said
	})
}
