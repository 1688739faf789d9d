package film

import (
	"fmt"
	"strings"
)

// longestCaption is what can be read at once, in letters: two lines.
const longestCaption = 84

// captions are a text in parts that can be read at once, each there while it is spoken. Parts end where sentences do, else
// where a clause does, else between words.
func captions(text string, from, spoken, length int) []Caption {
	parts := divided(text)
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

func divided(text string) []string {
	var parts []string
	for _, sentence := range sentences(text) {
		words := strings.Fields(sentence)
		part := ""
		for i, w := range words {
			longer := strings.TrimSpace(part + " " + w)
			if part != "" && len([]rune(longer)) > longestCaption {
				parts, longer = append(parts, part), w
			}
			part = longer
			// A clause that fills most of a part ends it, unless little follows.
			rest := len([]rune(strings.Join(words[i+1:], " ")))
			if strings.HasSuffix(w, ",") && len([]rune(part)) > longestCaption*2/3 && rest > longestCaption/4 {
				parts, part = append(parts, part), ""
			}
		}
		if part != "" {
			parts = append(parts, part)
		}
	}
	return parts
}

func sentences(text string) []string {
	var all []string
	begin := 0
	runes := []rune(strings.Join(strings.Fields(text), " "))
	for i, r := range runes {
		if strings.ContainsRune(".!?:。！？", r) && (i+1 == len(runes) || runes[i+1] == ' ') {
			all = append(all, strings.TrimSpace(string(runes[begin:i+1])))
			begin = i + 1
		}
	}
	if rest := strings.TrimSpace(string(runes[begin:])); rest != "" {
		all = append(all, rest)
	}
	return all
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
	words := strings.Fields(s)
	best, at := len(s), 0
	for i := 1; i < len(words); i++ {
		first := len(strings.Join(words[:i], " "))
		if off := max(first, len(s)-first); off < best {
			best, at = off, i
		}
	}
	return strings.Join(words[:at], " ") + "\n" + strings.Join(words[at:], " ")
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
