// Package text writes a document as plain text: what was written, in order, for where nothing else goes.
package text

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"strings"

	"raconte/core/story"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/flow"
)

// Format is plain text, in UTF-8.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "txt", Title: "Plain text", Extension: "txt", MediaType: "text/plain; charset=utf-8"}
}

// Write makes the text. Pictures are not made: what stands for them is written.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	d := flow.Read(ctx, in, o)
	reader := d.Story().Reader()
	buf := bufio.NewWriter(w)
	say := func(format string, args ...any) { fmt.Fprintf(buf, format, args...) }
	if d.Draft != "" && !o.Bare {
		say("%s\n\n", d.Draft)
	}
	if !o.Bare {
		say("%s\n%s\n", d.Title, strings.Repeat("=", min(70, max(3, len([]rune(d.Title))))))
		say("%s. %s\n", d.Kind, d.Meta)
	}
	warn(buf, d.Notice)
	for i, b := range d.Blocks {
		if err := ctx.Err(); err != nil {
			return err
		}
		say("\n")
		if b.Heading() {
			title := strings.TrimSpace(b.Number + " " + b.Title)
			say("\n%s\n%s\n", title, strings.Repeat("-", min(70, max(3, len([]rune(title))))))
			continue
		}
		if b.Critical != "" {
			say("%s\n", b.Critical)
		}
		warn(buf, b.Notice)
		said := Words(reader, b.Source)
		if b.Step() {
			said = strings.TrimRight(b.Number+". "+said, " ")
		}
		say("%s\n", said)
		if b.Time != "" {
			say("(%s)\n", b.Time)
		}
		for _, l := range b.Links {
			say("%s %s\n", l.Said, l.Address)
		}
		for _, p := range b.Pictures {
			if o.Bare {
				say("[%s]\n", p.Numbered())
				continue
			}
			say("[%s]\n", p.Alt)
		}
		in.Progress(i+1, len(d.Blocks))
	}
	if len(d.Blocks) == 0 {
		in.Progress(1, 1)
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return buf.Flush()
}

func warn(w io.Writer, n *flow.Notice) {
	if n == nil {
		return
	}
	fmt.Fprintf(w, "! %s\n", n.Word)
	for _, l := range n.Lines {
		fmt.Fprintf(w, "! %s\n", l)
	}
}

// Words are the words of a block as lines: lists with their bullets, tables with tabs between their cells.
func Words(r story.Reader, b story.Block) string {
	w := writer{}
	r.Walk(b, &w)
	return w.String()
}

// writer writes words as lines.
type writer struct {
	strings.Builder
	words.Flat
	begun bool
}

// line begins another line.
func (w *writer) line() {
	if w.begun {
		w.WriteString("\n")
	}
	w.begun = true
}

func (w *writer) Paragraph(p words.Paragraph) {
	w.line()
	w.WriteString(said(p, "\n"))
}

func (w *writer) Table(t words.Table) {
	for _, row := range t.Rows {
		w.line()
		for i, c := range row {
			if i > 0 {
				w.WriteString("\t")
			}
			for j, p := range c.Paragraphs() {
				if j > 0 {
					w.WriteString(" ")
				}
				w.WriteString(said(p, " "))
			}
		}
	}
}

// said is a paragraph with what stands between its lines.
func said(p words.Paragraph, between string) string {
	indent := strings.Repeat("  ", max(0, p.Depth-1))
	var out strings.Builder
	out.WriteString(indent)
	if p.Bullet != "" {
		out.WriteString(p.Bullet + " ")
	}
	if between == "\n" {
		between += indent
	}
	for _, s := range p.Spans {
		out.WriteString(strings.ReplaceAll(flow.Clean(s.Text), "\n", between))
	}
	return out.String()
}
