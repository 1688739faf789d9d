// Package data writes a document as JSON, for programs: the data that the house's templates are given too, with the
// finished pictures in it. docs/templates.md describes it.
package data

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"

	"raconte/output"
	"raconte/output/flow"
)

// Version is that of the data's shape. It grows when something is taken away or means something else.
const Version = 1

// Format is JSON.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "json", Title: "JSON", Extension: "json", MediaType: "application/json"}
}

type block struct {
	ID       string       `json:"id"`
	Type     string       `json:"type"`
	Depth    int          `json:"depth,omitempty"`
	Number   string       `json:"number,omitempty"`
	Title    string       `json:"title,omitempty"`
	Text     string       `json:"text,omitempty"`
	HTML     string       `json:"html,omitempty"`
	Notice   *flow.Notice `json:"notice,omitempty"`
	Critical bool         `json:"critical,omitempty"`
	Seconds  int          `json:"seconds,omitempty"`
	Links    []flow.Link  `json:"links,omitempty"`
	Pictures []picture    `json:"pictures"`
}

type picture struct {
	ID     string `json:"id"`
	Number int    `json:"number"`
	Alt    string `json:"alt"`
	Width  int    `json:"width"`
	Height int    `json:"height"`
	Type   string `json:"type"`
	Data   []byte `json:"data"` // base64
}

// Write makes the file, one block after the other.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	d := flow.Read(ctx, in, o)
	buf := bufio.NewWriter(w)
	head, err := json.Marshal(struct {
		Format   string            `json:"format"`
		Version  int               `json:"version"`
		Title    string            `json:"title"`
		Kind     string            `json:"kind"`
		Language string            `json:"language"`
		Address  string            `json:"address,omitempty"`
		Fields   map[string]string `json:"fields"`
		Signal   string            `json:"signal,omitempty"`
		Notice   *flow.Notice      `json:"notice,omitempty"`
		Blocks   []block           `json:"blocks"`
	}{"raconte-document", Version, d.Title, string(in.Story.Kind), d.Language, d.Address, d.Fields, d.Signal, d.Notice, []block{}})
	if err != nil {
		return fmt.Errorf("writing the document: %w", err)
	}
	buf.Write(head[:len(head)-len("]}")])
	for i, b := range d.Blocks {
		out := block{
			ID: b.Source.ID, Type: b.Type, Depth: b.Depth, Number: b.Number, Title: b.Title, Text: b.Text, HTML: string(b.HTML), Notice: b.Notice,
			Critical: b.Source.Critical, Seconds: b.Source.Seconds, Links: b.Links, Pictures: []picture{},
		}
		for _, p := range b.Pictures {
			file, w, h, err := p.Measured()
			if err != nil {
				return err
			}
			out.Pictures = append(out.Pictures, picture{p.Figure.ID, p.Number, p.Alt, w, h, file.Type, file.Data})
		}
		raw, err := json.Marshal(out)
		if err != nil {
			return fmt.Errorf("writing a block: %w", err)
		}
		if i > 0 {
			buf.WriteByte(',')
		}
		buf.WriteByte('\n')
		if _, err := buf.Write(raw); err != nil {
			return fmt.Errorf("writing the document: %w", err)
		}
	}
	buf.WriteString("\n]}\n")
	if err := ctx.Err(); err != nil {
		return err
	}
	return buf.Flush()
}
