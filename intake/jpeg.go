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

const adobeLength = 12 // of the segment of Adobe's, beyond which anything may follow

// scans is how many passes over the picture JPEG data takes to decode.
func scans(data []byte) int {
	n := 0
	for i := 2; i+4 <= len(data) && data[i] == 0xff; {
		marker := data[i+1]
		if marker == 0xff {
			i++
			continue
		}
		if marker == endOfImage {
			break
		}
		i += 2 + (int(data[i+2])<<8 | int(data[i+3]))
		if marker == startOfScan {
			n++
			i = scanEnd(data, i)
		}
	}
	return n
}

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
		switch {
		case marker == app14 && i+4+adobeLength <= end && string(data[i+4:i+9]) == "Adobe":
			// Its twelve bytes and no more; the version and flags say nothing that decoders need.
			out = append(out, 0xff, app14, 0, 2+adobeLength, 'A', 'd', 'o', 'b', 'e', 0, 100, 0, 0, 0, 0, data[i+15])
		case (marker < app0 || marker > app15) && marker != comment:
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
