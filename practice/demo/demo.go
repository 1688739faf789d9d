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
	"io"
	"sync"

	"raconte/core/access"
	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/sight"
	"raconte/engines/raster"
	"raconte/output"
	"raconte/platform/blobs"
	"raconte/platform/passwords"
	"raconte/practice/workstation"
	"raconte/store"
	"raconte/works/pictures"
)

// Password is that of every demo account.
const Password = "pellworth"

// Accounts are the demo's people, one for each role.
var Accounts = []store.Account{
	{Name: "ruben", DisplayName: "Ruben Hask", Role: access.Reader},
	{Name: "ines", DisplayName: "Ines Brackwater", Role: access.Author},
	{Name: "tomasz", DisplayName: "Tomasz Ferrow", Role: access.Author},
	{Name: "adaeze", DisplayName: "Adaeze Quillan", Role: access.Approver},
	{Name: "admin", DisplayName: "Maud Selwyn", Role: access.Administrator},
}

// Load adds the demo's accounts and documents where they are not there yet.
func Load(ctx context.Context, s *store.Store, pictures *pictures.Maker, files *blobs.Bucket) error {
	if _, err := s.Identity.AccountNamed(ctx, Accounts[len(Accounts)-1].Name); err == nil {
		return nil
	} else if !errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("looking for the demo: %w", err)
	}
	people := map[string]string{}
	for i, a := range Accounts {
		var err error
		address := a.Name + "@pellworth.example"
		a.Email = &address
		if a.PasswordHash, err = passwords.Hash(Password); err != nil {
			return err
		}
		// The last account says that everything is there, so it comes last of all.
		if i == len(Accounts)-1 {
			if err := loadAll(ctx, s, pictures, files, people); err != nil {
				return err
			}
		}
		made, err := s.Identity.AccountNamed(ctx, a.Name)
		if errors.Is(err, store.ErrNotFound) {
			made, err = s.Identity.CreateAccount(ctx, a)
		}
		if err != nil {
			return fmt.Errorf("loading the demo: %w", err)
		}
		people[a.Name] = made.ID
	}
	return nil
}

// Playing the scripts takes seconds; whoever loads the demo again, as tests do, gets what was played.
var (
	procedures = sync.OnceValue(Procedures)
	seasonPlan = sync.OnceValue(SeasonPlan)
)

func loadAll(ctx context.Context, s *store.Store, pictures *pictures.Maker, files *blobs.Bucket, people map[string]string) error {
	made := map[string]string{} // documents by their titles
	for _, p := range procedures() {
		if err := p.Session.load(ctx, s, pictures, people[p.Author]); err != nil {
			return err
		}
		d, err := s.Documents.CreateWhole(ctx, p.Document, "", people[p.Author])
		if err != nil {
			return fmt.Errorf("loading %q: %w", p.Document.Facts.Title, err)
		}
		made[d.Title] = d.ID
		if p.Ready {
			if findings, err := s.Releases.SetState(ctx, d.ID, document.Release, d.Seq, "", access.Viewer{Account: people["adaeze"], Role: access.Administrator}); err != nil || len(findings) > 0 {
				return fmt.Errorf("marking %q ready: %v %w", p.Document.Facts.Title, findings, err)
			}
		}
	}
	if err := seasonPlan().load(ctx, s, pictures, people["ines"]); err != nil {
		return err
	}
	if err := loadHouse(ctx, s, files, people, made); err != nil {
		return err
	}
	if err := loadReports(ctx, s, people, made); err != nil {
		return err
	}
	return loadColleagues(ctx, s, people, made)
}

// Procedure is one of the demo's procedures; its figures name the shots of its session.
type Procedure struct {
	Document document.Document
	Author   string
	Ready    bool
	Session  Session
}

// Bundled is the procedure as bundles hold it: its figures name shots by SHA-256.
func (p Procedure) Bundled() document.Document {
	return p.Document.WithShots(func(id string) string {
		for _, shot := range p.Session.Shots {
			if shot.ID == id {
				return shot.sha()
			}
		}
		return id
	})
}

// Content gives a shot of the procedure to a bundle.
func (p Procedure) Content(_ context.Context, sha string) (output.Shot, error) {
	for _, shot := range p.Session.Shots {
		if shot.sha() == sha {
			return output.Shot{Data: io.NopCloser(bytes.NewReader(shot.PNG)), Type: "image/png", Name: shot.Name, About: &shot.About}, nil
		}
	}
	return output.Shot{}, fmt.Errorf("the demo has no shot %s", sha)
}

func (s Shot) sha() string {
	sum := sha256.Sum256(s.PNG)
	return hex.EncodeToString(sum[:])
}

// Session is a scripted session on the practice workstation.
type Session struct {
	Name  string
	Shots []Shot
	id    string
}

// Shot is one shot of a session.
type Shot struct {
	ID, Name string
	Size     figure.Size
	About    capture.About
	Words    []sight.Word
	PNG      []byte
}

// take plays commands, the last of which takes shots, and adds them to the session; it returns the last.
func (s *Session) take(p *workstation.Player, commands ...string) Shot {
	for _, c := range commands {
		if err := p.Do(c); err != nil {
			panic(fmt.Sprintf("demo: %s: %s: %v", s.Name, c, err)) // the scripts are ours
		}
	}
	for _, shot := range p.Shots[len(s.Shots):] {
		var buf bytes.Buffer
		if err := raster.EncodePNG(&buf, shot.Image, raster.Quick); err != nil {
			panic(fmt.Sprintf("demo: %v", err))
		}
		n := capture.Naming{Pattern: capture.DefaultPattern, Taken: shot.About.Taken, Window: shot.About.Window.Title, N: len(s.Shots) + 1}
		s.Shots = append(s.Shots, Shot{
			ID: id(s.id, len(s.Shots)), Name: n.Name() + ".png", About: shot.About, Words: shot.Words, PNG: buf.Bytes(),
			Size: figure.Size{W: shot.Image.Rect.Dx(), H: shot.Image.Rect.Dy()},
		})
	}
	return s.Shots[len(s.Shots)-1]
}

func (s Session) load(ctx context.Context, st *store.Store, maker *pictures.Maker, by string) error {
	if _, err := st.Captures.BeginCapture(ctx, s.id, s.Name, by); err != nil {
		return fmt.Errorf("loading the session %q: %w", s.Name, err)
	}
	for _, shot := range s.Shots {
		_, err := maker.Keep(ctx, pictures.Arrival{ID: shot.ID, Name: shot.Name, Data: shot.PNG, By: by, Capture: &s.id, About: shot.About})
		if err != nil {
			return fmt.Errorf("loading a shot of %q: %w", s.Name, err)
		}
		// What the practice workstation shows is known; it need not be read.
		if shot.Words != nil {
			if err := st.Captures.SetRead(ctx, shot.ID, shot.Words); err != nil {
				return fmt.Errorf("keeping the words of a shot of %q: %w", s.Name, err)
			}
		}
	}
	return nil
}
