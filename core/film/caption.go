package film

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"raconte/core/text"
	"raconte/core/words"
)

// longestCaption is what can be read at once, in letters: two lines.
const longestCaption = 84

// captions are a text in parts that can be read at once, each there while it is spoken. Parts end where sentences do,
// else where a clause does, else between words.
func captions(said string, from, spoken, length int) []Caption {
	parts := divided(said)
	letters := 0
	for _, p := range parts {
		letters += len([]rune(p))
	}
	var all []Caption
	done := 0
	for i, p := range parts {
		c := Caption{From: down(from + spoken*done/letters), Text: p}
		done += len([]rune(p))
		c.To = down(from + spoken*done/letters)
		if i == 0 {
			c.From = down(from)
		} else {
			c.From = all[i-1].To
		}
		if i == len(parts)-1 {
			c.To = max(c.To, min(length, up(from+spoken)+Beat))
		}
		c.To = max(c.To, c.From+Beat)
		all = append(all, c)
	}
	return all
}

func down(ms int) int { return ms / Beat * Beat }

func divided(said string) []string {
	var parts []string
	for _, sentence := range words.Sentences(said) {
		pieces := text.Breaks(sentence)
		rest := utf8.RuneCountInString(sentence)
		part := ""
		end := func() {
			if part = strings.TrimSpace(part); part != "" {
				parts = append(parts, part)
			}
			part = ""
		}
		for _, piece := range pieces {
			if part != "" && utf8.RuneCountInString(strings.TrimSpace(part+piece)) > longestCaption {
				end()
			}
			part += piece
			rest -= utf8.RuneCountInString(piece)
			// A clause that fills most of a part ends it, unless little follows.
			clause := strings.HasSuffix(strings.TrimSpace(piece), ",") || strings.HasSuffix(piece, "，")
			if clause && utf8.RuneCountInString(part) > longestCaption*2/3 && rest > longestCaption/4 {
				end()
			}
		}
		end()
	}
	return parts
}

// VTT are the captions of a film as WebVTT (W3C), in lines of half a caption.
func (p Plan) VTT() string {
	var b strings.Builder
	b.WriteString("WEBVTT\n")
	n := 0
	for _, s := range p.Scenes {
		for _, c := range s.Captions {
			n++
			fmt.Fprintf(&b, "\n%d\n%s --> %s\n%s\n", n, stamp(s.Start+c.From), stamp(s.Start+c.To), escapeVTT(lines(c.Text)))
		}
	}
	return b.String()
}

// stamp is a time as WebVTT has it.
func stamp(ms int) string {
	return fmt.Sprintf("%02d:%02d:%02d.%03d", ms/3_600_000, ms/60_000%60, ms/1000%60, ms%1000)
}

func escapeVTT(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace(s)
}

// lines are a caption in two lines where it is long, about equally.
func lines(s string) string {
	if len([]rune(s)) <= longestCaption/2 {
		return s
	}
	pieces := text.Breaks(s)
	best, at := len(s), 0
	for i := 1; i < len(pieces); i++ {
		first := len(strings.Join(pieces[:i], ""))
		if off := max(first, len(s)-first); off < best {
			best, at = off, i
		}
	}
	return strings.TrimSpace(strings.Join(pieces[:at], "")) + "\n" + strings.Join(pieces[at:], "")
}

// Transcript is what is said, with the time of each scene.
func (p Plan) Transcript() string {
	var b strings.Builder
	for _, s := range p.Scenes {
		said := s.Said
		if said == "" {
			said = s.Words
		}
		fmt.Fprintf(&b, "%d:%02d  %s\n\n", s.Start/60_000, s.Start/1000%60, strings.TrimSpace(label(s)+said))
	}
	return b.String()
}

func label(s Scene) string {
	if s.Number == "" || s.Kind == Title {
		return ""
	}
	return s.Number + "  "
}

// Chapter is a place in a film that can be gone to.
type Chapter struct {
	Start, End int
	Name       string
}

// Chapters are the scenes with their names.
func (p Plan) Chapters() []Chapter {
	var all []Chapter
	for _, s := range p.Scenes {
		name := s.Heading
		if s.Kind == Step || s.Kind == Card {
			name = s.Words
		}
		if r := []rune(strings.Join(strings.Fields(name), " ")); len(r) > 80 {
			name = string(r[:79]) + "…"
		}
		all = append(all, Chapter{s.Start, s.Start + s.Length, strings.TrimSpace(label(s) + name)})
	}
	return all
}
