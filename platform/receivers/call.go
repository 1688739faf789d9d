package receivers

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"time"
)

// client follows nobody anywhere: what answers is what was asked.
var client = &http.Client{
	Timeout:       longestCall,
	CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	Transport: &http.Transport{
		Proxy: http.ProxyFromEnvironment, MaxIdleConnsPerHost: 2, IdleConnTimeout: time.Minute, ResponseHeaderTimeout: longestCall, MaxResponseHeaderBytes: 64 << 10,
	},
}

// call makes a request; prepare adds to it. Any answer but a good one is an error that says what it means.
func call(ctx context.Context, method, address string, body io.Reader, prepare func(*http.Request)) ([]byte, error) {
	req, err := http.NewRequestWithContext(ctx, method, address, body)
	if err != nil {
		return nil, Refused{Why: "Its address is none. Tell your administrator."}
	}
	prepare(req)
	res, err := client.Do(req)
	if err != nil {
		if ctx.Err() != nil {
			return nil, fmt.Errorf("asking a receiver: %w", ctx.Err())
		}
		why := "It can’t be reached."
		var failed *url.Error
		if errors.As(err, &failed) && failed.Timeout() {
			why = "It does not answer."
		}
		if failed != nil {
			err = failed.Err // without the address, which may let someone in
		}
		return nil, errors.Join(Busy{Why: why}, err)
	}
	defer res.Body.Close()
	answer, err := read(res.Body)
	if err != nil {
		return nil, errors.Join(Busy{Why: "Its answer broke off."}, err)
	}
	return answer, meaning(res)
}

// meaning is what a status says (RFC 9110, 15; 429 of RFC 6585).
func meaning(res *http.Response) error {
	switch s := res.StatusCode; {
	case s >= 200 && s < 300:
		return nil
	case s == http.StatusRequestEntityTooLarge:
		return ErrTooLarge
	case s == http.StatusTooManyRequests || s == http.StatusServiceUnavailable:
		return Busy{Why: "It asks to wait.", After: wait(res.Header.Get("Retry-After"))}
	case s >= 500 || s == http.StatusRequestTimeout || s == http.StatusTooEarly:
		return Busy{Why: fmt.Sprintf("It fails at the moment (%d).", s)}
	case s == http.StatusUnauthorized || s == http.StatusForbidden:
		return Refused{fmt.Sprintf("It does not let Raconte in (%d). Your administrator can look at its sign-in.", s), s}
	case s == http.StatusNotFound || s == http.StatusGone:
		return Refused{fmt.Sprintf("There is nothing at its address (%d). Tell your administrator.", s), s}
	case s >= 300 && s < 400:
		return Refused{fmt.Sprintf("It points elsewhere (%d), where Raconte does not follow. Tell your administrator.", s), s}
	default:
		return Refused{fmt.Sprintf("It refuses it (%d).", s), s}
	}
}

const longestPause = 6 * time.Hour

// wait is how long a receiver asks to wait: seconds, or until a time.
func wait(said string) time.Duration {
	var d time.Duration
	if n, err := strconv.Atoi(said); err == nil {
		d = time.Duration(n) * time.Second
	} else if t, err := http.ParseTime(said); err == nil {
		d = time.Until(t)
	}
	return min(max(d, 0), longestPause)
}
