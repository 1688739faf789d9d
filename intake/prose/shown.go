package prose

import (
	"context"
	"crypto/sha256"
	"fmt"
	"path"
	"regexp"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
)

// Picture is a picture of a text under the name that people know it by. Its file is read when it is asked for, so that
// not all lie in memory.
type Picture struct {
	Name string
	ctx  context.Context // of the reading
	crop string
	read func() ([]byte, error)
}

// Data is the picture's file, without what its author cropped away. The error may be a refusal.
func (p Picture) Data() ([]byte, error) {
	data, err := p.read()
	if err != nil {
		return nil, err
	}
	return cropped(p.ctx, data, p.crop)
}

// shown is a picture as a text shows it.
type shown struct {
	name string // that it has in the text
	crop string // what its author cropped away; "" for nothing
	alt  string // what stands for it where it can't be seen
}

// label is what a picture is called where its name is no file's.
func (s shown) label() string {
	if strings.HasPrefix(s.name, "data:") {
		return "picture"
	}
	return cut(path.Base(s.name), 200)
}

// show gives the last block pictures.
func (m *maker) show(text string, pictures func(string) ([]byte, error), shows []shown) {
	b, there := m.last()
	if !there {
		return
	}
	for _, s := range shows {
		if len(b.Figures) >= document.MostFigures {
			m.leave(fmt.Sprintf("Pictures beyond the %dth of one step.", document.MostFigures))
			return
		}
		key := text + "\x00" + s.name + "\x00" + s.crop
		at, known := m.index[key]
		if !known {
			data, err := pictures(s.name)
			if err == nil {
				err = checkCrop(s.crop)
			}
			if err != nil {
				m.leave("The picture " + cut(s.name, 120) + " is not there, or can't be read.")
				continue
			}
			sum := fmt.Sprintf("%x", sha256.Sum256(data)) + s.crop
			if at, known = m.index[sum]; !known {
				at = len(m.made.Pictures)
				m.made.Pictures = append(m.made.Pictures, Picture{s.label(), m.ctx, s.crop, func() ([]byte, error) { return pictures(s.name) }})
			}
			m.index[key], m.index[sum] = at, at
		}
		f := figure.Figure{ID: m.newID(), Shot: fmt.Sprint(at), Marks: []figure.Mark{}}
		if alt := described(s.alt); alt != b.Label() { // which stands for it anyway
			f.Alt = alt
		}
		b.Figures = append(b.Figures, f)
	}
}

// numberedAs is what a caption begins with that only counts: "Figure 3:".
var numberedAs = regexp.MustCompile(`^\p{L}+\.?[\s\x{a0}]*\d+(?:[.-]\d+)*[\s\x{a0}]*[:.–—-]*[\s\x{a0}]*`)

// fileName is an alternative text that is none: what a program puts there by itself.
var fileName = regexp.MustCompile(`(?i)^\S+\.(?:png|jpe?g|gif|bmp|webp|tiff?|emf|wmf)$`)

// described is a description as figures have it.
func described(alt string) string {
	alt = strings.Join(strings.Fields(alt), " ")
	if fileName.MatchString(alt) {
		return ""
	}
	return cut(alt, figure.LongestText)
}

// describe makes a caption the description of the picture before it, or of the one after it; false where there is none,
// or it has one: then it is words.
func (m *maker) describe(pieces []piece, i int) bool {
	said := described(numberedAs.ReplaceAllString(plain(pieces[i].inline), ""))
	if i > 0 && len(pieces[i-1].shows) > 0 {
		b, there := m.last()
		if !there || len(b.Figures) == 0 {
			return said == ""
		}
		f := &b.Figures[len(b.Figures)-1]
		if f.Alt == "" {
			f.Alt = said
		}
		return said == "" || f.Alt == said
	}
	if i+1 < len(pieces) && len(pieces[i+1].shows) > 0 {
		s := &pieces[i+1].shows[0]
		if described(s.alt) == "" {
			s.alt = said
		}
		return said == "" || s.alt == said
	}
	return false
}
