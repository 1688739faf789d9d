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
		said := Words(b.Source)
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
func Words(b story.Block) string {
	var out strings.Builder
	var last *words.Cell
	for i, p := range b.Words.Paragraphs() {
		switch same := p.Cell != nil && last != nil && last.Table == p.Cell.Table && last.Row == p.Cell.Row; {
		case same && last.Column == p.Cell.Column:
			out.WriteString(" ")
		case same:
			out.WriteString("\t")
		case i > 0:
			out.WriteString("\n")
		}
		last = p.Cell
		indent := strings.Repeat("  ", max(0, p.Depth-1))
		out.WriteString(indent)
		if p.Bullet != "" {
			out.WriteString(p.Bullet + " ")
		}
		for _, s := range p.Spans {
			said := flow.Clean(s.Text)
			if s.Marker != "" {
				said = flow.Marker(b, s.Marker)
			}
			if p.Cell != nil {
				said = strings.ReplaceAll(said, "\n", " ")
			}
			out.WriteString(strings.ReplaceAll(said, "\n", "\n"+indent))
		}
	}
	return out.String()
}
