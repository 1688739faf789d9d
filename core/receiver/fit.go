package receiver

import (
	"fmt"
	"slices"
	"unicode/utf8"
)

// Over is one limit that what is to be sent is beyond: what it is, how much there is, and how much is taken.
type Over struct {
	What string `json:"what"` // text, file, sum or files
	Has  int64  `json:"has"`
	Most int64  `json:"most"`
}

// Said tells of it to people.
func (o Over) Said() string {
	switch o.What {
	case "text":
		return fmt.Sprintf("The text has %d characters, %d more than are taken.", o.Has, o.Has-o.Most)
	case "files":
		return fmt.Sprintf("There are %d files; %d are taken.", o.Has, o.Most)
	case "file":
		return fmt.Sprintf("A file has %s; %s is taken.", bytes(o.Has), bytes(o.Most))
	}
	return fmt.Sprintf("The files have %s together; %s is taken.", bytes(o.Has), bytes(o.Most))
}

func bytes(n int64) string {
	if n >= 1_000_000 {
		return fmt.Sprintf("%.1f MB", float64(n)/1e6)
	}
	return fmt.Sprintf("%d KB", (n+999)/1000)
}

// Shares are how large each of some files may be, in bytes, so that none is larger than a receiver takes and all
// together are within its sum: those that are small keep their size, and the others share what is left alike. 0 is no
// limit.
func (t Takes) Shares(sizes []int64) []int64 {
	shares := make([]int64, len(sizes))
	for i := range shares {
		shares[i] = t.LargestFile
	}
	if t.LargestSum == 0 {
		return shares
	}
	want := make([]int64, len(sizes))
	order := make([]int, len(sizes))
	for i, n := range sizes {
		want[i], order[i] = n, i
		if t.LargestFile > 0 {
			want[i] = min(n, t.LargestFile)
		}
	}
	slices.SortFunc(order, func(a, b int) int { return int(want[a] - want[b]) })
	left := t.LargestSum
	for k, i := range order {
		shares[i] = min(want[i], left/int64(len(order)-k))
		left -= shares[i]
	}
	return shares
}

// Beyond are the limits that a text and files of some sizes are beyond.
func (t Takes) Beyond(text string, sizes []int64) []Over {
	over := []Over{}
	if n := utf8.RuneCountInString(text); t.LongestText > 0 && n > t.LongestText {
		over = append(over, Over{"text", int64(n), int64(t.LongestText)})
	}
	if t.MostFiles > 0 && len(sizes) > t.MostFiles {
		over = append(over, Over{"files", int64(len(sizes)), int64(t.MostFiles)})
	}
	var sum, largest int64
	for _, n := range sizes {
		sum, largest = sum+n, max(largest, n)
	}
	if t.LargestFile > 0 && largest > t.LargestFile {
		over = append(over, Over{"file", largest, t.LargestFile})
	}
	if t.LargestSum > 0 && sum > t.LargestSum {
		over = append(over, Over{"sum", sum, t.LargestSum})
	}
	return over
}
