package words

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// short are words that end in a full stop and no sentence, in the languages that documents are printed in.
var short = map[string]bool{}

func init() {
	for _, w := range strings.Fields(`abb abs allg approx art bspw bzw ca cf co dr ed eg engl etc evtl ex exp fig figs ggf hr inc inkl jr kap ltd max min
		mme mr mrs ms nr no nos nos num núm op pág p. pp prof resp s. sec sig sr sra st std str tab tel u. ud uds usw vgl vol vs z. zb`) {
		short[strings.TrimSuffix(w, ".")] = true
	}
}

// Sentences divides a text, each with what ends it: . ! ? : … and their like in Chinese and Japanese, where no space
// follows. A full stop behind one letter, an abbreviation or before a small letter or a digit ends none (after UAX #29,
// rules SB6 to SB8).
func Sentences(text string) []string {
	var all []string
	runes := []rune(strings.Join(strings.Fields(text), " "))
	begin := 0
	for i, r := range runes {
		if !ends(runes, i, r) {
			continue
		}
		if s := strings.TrimSpace(string(runes[begin : i+1])); s != "" {
			all = append(all, s)
		}
		begin = i + 1
	}
	if rest := strings.TrimSpace(string(runes[begin:])); rest != "" {
		all = append(all, rest)
	}
	return all
}

func ends(runes []rune, i int, r rune) bool {
	last := i+1 == len(runes)
	switch {
	case strings.ContainsRune("。！？", r):
		return last || !strings.ContainsRune("。！？」』”）)", runes[i+1])
	case !strings.ContainsRune(".!?:…", r):
		return false
	case last:
		return true
	case runes[i+1] != ' ' || i+2 == len(runes):
		return false
	case r != '.':
		return true
	}
	next := runes[i+2]
	from := i
	for from > 0 && unicode.IsLetter(runes[from-1]) {
		from--
	}
	word := strings.ToLower(string(runes[from:i]))
	return !unicode.IsLower(next) && !unicode.IsDigit(next) && utf8.RuneCountInString(word) != 1 && !short[word]
}
