package intake

import "raconte/core/refusal"

// deepestJSON is how deep values may lie in each other: words have lists in lists, eight deep.
const deepestJSON = 64

// CheckJSON counts the values of a JSON text without building any, and refuses one that holds more than most of them,
// or lies too deep: a few megabytes of "{}," would else become gigabytes. Whether it is JSON at all is left to its
// reader.
func CheckJSON(raw []byte, most int) error {
	values, depth, quoted := 0, 0, false
	for i := 0; i < len(raw); i++ {
		c := raw[i]
		if quoted {
			switch c {
			case '\\':
				i++
			case '"':
				quoted = false
			}
			continue
		}
		switch c {
		case '"':
			quoted = true
		case '{', '[':
			values++
			if depth++; depth > deepestJSON {
				return refusal.New("What was sent is nested deeper than %d.", deepestJSON)
			}
		case '}', ']':
			depth--
		case ',':
			values++
		}
		if values > most {
			return refusal.New("What was sent holds more than %d values.", most)
		}
	}
	return nil
}
