package server

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"raconte/api"
	"raconte/core/refusal"
	"raconte/engines/media"
	"raconte/intake"
	"raconte/intake/face"
	"raconte/intake/pdf"
	"raconte/intake/prose"
	"raconte/output/bundle"
	"raconte/output/office"
	"raconte/store"
	"raconte/works"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"
)

// What a request may send, in bytes and in values of JSON. Most requests are a few lines; a change of a document may
// be all of it, and a picture to be finished has all its marks.
const (
	mostAbout  = 1 << 20 // of what is told of a shot besides its picture
	mostSignIn = 4 << 10
	mostUsual  = 256 << 10
	mostFigure = 4 << 20
	mostChange = 16 << 20
	mostAtDoor = 10 << 20 // of a picture of someone without an account

	mostUsualValues  = 20_000
	mostFigureValues = 250_000
	mostChangeValues = 1_000_000

	mostJSONAtOnce = 32 << 20 // bytes of all JSON that is being read at one time: it takes some ten times as much in memory
	longestRequest = 9 * time.Second
)

type bodyLimit struct {
	bytes  int64
	values int // of JSON; 0 where the body is something else
}

// bodyLimits are those of operations that differ from the usual ones.
var bodyLimits = map[string]bodyLimit{
	"SignIn":          {mostSignIn, 100},
	"ChangePassword":  {mostSignIn, 100},
	"AddFirst":        {mostSignIn, 100},
	"Forgot":          {mostSignIn, 100},
	"UseTicket":       {mostSignIn, 100},
	"Change":          {mostChange, mostChangeValues},
	"FinishPicture":   {mostFigure, mostFigureValues},
	"FindTargets":     {mostFigure, mostFigureValues},
	"MatchElement":    {4 << 20, 100_000},
	"DiscardShots":    {1 << 20, mostUsualValues},
	"OrderShots":      {1 << 20, mostUsualValues},
	"PutSecretWords":  {1 << 20, mostUsualValues},
	"PutClip":         {2*media.MostBytes + mostAbout + 64<<10, 0},
	"AddVoice":        {works.MostVoice, 0},
	"SpeechLengths":   {4 << 20, 10_000},
	"MakeClip":        {mostFigure, mostFigureValues},
	"PutShot":         {intake.MostBytes, 0},
	"PutDoorPicture":  {mostAtDoor, 0},
	"AddAttachment":   {store.MostAttached, 0},
	"AskAtDoor":       {1 << 20, mostUsualValues},
	"PutFeedShot":     {intake.MostBytes + mostAbout + 64<<10, 0},
	"PutCapturedShot": {intake.MostBytes + mostAbout + 64<<10, 0},
	"ImportBundle":    {bundle.MostBytes, 0},
	"FilePDF":         {pdf.MostBytes, 0},
	"AddHouseFile":    {face.MostBytes, 0},
	"AddTemplate":     {office.MostBytes, 0},
	"ChangeTemplate":  {office.MostBytes, 0},
	"CheckTemplate":   {2 << 20, 0},
	"TryTemplate":     {4 << 20, 0},
	"ImportFile":      {prose.MostBytes, 0},
	"CreateDocument":  {mostChange, mostChangeValues},
	"AddSteps":        {mostChange, mostChangeValues},
	"ToldByReceiver":  {64 << 10, 1000},
}

// operation is one of the API's description, with what is checked before it is called.
type operation struct {
	*openapi3.Operation
	spec  *openapi3.T
	path  string
	item  *openapi3.PathItem
	body  *openapi3.Schema // of JSON; nil where there is none
	limit bodyLimit
}

func operationOf(spec *openapi3.T, path string, item *openapi3.PathItem, op *openapi3.Operation) operation {
	o := operation{Operation: op, spec: spec, path: path, item: item, limit: bodyLimit{mostUsual, mostUsualValues}}
	if l, special := bodyLimits[op.OperationID]; special {
		o.limit = l
	}
	if op.RequestBody != nil {
		if media := op.RequestBody.Value.Content.Get("application/json"); media != nil {
			o.body = media.Schema.Value
		}
	}
	return o
}

