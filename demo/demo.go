// Package demo loads the demo's world: Pellworth Growers' Cooperative, its people, and procedures for
// its made-up program Lotroom, illustrated with shots of the practice workstation.
package demo

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"

	"raconte/core/document"
	"raconte/output/bundle"
	"raconte/raster"
	"raconte/server"
	"raconte/store"
)

// Password is that of every demo account.
const Password = "pellworth"

// Accounts are the demo's people, one for each role.
var Accounts = []store.Account{
	{Name: "ruben", DisplayName: "Ruben Hask", Role: store.Reader},
	{Name: "ines", DisplayName: "Ines Brackwater", Role: store.Author},
	{Name: "tomasz", DisplayName: "Tomasz Ferrow", Role: store.Author},
	{Name: "adaeze", DisplayName: "Adaeze Quillan", Role: store.Approver},
	{Name: "admin", DisplayName: "Maud Selwyn", Role: store.Administrator},
}

// importer takes documents in; the server does.
type importer interface {
	ImportDemo(ctx context.Context, data []byte, by string) (store.Document, error)
}

var _ importer = (*server.Server)(nil)

// Load adds the demo's accounts and documents where they are not there yet.
func Load(ctx context.Context, s *store.Store, in importer) error {
	if _, err := s.AccountNamed(ctx, Accounts[len(Accounts)-1].Name); err == nil {
		return nil
	} else if !errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("looking for the demo: %w", err)
	}
	people := map[string]string{}
	for i, a := range Accounts {
		var err error
		if a.PasswordHash, err = server.HashPassword(Password); err != nil {
			return err
		}
		// The last account says that everything is there, so it comes last of all.
		if i == len(Accounts)-1 {
			if err := loadDocuments(ctx, s, in, people); err != nil {
				return err
			}
		}
		made, err := s.AccountNamed(ctx, a.Name)
		if errors.Is(err, store.ErrNotFound) {
			made, err = s.CreateAccount(ctx, a)
		}
		if err != nil {
			return fmt.Errorf("loading the demo: %w", err)
		}
		people[a.Name] = made.ID
	}
	return nil
}

func loadDocuments(ctx context.Context, s *store.Store, in importer, people map[string]string) error {
	for _, p := range Procedures() {
		data, err := p.Bundle()
		if err != nil {
			return err
		}
		d, err := in.ImportDemo(ctx, data, people[p.Author])
		if err != nil {
			return fmt.Errorf("loading %q: %w", p.Document.Title, err)
		}
		if p.Ready {
			if findings, err := s.SetState(ctx, d.ID, document.Ready, people["adaeze"]); err != nil || len(findings) > 0 {
				return fmt.Errorf("marking %q ready: %v %w", p.Document.Title, findings, err)
			}
		}
	}
	return nil
}

// Procedure is one of the demo's procedures; its figures name shots by SHA-256.
type Procedure struct {
	Document document.Document
	Author   string
	Ready    bool
	shots    map[string][]byte
}

// Bundle is the procedure as a bundle.
func (p Procedure) Bundle() ([]byte, error) {
	var buf bytes.Buffer
	err := bundle.Write(&buf, p.Document, func(sha string) ([]byte, string, string, error) {
		return p.shots[sha], "image/png", "lotroom.png", nil
	})
	if err != nil {
		return nil, fmt.Errorf("bundling %q: %w", p.Document.Title, err)
	}
	return buf.Bytes(), nil
}

// add keeps a screen as a shot and returns its name.
func (p *Procedure) add(img imageOf) (string, error) {
	var buf bytes.Buffer
	if err := raster.EncodePNG(&buf, img.Image(), raster.Quick); err != nil {
		return "", err
	}
	sum := sha256.Sum256(buf.Bytes())
	sha := hex.EncodeToString(sum[:])
	p.shots[sha] = buf.Bytes()
	return sha, nil
}
