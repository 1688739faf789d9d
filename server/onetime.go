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

// needCode answers that a one-time code is missing.
func (s *Server) needCode(c *gin.Context, message string) {
	needs := api.Code
	c.AbortWithStatusJSON(http.StatusUnauthorized, api.Problem{Message: message, Needs: &needs})
}

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
func (s *Server) BeginOneTime(c *gin.Context) {
	a := accountOf(c)
	if a.OTPSecret != "" {
		problem(c, http.StatusConflict, codesOn)
		return
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Raconte", AccountName: a.Name, Period: codePeriod, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
	if err != nil {
		s.fail(c, err)
		return
	}
	ctx := c.Request.Context()
	sealed, err := s.Works.SealCode(a.ID, key.Secret())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.Put(ctx, "one-time", sealed)
	if _, _, err := s.sessions.Commit(ctx); err != nil {
		s.fail(c, err)
		return
	}
	out := struct {
		Secret  string `json:"secret"`
		Address string `json:"address"`
	}{key.Secret(), key.URL()}
	s.answer(c, http.StatusOK, out)
}

// ProveOneTime turns one-time codes on.
func (s *Server) ProveOneTime(c *gin.Context) {
	var in api.ProveOneTimeJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Give the code that your authenticator shows.")
		return
	}
	ctx, a := c.Request.Context(), accountOf(c)
	if s.mustWait(c, s.throttle.forAccount(a.ID, "one-time")) {
		return
	}
	if a.OTPSecret != "" {
		problem(c, http.StatusConflict, codesOn)
		return
	}
	sealed := s.sessions.GetString(ctx, "one-time")
	secret, err := s.Works.OpenCode(a.ID, sealed)
	if err != nil {
		s.fail(c, err)
		return
	}
	step, ok := stepOf(secret, in.Code, time.Now())
	if secret == "" || !ok {
		s.throttle.failed(a.ID, "one-time")
		problem(c, http.StatusUnprocessableEntity, "The code is wrong. Wait for the next, and check that the clock of your authenticator is right.")
		return
	}
	codes, hashes := make([]string, recoveryHave), make([]string, recoveryHave)
	for i := range codes {
		raw := make([]byte, 10)
		_, _ = rand.Read(raw) // never fails: Go 1.24 and newer
		code := base32.StdEncoding.EncodeToString(raw)
		codes[i], hashes[i] = code[:4]+"-"+code[4:8]+"-"+code[8:12]+"-"+code[12:], hashToken(code)
	}
	if err := s.Store.Identity.SetOneTime(ctx, a.ID, sealed, step, hashes); err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.Remove(ctx, "one-time")
	if _, _, err := s.sessions.Commit(ctx); err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, codes)
}

// EndOneTime turns one-time codes off.
func (s *Server) EndOneTime(c *gin.Context) {
	var in api.EndOneTimeJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Give your password and a code.")
		return
	}
	if !s.itIsThem(c, in.Password) {
		return
	}
	a := accountOf(c)
	if a.OTPSecret != "" {
		let, err := s.codeIs(c, a, in.Code)
		if err != nil {
			s.fail(c, err)
			return
		}
		if !let {
			s.throttle.failed(a.ID, "signed in")
			problem(c, http.StatusUnprocessableEntity, "The code is wrong, or was used before. Wait for the next. Nothing was changed.")
			return
		}
	}
	s.done(c, s.Store.Identity.SetOneTime(c.Request.Context(), a.ID, "", 0, nil))
}

// itIsThem asks for the caller's password again. Not so: it has answered.
func (s *Server) itIsThem(c *gin.Context, password string) bool {
	a := accountOf(c)
	if s.mustWait(c, s.throttle.forAccount(a.ID, "signed in")) {
		return false
	}
	match, ok := s.passwordIs(c, password, a.PasswordHash)
	if !ok {
		return false
	}
	if !match {
		s.throttle.failed(a.ID, "signed in")
		problem(c, http.StatusUnprocessableEntity, "The password is wrong. Nothing was changed.")
		return false
	}
	s.throttle.succeeded(a.ID, "signed in")
	return true
}
