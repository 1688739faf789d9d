package document

import "strings"

// Order keys place blocks: a block lies between two others when its key sorts, byte by byte, between
// theirs, so that moving one changes that one alone. A key is a fixed number of base-62
// digits, spaced widely when appended, followed by as many digits as later insertions needed.

const (
	digits   = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz"
	whole    = 6            // digits of an appended key
	spacing  = 62 * 62 * 62 // between appended keys
	stride   = 62           // after the block before, where there is room: typing step after step stays cheap
	longest  = 40           // digits before everything is numbered anew
	capacity = 62 * 62 * 62 * 62 * 62 * 62
)

// Arrangement is where new blocks go.
type Arrangement struct {
	Keys []string `json:"keys"`           // of the new blocks
	Anew []string `json:"anew,omitempty"` // new keys for all present blocks, where there was no room
}

// Arrange gives keys to n blocks that go in before the one now at position at; keys are those of
// the present blocks, in order.
func Arrange(keys []string, at, n int) Arrangement {
	before, after := "", ""
	if at > 0 {
		before = keys[at-1]
	}
	if at < len(keys) {
		after = keys[at]
	}
	var out Arrangement
	for range n {
		key, ok := between(before, after)
		if !ok || len(key) > longest {
			return renumbered(len(keys), at, n)
		}
		out.Keys = append(out.Keys, key)
		before = key
	}
	return out
}

// renumbered spaces all blocks, the new ones among them, evenly.
func renumbered(have, at, n int) Arrangement {
	var out Arrangement
	for i := range have + n {
		key := encode((i + 1) * spacing)
		if i >= at && i < at+n {
			out.Keys = append(out.Keys, key)
		} else {
			out.Anew = append(out.Anew, key)
		}
	}
	return out
}

// between is a key after a and before b; "" is the start or the end.
func between(a, b string) (string, bool) {
	if b != "" && a >= b {
		return "", false // two blocks share a key: only numbering anew separates them
	}
	x, y := decode(a), capacity
	if b != "" {
		y = decode(b)
	}
	if b == "" {
		if x+spacing < capacity {
			return encode(x + spacing), true
		}
		return "", false
	}
	if gap := y - x; gap > 1 {
		return encode(x + max(1, min(stride, gap/2))), true
	}
	return midpoint(a, b), true
}

func decode(key string) int {
	v := 0
	for i := range whole {
		d := 0
		if i < len(key) {
			d = max(0, strings.IndexByte(digits, key[i]))
		}
		v = v*62 + d
	}
	return v
}

func encode(v int) string {
	var key [whole]byte
	for i := whole - 1; i >= 0; i-- {
		key[i] = digits[v%62]
		v /= 62
	}
	return string(key[:])
}

// midpoint is a key between a and b, a < b, by comparing digit after digit; a's digits after its
// end count as the lowest. It never ends in the lowest digit, so that there is always room before it.
func midpoint(a, b string) string {
	var key []byte
	for i := 0; ; i++ {
		lo, hi := 0, 62
		if i < len(a) {
			lo = strings.IndexByte(digits, a[i])
		}
		if i < len(b) {
			hi = strings.IndexByte(digits, b[i])
		}
		if hi-lo > 1 {
			return string(append(key, digits[(lo+hi)/2]))
		}
		key = append(key, digits[lo])
		if hi > lo {
			b = "" // from here on anything sorts before b
		}
	}
}

// ValidOrder tells whether a key from outside can place a block.
func ValidOrder(key string) bool {
	if len(key) < whole || len(key) > 191 {
		return false
	}
	for i := range len(key) {
		if strings.IndexByte(digits, key[i]) < 0 {
			return false
		}
	}
	return true
}
