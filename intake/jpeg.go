package intake

// Markers of ITU-T T.81, the JPEG standard.
const (
	endOfImage  = 0xd9
	startOfScan = 0xda
	app0        = 0xe0
	app14       = 0xee // Adobe's, names the colour transform: the pixels depend on it
	app15       = 0xef
	comment     = 0xfe
)

// bareJPEG is JPEG data without its application segments, comments and whatever follows its end,
// all of which hold metadata; false where the data is not laid out as the standard says, as when a
// lenient decoder skipped something.
func bareJPEG(data []byte) ([]byte, bool) {
	out := append(make([]byte, 0, len(data)), data[:2]...)
	i := 2
	for i+4 <= len(data) && data[i] == 0xff {
		marker := data[i+1]
		switch {
		case marker == 0xff: // a fill byte
			i++
			continue
		case marker == endOfImage:
			return append(out, data[i:i+2]...), true
		}
		end := min(i+2+(int(data[i+2])<<8|int(data[i+3])), len(data))
		if keep := marker == app14 || ((marker < app0 || marker > app15) && marker != comment); keep {
			out = append(out, data[i:end]...)
		}
		i = end
		if marker == startOfScan {
			end = scanEnd(data, i)
			out = append(out, data[i:end]...)
			i = end
		}
	}
	if i+2 == len(data) && data[i] == 0xff && data[i+1] == endOfImage {
		return append(out, data[i:]...), true
	}
	return nil, false
}

// scanEnd is where the entropy-coded data that starts at i ends: at the next marker that is neither
// a stuffed zero nor a restart.
func scanEnd(data []byte, i int) int {
	for ; i+1 < len(data); i++ {
		if data[i] == 0xff && data[i+1] != 0 && (data[i+1] < 0xd0 || data[i+1] > 0xd7) && data[i+1] != 0xff {
			return i
		}
	}
	return len(data)
}
