package server

import (
	"errors"
	"fmt"
	"net/http"
	"strings"
	"unicode"
	"unicode/utf8"
)

// sentence makes an error's text a sentence for people.
func sentence(err error) string {
	text := err.Error()
	first, n := utf8.DecodeRuneInString(text)
	text = string(unicode.ToUpper(first)) + text[n:]
	if !strings.HasSuffix(text, ".") {
		text += "."
	}
	return text
}

// bodyError is the error of a body that was too large, nil for any other error.
func bodyError(err error) error {
	var e *http.MaxBytesError
	if errors.As(err, &e) {
		return e
	}
	return nil
}

func tooLarge(e *http.MaxBytesError) string {
	if e.Limit < 1<<20 {
		return fmt.Sprintf("What was sent is larger than %d KB.", e.Limit>>10)
	}
	return fmt.Sprintf("What was sent is larger than %d MB.", e.Limit>>20)
}
