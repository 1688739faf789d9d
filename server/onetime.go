package server

import (
	"crypto/rand"
	"encoding/base32"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/store"

	"github.com/gin-gonic/gin"
	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"
	"github.com/pquerna/otp/totp"
)

// One-time codes are those of RFC 6238: six digits, new every 30 seconds, by HMAC-SHA-1, which all authenticators know.
// The code before and the one after the present one are taken too, for clocks that differ.
const (
	codePeriod   = 30 // seconds
	codeSlack    = 1  // codes
	recoveryHave = 10 // codes for when the authenticator is lost
)

// stepOf is the step of RFC 6238 to which a code belongs; false where it is of none of the present ones.
func stepOf(secret, code string, now time.Time) (int64, bool) {
	code = strings.ReplaceAll(code, " ", "")
	at := now.Unix() / codePeriod
	for step := at - codeSlack; step <= at+codeSlack; step++ {
		ok, err := hotp.ValidateCustom(code, uint64(step), secret, hotp.ValidateOpts{Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}) //nolint:gosec // G115: after 1970
		if err == nil && ok {
			return step, true
		}
	}
	return 0, false
}

// codeIs tells whether a code, one-time or for recovery, lets an account in. Each does so once.
func (s *Server) codeIs(c *gin.Context, a store.Account, code string) (bool, error) {
	ctx := c.Request.Context()
	secret, err := s.Works.OpenCode(a.ID, a.OTPSecret)
	if err != nil {
		return false, err
	}
	if step, ok := stepOf(secret, code, time.Now()); ok {
		return s.Store.Identity.UseStep(ctx, a.ID, step)
	}
	return s.Store.Identity.UseRecovery(ctx, a.ID, hashToken(plainCode(code)))
}

func plainCode(code string) string {
	return strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(code))
}

// codesOn says why another authenticator can't just take the place of one.
const codesOn = "One-time codes are on already. To use another authenticator, turn them off first, with your password and a code."

// BeginOneTime makes a secret for an authenticator. It is kept in the session until a first code proves it.
func (s *Server) BeginOneTime(c *gin.Context) error {
	a := accountOf(c)
	if a.OTPSecret != "" {
		return problem(http.StatusConflict, codesOn)
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Raconte", AccountName: a.Name, Period: codePeriod, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
	if err != nil {
		return err
	}
	ctx := c.Request.Context()
	sealed, err := s.Works.SealCode(a.ID, key.Secret())
	if err != nil {
		return err
	}
	s.sessions.Put(ctx, "one-time", sealed)
	if _, _, err := s.sessions.Commit(ctx); err != nil {
		return err
	}
	out := struct {
		Secret  string `json:"secret"`
		Address string `json:"address"`
	}{key.Secret(), key.URL()}
	return answer(c, http.StatusOK, out)
}

// ProveOneTime turns one-time codes on.
func (s *Server) ProveOneTime(c *gin.Context, in api.ProveOneTimeJSONRequestBody) error {
	ctx, a := c.Request.Context(), accountOf(c)
	if err := s.mustWait(c, s.throttle.forAccount(a.ID, "one-time")); err != nil {
		return err
	}
	if a.OTPSecret != "" {
		return problem(http.StatusConflict, codesOn)
	}
	sealed := s.sessions.GetString(ctx, "one-time")
	secret, err := s.Works.OpenCode(a.ID, sealed)
	if err != nil {
		return err
	}
	step, ok := stepOf(secret, in.Code, time.Now())
	if secret == "" || !ok {
		s.throttle.failed(a.ID, "one-time")
		return problem(http.StatusUnprocessableEntity, "The code is wrong. Wait for the next, and check that the clock of your authenticator is right.")
	}
	codes, hashes := make([]string, recoveryHave), make([]string, recoveryHave)
	for i := range codes {
		raw := make([]byte, 10)
		_, _ = rand.Read(raw) // never fails: Go 1.24 and newer
		code := base32.StdEncoding.EncodeToString(raw)
		codes[i], hashes[i] = code[:4]+"-"+code[4:8]+"-"+code[8:12]+"-"+code[12:], hashToken(code)
	}
	if err := s.Store.Identity.SetOneTime(ctx, a.ID, sealed, step, hashes); err != nil {
		return err
	}
	s.sessions.Remove(ctx, "one-time")
	if _, _, err := s.sessions.Commit(ctx); err != nil {
		return err
	}
	return answer(c, http.StatusOK, codes)
}

// EndOneTime turns one-time codes off.
func (s *Server) EndOneTime(c *gin.Context, in api.EndOneTimeJSONRequestBody) error {
	if err := s.itIsThem(c, in.Password); err != nil {
		return err
	}
	a := accountOf(c)
	if a.OTPSecret != "" {
		let, err := s.codeIs(c, a, in.Code)
		if err != nil {
			return err
		}
		if !let {
			s.throttle.failed(a.ID, "signed in")
			return problem(http.StatusUnprocessableEntity, "The code is wrong, or was used before. Wait for the next. Nothing was changed.")
		}
	}
	return empty(c, s.Store.Identity.SetOneTime(c.Request.Context(), a.ID, "", 0, nil))
}

// itIsThem asks for the caller's password again; it fails where it is another.
func (s *Server) itIsThem(c *gin.Context, password string) error {
	a := accountOf(c)
	if err := s.mustWait(c, s.throttle.forAccount(a.ID, "signed in")); err != nil {
		return err
	}
	match, err := s.passwordIs(c, password, a.PasswordHash)
	if err != nil {
		return err
	}
	if !match {
		s.throttle.failed(a.ID, "signed in")
		return problem(http.StatusUnprocessableEntity, "The password is wrong. Nothing was changed.")
	}
	s.throttle.succeeded(a.ID, "signed in")
	return nil
}
