package prose

import (
	"regexp"
	"strings"
	"unicode/utf8"

	"raconte/core/document"
	"raconte/core/style"
	"raconte/core/words"
)

// signals are the signal words of all languages that documents are printed in, in capitals.
var signals = func() map[string]document.Signal {
	all := map[string]document.Signal{"ACHTUNG": document.Caution}
	for _, l := range style.Languages {
		for _, s := range []document.Signal{document.Damage, document.Caution, document.Warning, document.Danger} {
			all[strings.ToUpper(style.Style{Language: l.Tag}.Said(string(s)))] = s
		}
	}
	return all
}()

const longestLine = 300 // characters of a notice's line

var signalling = regexp.MustCompile(`^(\p{L}+)[\s\x{a0}]*[:!–—]+[\s\x{a0}]*(.*)$`)

// signal is the signal word that a text is; "" where it is none. "Notice", and its like, is one in capitals only: else
// it tells something, and warns of nothing.
func signal(word string) document.Signal {
	s := signals[strings.ToUpper(word)]
	if s == document.Damage && word != strings.ToUpper(word) {
		return ""
	}
	return s
}

// notice is a notice of what a text says, in as many lines as it takes; nil where it is too long.
func notice(s document.Signal, lines []string) *document.Notice {
	var out []string
	for _, l := range lines {
		if l = strings.Join(strings.Fields(l), " "); l == "" {
			continue
		}
		for utf8.RuneCountInString(l) > longestLine {
			at := strings.LastIndexAny(cut(l, longestLine), ".!?。")
			if at < 0 {
				return nil
			}
			_, size := utf8.DecodeRuneInString(l[at:])
			out, l = append(out, l[:at+size]), strings.TrimSpace(l[at+size:])
		}
		out = append(out, l)
	}
	if len(out) == 0 || len(out) > 3 {
		return nil
	}
	out = append(out, "", "")
	return &document.Notice{Signal: s, Hazard: out[0], Consequence: out[1], Avoid: out[2]}
}

// signalled is the notice that pieces begin with, and how many of them it takes: a paragraph that begins with a signal
// word, or is one and the next says what it warns of.
func signalled(pieces []piece) (*document.Notice, int) {
	if pieces[0].blocks != nil {
		return nil, 0
	}
	said := plain(pieces[0].inline)
	if m := signalling.FindStringSubmatch(said); m != nil && m[2] != "" {
		if s := signal(m[1]); s != "" {
			return notice(s, []string{m[2]}), 1
		}
	}
	said = strings.TrimRight(said, ":! ")
	if s := signal(said); s != "" && said == strings.ToUpper(said) && len(pieces) > 1 && len(pieces[1].inline) > 0 && pieces[1].heading == 0 && len(pieces[0].shows) == 0 {
		return notice(s, []string{plain(pieces[1].inline)}), 2
	}
	return nil, 0
}

// warned is the notice that a step's words have in them, and the rest of the words.
func warned(blocks []words.Node) (*document.Notice, []words.Node) {
	for i, b := range blocks {
		if b.Type != "paragraph" {
			continue
		}
		if n, _ := signalled([]piece{{inline: b.Content}}); n != nil {
			return n, append(append([]words.Node{}, blocks[:i]...), blocks[i+1:]...)
		}
	}
	return nil, blocks
}

// boxed is the notice that a table is: its first cell a signal word, the others what it warns of.
func boxed(rows []row) *document.Notice {
	var word document.Signal
	var lines []string
	cells := 0
	for _, r := range rows {
		for _, c := range r {
			cells++
			for _, p := range (words.Node{Type: "doc", Content: c.blocks}).Paragraphs() {
				var said strings.Builder
				for _, s := range p.Spans {
					said.WriteString(s.Text)
				}
				line := strings.TrimSpace(said.String())
				switch {
				case line == "":
				case word == "":
					if word = signal(strings.TrimRight(line, ":! ")); word == "" {
						n, _ := signalled([]piece{{inline: []words.Node{{Type: "text", Text: line}}}})
						if n == nil {
							return nil
						}
						word, lines = n.Signal, append(lines, n.Lines()...)
					}
				default:
					lines = append(lines, line)
				}
			}
		}
	}
	if word == "" || cells > 4 {
		return nil
	}
	return notice(word, lines)
}

// warn keeps a notice for the step that follows; before all steps and sections it is the document's, as where a file of
// Raconte's own says that it is of the whole.
func (m *maker) warn(n *document.Notice, whole bool) {
	d := &m.made.Document
	begun := false
	for _, b := range d.Blocks {
		begun = begun || b.Type != document.Passage
	}
	if !begun && d.Facts.Notice == nil && (whole || !m.own) {
		d.Facts.Notice = n
		return
	}
	m.unwarned()
	m.warns = n
}

// unwarned makes words of a notice that no step follows: nothing that warns is lost.
func (m *maker) unwarned() {
	n := m.warns
	m.warns = nil
	if n == nil {
		return
	}
	said := n.Signal.Word() + ": " + strings.Join(n.Lines(), " ")
	if b, there := m.last(); !there || b.Type == document.Section || !m.join(b, words.Plain(said)) {
		m.add(document.NewPassage(m.newID(), words.Plain(said)))
	}
}
