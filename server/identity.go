package server

// Identity is the house's own identity provider, by OpenID Connect.
type Identity struct {
	Name string // as the button says it
}
