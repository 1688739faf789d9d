package server_test

import (
	"net/http"
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/access"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// openOperations may be called by everybody.
var openOperations = map[string]bool{
	"GetHealth": true, "SignIn": true, "GetRecorderPackage": true, "GetRecorderUpdates": true, "GetEntrance": true, "AddFirst": true, "Forgot": true,
	"GetTicket": true, "UseTicket": true, "GetValidity": true, "GoToIdentity": true, "ReturnFromIdentity": true,
	"GetShared": true, "OpenShared": true, "GetSharedState": true, "GetSharedFigure": true, "GetSharedClip": true, "GetSharedPage": true, "GetSharedPDF": true, "AddSharedComment": true,
	"ListSharedComments": true, "GetDoor": true, "AskAtDoor": true, "PutDoorPicture": true, "ToldByReceiver": true,
}

// endsSomething are operations that end the session with which they are called, or never end.
var endsSomething = map[string]bool{"SignOut": true, "GetEvents": true, "EndOtherSessions": true}

// ofOneDocument are operations that tell of a document to those who review, and of the whole house to administrators
// alone.
var ofOneDocument = map[string]bool{"GetTrail": true, "GetTrailFile": true, "GetConfirmationsFile": true}

// TestEveryOperationForEveryRole goes through all operations of the API's description as somebody of each role, as one
// who was disabled while signed in, and as nobody. What is in closed folders is tried by
// TestWhatIsInAClosedFolderIsNobodyElses.
func TestEveryOperationForEveryRole(t *testing.T) {
	h := start(t)
	roles := map[string]access.Role{"ruben": access.Reader, "ines": access.Author, "adaeze": access.Approver, "admin": access.Administrator}
	browsers := map[string]browser{"": h.browser(t, ""), "tomasz": h.browser(t, "tomasz")}
	for name := range roles {
		browsers[name] = h.browser(t, name)
	}
	tomasz, err := h.Store.Identity.AccountNamed(t.Context(), "tomasz")
	require.NoError(t, err)
	code, body := browsers["admin"].do("PATCH", "/api/accounts/"+tomasz.ID, map[string]any{"disabled": true})
	require.Equal(t, http.StatusNoContent, code, body)
	spec, err := api.GetSpec()
	require.NoError(t, err)
	refused := 0
	for path, item := range spec.Paths.Map() {
		// A thing that is not there: who may call is answered before that.
		address := strings.NewReplacer("{ticket}", strings.Repeat("t", 43), "{token}", strings.Repeat("t", 43)).Replace(path)
		for strings.Contains(address, "{") {
			at, end := strings.Index(address, "{"), strings.Index(address, "}")
			address = address[:at] + "none" + address[end+1:]
		}
		for method, op := range item.Operations() {
			scopes, device := []string{}, false
			for _, s := range *op.Security {
				scopes = s["session"]
				_, device = s["device"]
			}
			name := method + " " + path
			if openOperations[op.OperationID] {
				assert.Empty(t, scopes, name)
				continue
			}
			for _, who := range []string{"", "tomasz"} {
				code, _ := browsers[who].do(method, address, nil)
				assert.Equal(t, http.StatusUnauthorized, code, "%s by %q", name, who)
			}
			if device {
				code, _ := browsers["admin"].do(method, address, nil)
				assert.Equal(t, http.StatusUnauthorized, code, "%s takes a token and no session", name)
				continue
			}
			require.Len(t, scopes, 1, name)
			for who, role := range roles {
				if access.May(access.Viewer{Account: who, Role: role}, access.Act(scopes[0]), access.Thing{}) {
					if !endsSomething[op.OperationID] {
						code, body := browsers[who].do(method, address, nil)
						assert.NotContains(t, []int{http.StatusUnauthorized, http.StatusInternalServerError}, code, "%s by %s: %s", name, who, body)
						if !ofOneDocument[op.OperationID] {
							assert.NotEqual(t, http.StatusForbidden, code, "%s by %s: %s", name, who, body)
						}
					}
					continue
				}
				code, _ := browsers[who].do(method, address, nil)
				assert.Equal(t, http.StatusForbidden, code, "%s by %s", name, who)
				refused++
			}
		}
	}
	assert.Greater(t, refused, 150)
	code, _ = browsers["ruben"].do("GET", "/api/nothing", nil)
	assert.Equal(t, http.StatusNotFound, code)
}