// within checks a request against its operation before anything of it is decoded: its parameters, how large its body
// is, how many values it holds, and whether they are what the description says.
func (s *Server) within(ops map[string]operation) gin.HandlerFunc {
	heavy := semaphore.NewWeighted(mostJSONAtOnce)
	return func(c *gin.Context) {
		op, known := ops[c.Request.Method+" "+c.FullPath()]
		if !known {
			end(c, http.StatusForbidden, "This can't be called.")
			return
		}
		if !utf8.ValidString(c.Request.URL.Path) || !validQuery(c.Request.URL.RawQuery) {
			end(c, http.StatusBadRequest, "The address holds bytes that are no characters (it is not UTF-8).")
			return
		}
		params := map[string]string{}
		for _, p := range c.Params {
			params[p.Key] = p.Value
		}
		err := openapi3filter.ValidateRequest(c.Request.Context(), &openapi3filter.RequestValidationInput{
			Request: c.Request, PathParams: params,
			Route:   &routers.Route{Spec: op.spec, Path: op.path, PathItem: op.item, Method: c.Request.Method, Operation: op.Operation},
			Options: &openapi3filter.Options{ExcludeRequestBody: true, AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
		})
		if err != nil {
			end(c, http.StatusBadRequest, "The request is not in order: "+plainly(err)+".")
			return
		}
		if c.Request.ContentLength > op.limit.bytes {
			c.Header("Connection", "close")
			end(c, http.StatusRequestEntityTooLarge, tooLarge(&http.MaxBytesError{Limit: op.limit.bytes}))
			return
		}
		if op.limit.bytes > mostChange { // before any of it is taken in
			leave, ok := s.arriving.enter(accountOf(c).ID + c.GetString("device") + c.ClientIP())
			if !ok {
				c.Header("Retry-After", "5")
				end(c, http.StatusTooManyRequests, "Many files of yours are coming in already. Nothing of this one was kept; send it again in a moment.")
				return
			}
			defer leave()
			begun(c)
			c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, op.limit.bytes)
			if op.body == nil {
				c.Next() // it leaves when all of it is done
				return
			}
		}
		begun(c)
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, op.limit.bytes)
		if op.body == nil {
			return
		}
		if c.ContentType() != "application/json" {
			end(c, http.StatusUnsupportedMediaType, "Send JSON, with the header “Content-Type: application/json”.")
			return
		}
		raw, err := io.ReadAll(c.Request.Body)
		if err != nil {
			s.fail(c, bodyFailed(err, "The request did not arrive whole. Nothing was changed. Send it again."))
			return
		}
		weight := min(int64(len(raw)), mostJSONAtOnce)
		if err := heavy.Acquire(c.Request.Context(), weight); err != nil {
			s.fail(c, err)
			return
		}
		err = op.check(raw)
		heavy.Release(weight)
		if reason, refused := refusal.Reason(err); refused {
			end(c, http.StatusBadRequest, reason)
			return
		}
		c.Set(gin.BodyBytesKey, raw)
		c.Request.Body = io.NopCloser(bytes.NewReader(raw))
	}
}

// check tells, as a refusal, where a JSON body is not what the description says.
func (o operation) check(raw []byte) error {
	if err := intake.CheckJSON(raw, o.limit.values); err != nil {
		return err
	}
	var value any
	if err := json.Unmarshal(raw, &value); err != nil {
		return refusal.New("The request can't be read: it is not JSON.")
	}
	if err := o.body.VisitJSON(value, openapi3.VisitAsRequest()); err != nil {
		return refusal.New("The request is not in order: %s.", plainly(err))
	}
	return nil
}

// plainly is what is wrong with a request in a few words, without what was sent.
func plainly(err error) string {
	var param *openapi3filter.RequestError
	where := ""
	if errors.As(err, &param) && param.Parameter != nil {
		where = param.Parameter.Name + ": "
	}
	var schema *openapi3.SchemaError
	if errors.As(err, &schema) {
		if path := strings.Join(schema.JSONPointer(), "/"); path != "" {
			where += fmt.Sprintf("at /%.100s: ", path)
		}
		reason := schema.Reason
		if schema.SchemaField == "enum" || schema.SchemaField == "pattern" {
			reason = "the value is not one of those that are allowed"
		}
		return where + fmt.Sprintf("%.160s", reason)
	}
	if where != "" {
		return where + "it can't be read"
	}
	return "it can't be read"
}

func validQuery(raw string) bool {
	plain, err := url.QueryUnescape(raw)
	return err == nil && utf8.ValidString(plain)
}

// bodyFailed is the error of a body that did not come in.
func bodyFailed(err error, otherwise string) error {
	if large := bodyError(err); large != nil {
		return large
	}
	return problem(http.StatusBadRequest, otherwise)
}

// operations are all of the API's description, by method and gin's path.
func operations() (map[string]operation, error) {
	spec, err := api.GetSpec()
	if err != nil {
		return nil, fmt.Errorf("reading the API's description: %w", err)
	}
	ops := map[string]operation{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			ops[method+" "+pathParameter.ReplaceAllString(path, ":$1")] = operationOf(spec, path, item, op)
		}
	}
	known := map[string]bool{}
	for _, op := range ops {
		known[op.OperationID] = true
	}
	for _, name := range append(slices.Collect(maps.Keys(bodyLimits)), untimed...) {
		if !known[name] {
			return nil, fmt.Errorf("there are limits for %s, which the API does not have", name)
		}
	}
	return ops, nil
}
