// Package secrets suggests what in a picture should perhaps be concealed: from the words found in it, from
// what its capture knows, and from a list of the team's own words. It can miss, and says nothing for sure.
package secrets

import (
	"math"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/reshoot"
	"raconte/core/scene"
	"raconte/core/sight"
)

// Suggestion is one place to conceal, in pixels of the shot.
type Suggestion struct {
	Rect scene.Rect `json:"rect"`
	Why  string     `json:"why"` // in words for people
}

// The reasons of suggestions.
const (
	EMail    = "E-mail address"
	Phone    = "Telephone number"
	Card     = "Card number"
	IBAN     = "Bank account (IBAN)"
	Token    = "Token or key"
	Password = "Password field"
	Own      = "On your list: "
	Named    = "Beside the word: "
	Face     = "A face"
)

// aroundFace is how much around a face is concealed with it, as a share of its height: hair and chin tell, too.
const aroundFace = 0.15

// Find suggests what to conceal, from the top of the picture to its foot: in its words, of what its capture knows, of a
// team's own words, and the faces that were found in it, with what is around them.
func Find(words []sight.Word, elements []capture.Element, own []string, faces ...scene.Rect) []Suggestion {
	var found []Suggestion
	for _, f := range faces {
		found = append(found, Suggestion{f.Grow(aroundFace * f.H), Face})
	}
	for _, e := range elements {
		if e.Secret || e.Role == "password" {
			found = append(found, Suggestion{e.Rect, Password})
		}
	}
	rows := lines(words)
	for _, line := range rows {
		found = append(found, line.suggestions(own)...)
	}
	for _, s := range beside(rows) {
		if !slices.ContainsFunc(found, func(o Suggestion) bool { return Covered(s.Rect, []scene.Rect{o.Rect}) }) {
			found = append(found, s)
		}
	}
	slices.SortStableFunc(found, func(a, b Suggestion) int { return int(math.Round(a.Rect.Y - b.Rect.Y)) })
	return found
}

// Left are the suggestions of which something still shows: those that the figure's concealments and patches do not
// cover whole. Both are in pixels of the shot, so that it does not matter how the figure is turned, cropped or folded.
func Left(found []Suggestion, f figure.Shown) []Suggestion {
	var covers []scene.Rect
	for _, m := range f.Covers() {
		covers = append(covers, scene.Between(m.Points[0], m.Points[1]))
	}
	left := []Suggestion{}
	for _, s := range found {
		if !Covered(s.Rect, covers) {
			left = append(left, s)
		}
	}
	return left
}

// Alike is the figure with those concealments of another figure added whose targets were found in its shot and of
// which something still shows. NewID makes ids.
func Alike(f figure.Figure, concealed []figure.Mark, found []reshoot.Found, newID func() string) figure.Figure {
	f = f.Clone()
	for _, t := range found {
		i := slices.IndexFunc(concealed, func(m figure.Mark) bool { return m.ID == t.Mark })
		if t.Sure == reshoot.Lost || i < 0 || len(t.Points) != 2 || len(f.Marks) >= figure.MostMarks {
			continue
		}
		if len(Left([]Suggestion{{Rect: scene.Between(t.Points[0], t.Points[1])}}, f.Still(1))) == 0 {
			continue
		}
		m := concealed[i]
		m.ID, m.Points, m.Lost, m.Unsure = newID(), t.Points, false, false
		f.Marks = append(f.Marks, m)
	}
	return f
}

// Covered tells whether covers together hide all of r, but for less than a pixel at its edges.
func Covered(r scene.Rect, covers []scene.Rect) bool {
	inner := r.Grow(-math.Min(1, math.Min(r.W, r.H)/4))
	for _, rest := range scene.Outside(inner, covers) {
		if rest.W > 0.5 && rest.H > 0.5 {
			return false
		}
	}
	return true
}

// line is a row of words with the places at which each begins in their text.
type line struct {
	text   string
	words  []sight.Word
	starts []int
}

// lines puts words that stand on one level and near each other in rows.
func lines(words []sight.Word) []line {
	rows := sight.Rows(words)
	all := make([]line, 0, len(rows))
	for _, row := range rows {
		l := line{words: row}
		var b strings.Builder
		for i, w := range row {
			if i > 0 {
				b.WriteByte(' ')
			}
			l.starts = append(l.starts, b.Len())
			b.WriteString(w.Text)
		}
		l.text = b.String()
		all = append(all, l)
	}
	return all
}

