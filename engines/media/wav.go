package media

import (
	"encoding/binary"
	"errors"
	"fmt"
	"os"
)

// samples are those of a WAV file (RIFF, PCM, 16 bits, one channel).
func samples(data []byte) ([]int16, error) {
	bad := errors.New("this is no WAV file of one channel with 16 bits")
	if len(data) < 12 || string(data[:4]) != "RIFF" || string(data[8:12]) != "WAVE" {
		return nil, bad
	}
	for at := 12; at+8 <= len(data); {
		size := int(binary.LittleEndian.Uint32(data[at+4:]))
		body := data[at+8:]
		if size > len(body) {
			size = len(body) // what writes to a pipe does not know it beforehand
		}
		body = body[:size]
		switch string(data[at : at+4]) {
		case "fmt ":
			if size < 16 || binary.LittleEndian.Uint16(body[2:]) != 1 || binary.LittleEndian.Uint16(body[14:]) != 16 {
				return nil, bad
			}
		case "data":
			out := make([]int16, size/2)
			for i := range out {
				out[i] = int16(binary.LittleEndian.Uint16(body[2*i:]))
			}
			return out, nil
		}
		at += 8 + size + size&1
	}
	return nil, bad
}

// WriteWAV writes samples of one channel, soundRate a second.
func WriteWAV(path string, pcm []int16) error {
	out := make([]byte, 44, 44+2*len(pcm))
	copy(out, "RIFF")
	binary.LittleEndian.PutUint32(out[4:], uint32(36+2*len(pcm)))
	copy(out[8:], "WAVEfmt ")
	binary.LittleEndian.PutUint32(out[16:], 16)
	binary.LittleEndian.PutUint16(out[20:], 1)
	binary.LittleEndian.PutUint16(out[22:], 1)
	binary.LittleEndian.PutUint32(out[24:], soundRate)
	binary.LittleEndian.PutUint32(out[28:], soundRate*2)
	binary.LittleEndian.PutUint16(out[32:], 2)
	binary.LittleEndian.PutUint16(out[34:], 16)
	copy(out[36:], "data")
	binary.LittleEndian.PutUint32(out[40:], uint32(2*len(pcm)))
	for _, s := range pcm {
		out = binary.LittleEndian.AppendUint16(out, uint16(s))
	}
	if err := os.WriteFile(path, out, 0o600); err != nil {
		return fmt.Errorf("writing sound: %w", err)
	}
	return nil
}

// Pause are samples of silence, for so many milliseconds.
func Pause(ms int) []int16 { return make([]int16, ms*soundRate/1000) }

// Samples are those of a WAV file of one channel with 16 bits, soundRate a second.
func Samples(data []byte) ([]int16, error) { return samples(data) }

// Ms is how long so many samples are, in milliseconds; At is how many samples a time has.
func Ms(n int) int { return n * 1000 / soundRate }

// At is how many samples come before a time in milliseconds.
func At(ms int) int { return ms * soundRate / 1000 }
