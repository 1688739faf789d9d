package text

import (
	"bytes"
	"fmt"

	"github.com/go-text/typesetting/font"
)

// trials are texts of every script that documents are written in, with what shapers find hard: marks on marks, letters
// that join, pairs that are kerned, numerals, signs.
var trials = []string{
	"Hamburgefonstiv AVATAR To Ty Wa fi ffl ft 0123456789 1/2 (x) [y] {z} “q” ‘r’ – — … €£¥$ @#&% é ê ë e\u0301\u0323 ő ł ß ĳ Ǆ",
	"Ελληνικά άέήίόύώ ΐΰ", "Кириллица йцукенгшщзхъ ёїґ", "Հայերեն", "ქართული", "עִבְרִית שָׁלוֹם", "العَرَبِيَّة لا لله ﷽ ١٢٣ پچژگ", "हिन्दी क्षत्रिय र्क",
	"বাংলা ক্ষ", "தமிழ் க்ஷ", "ไทย น้ำ ที่", "ລາວ", "ខ្មែរ ស្រ្តី", "မြန်မာ", "中文字体試驗", "日本語 ひらがな カタカナ", "한국어 각", "\u200d\u200c\u2060\ufeff", "👩\u200d👩\u200d👧 🇬🇧 1\ufe0f\u20e3",
}

// Trial sets texts of every script in a face, in both directions, and draws all of its letters. The error says what
// went wrong: a damaged face may make a shaper fail at the one text that nobody has tried.
func Trial(ttf []byte) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("setting words in it fails: %v", p)
		}
	}()
	parsed, err := font.ParseTTF(bytes.NewReader(ttf))
	if err != nil {
		return fmt.Errorf("reading the face: %w", err)
	}
	f := &face{font: parsed, runs: map[run]shaped{}}
	for _, t := range trials {
		for _, rtl := range []bool{false, true} {
			f.shape(t, rtl)
			for _, r := range t { // and each by itself, in case one leads around another
				f.shape(string(r), rtl)
			}
		}
	}
	for g := range font.GID(65_535) { // beyond the last it has none
		_ = parsed.GlyphData(g)
	}
	return nil
}