var (
	email  = regexp.MustCompile(`(?i)[a-z0-9._%+-]+ ?@ ?[a-z0-9.-]+\.[a-z]{2,}`)
	digits = regexp.MustCompile(`\+?\(?\d[\d ()./-]{5,}\d`)
	iban   = regexp.MustCompile(`\b[A-Z]{2}\d{2}(?: ?[A-Z0-9]{2,4}){3,8}\b`)
	token  = regexp.MustCompile(`[A-Za-z0-9_\-+/=.]{20,}`)
	moment = regexp.MustCompile(`^\d{1,4}[./-]\d{1,2}[./-]\d{1,4}( \d{1,2}[.:]\d{2})?$`)
)

func (l line) suggestions(own []string) []Suggestion {
	var out []Suggestion
	taken := make([]bool, len(l.text))
	add := func(from, to int, why string) {
		for i := from; i < to; i++ {
			if taken[i] {
				return
			}
		}
		for i := from; i < to; i++ {
			taken[i] = true
		}
		out = append(out, Suggestion{l.rect(from, to), why})
	}
	each := func(pattern *regexp.Regexp, why string, is func(string) bool) {
		for _, m := range pattern.FindAllStringIndex(l.text, -1) {
			if is(l.text[m[0]:m[1]]) {
				add(m[0], m[1], why)
			}
		}
	}
	folded := strings.ToLower(l.text)
	for _, word := range own {
		word = strings.ToLower(strings.TrimSpace(word))
		for from := 0; word != "" && len(folded) == len(l.text); {
			i := strings.Index(folded[from:], word)
			if i < 0 {
				break
			}
			add(from+i, from+i+len(word), Own+word)
			from += i + len(word)
		}
	}
	each(email, EMail, func(string) bool { return true })
	each(iban, IBAN, isIBAN)
	each(digits, Card, isCard)
	each(digits, Phone, isPhone)
	each(token, Token, isToken)
	return out
}

// rect is around the words that the characters from and to fall on, a word that is touched in part being
// covered in part.
func (l line) rect(from, to int) scene.Rect {
	var r scene.Rect
	for i, w := range l.words {
		start, end := l.starts[i], l.starts[i]+len(w.Text)
		if end <= from || start >= to {
			continue
		}
		part := w.Rect
		// Letters are not all of one width: a little more than the share.
		share := func(at int) float64 { return float64(at-start) / float64(end-start) * w.Rect.W }
		slack := w.Rect.H * 0.3
		if from > start {
			cut := math.Max(0, share(from)-slack)
			part.X, part.W = part.X+cut, part.W-cut
		}
		if to < end {
			part.W = math.Min(part.W, w.Rect.X+share(to)+slack-part.X)
		}
		r = r.Union(part)
	}
	return r.Grow(math.Max(2, r.H*0.15))
}

// only are the digits of s.
func only(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsDigit(r) {
			return r
		}
		return -1
	}, s)
}

// isCard checks the digit that ISO/IEC 7812-1 computes by the algorithm of Luhn.
func isCard(s string) bool {
	d := only(s)
	if len(d) < 13 || len(d) > 19 || strings.ContainsAny(s, "+()/") {
		return false
	}
	sum := 0
	for i := range len(d) {
		v := int(d[len(d)-1-i] - '0')
		if i%2 == 1 {
			if v *= 2; v > 9 {
				v -= 9
			}
		}
		sum += v
	}
	return sum%10 == 0
}

// isIBAN checks the digits that ISO 13616 computes modulo 97.
func isIBAN(s string) bool {
	s = strings.ReplaceAll(s, " ", "")
	if len(s) < 15 || len(s) > 34 {
		return false
	}
	rest := 0
	for _, r := range s[4:] + s[:4] {
		if r >= 'A' && r <= 'Z' {
			v := int(r-'A') + 10
			rest = (rest*10 + v/10) % 97
			rest = (rest*10 + v%10) % 97
		} else {
			rest = (rest*10 + int(r-'0')) % 97
		}
	}
	return rest == 1
}

// isPhone takes what E.164 allows, written as people write telephone numbers: with the sign or the zero that
// they begin with, and no date.
func isPhone(s string) bool {
	d := only(s)
	if len(d) < 7 || len(d) > 15 || moment.MatchString(s) {
		return false
	}
	return strings.HasPrefix(s, "+") || strings.HasPrefix(strings.TrimLeft(s, "("), "0")
}

// isToken takes long strings without spaces that are no words: letters and digits well mixed.
func isToken(s string) bool {
	if strings.HasPrefix(s, "http") || strings.Count(s, ".") > 3 {
		return false
	}
	changes, numbers := 0, 0
	before := 0
	for _, r := range s {
		class := 1
		switch {
		case unicode.IsDigit(r):
			class = 2
			numbers++
		case unicode.IsUpper(r):
			class = 3
		case !unicode.IsLetter(r):
			class = 4
		}
		if before != 0 && class != before {
			changes++
		}
		before = class
	}
	return numbers >= 3 && changes >= len(s)/4
}
