package demo

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/text"
	"raconte/output/pdf"
	"raconte/platform/blobs"
	"raconte/store"
)

// loadHouse adds folders, and the documents of the house, to the procedures that are there by their titles.
func loadHouse(ctx context.Context, s *store.Store, files *blobs.Bucket, people, made map[string]string) error {
	folders := map[string]string{}
	circle, err := s.Identity.PutGroup(ctx, store.Group{Name: "Quality team", Accounts: []string{people["adaeze"], people["ines"]}}, store.Account{})
	if err != nil {
		return fmt.Errorf("loading the demo's group: %w", err)
	}
	for _, f := range []store.Folder{
		{Name: receiving, Open: true}, {Name: coldRooms, Open: true}, {Name: quality, Ask: "Adaeze Quillan", Groups: []string{circle.ID}},
	} {
		kept, err := s.Setup.PutFolder(ctx, f, store.Account{})
		if err != nil {
			return fmt.Errorf("loading the folder %q: %w", f.Name, err)
		}
		folders[f.Name] = kept.ID
	}
	all := access.Viewer{Account: people["adaeze"], Role: access.Administrator}
	for title, folder := range map[string]string{
		"Receive a lot into a cold room": receiving, "Reprint a lot label": receiving, "Move a lot between rooms": coldRooms, "Answer a temperature alarm": coldRooms,
	} {
		if err := s.Setup.Move(ctx, []string{made[title]}, folders[folder], all); err != nil {
			return fmt.Errorf("moving %q: %w", title, err)
		}
	}
	for _, w := range house() {
		if err := w.load(ctx, s, folders, people, made); err != nil {
			return fmt.Errorf("loading %q: %w", w.title, err)
		}
	}
	for _, f := range filed {
		if err := loadFiled(ctx, s, files, f.name, f.title, folders[f.folder], f.pages, people["adaeze"]); err != nil {
			return fmt.Errorf("filing %q: %w", f.name, err)
		}
	}
	return nil
}

func (w written) load(ctx context.Context, s *store.Store, folders, people, made map[string]string) error {
	if w.kind == "" {
		w.kind = document.Procedure
	}
	w.facts.Title = w.title
	if w.review != 0 {
		w.facts.Review = time.Now().AddDate(0, 0, w.review).Format(time.DateOnly)
	}
	for i, b := range w.blocks {
		for title, now := range made {
			if b.Document == lead(title) {
				w.blocks[i].Document = now
			}
		}
	}
	d, err := s.Documents.CreateWhole(ctx, document.Document{ID: "new", Kind: w.kind, Facts: w.facts, Blocks: w.blocks}, folders[w.folder], people[w.author])
	if err != nil {
		return err
	}
	made[w.title] = d.ID
	who := access.Viewer{Account: people["adaeze"], Role: access.Administrator}
	if !w.start {
		if d, err = s.Documents.GiveNumber(ctx, d.ID, who); err != nil {
			return err
		}
	}
	if w.start {
		return s.Documents.SetTemplate(ctx, d.ID, true)
	}
	for _, act := range w.acts() {
		if d, err = s.Documents.Head(ctx, d.ID); err != nil {
			return err
		}
		if findings, err := s.Releases.SetState(ctx, d.ID, act, d.Seq, "", who); err != nil || len(findings) > 0 {
			return fmt.Errorf("%s: %v %w", act, findings, err)
		}
	}
	return nil
}

func (w written) acts() []document.Act {
	var acts []document.Act
	if w.ready {
		acts = append(acts, document.Release)
	}
	if w.state == document.Retired {
		acts = append(acts, document.Retire)
	}
	return acts
}

// loadFiled files a PDF of plain lines.
func loadFiled(ctx context.Context, s *store.Store, files *blobs.Bucket, name, title, folder string, pages [][]string, by string) error {
	sheets := make([]scene.Scene, len(pages))
	texts := make([]string, len(pages))
	for i, lines := range pages {
		sheets[i] = scene.Scene{W: 595.28, H: 841.89}
		for j, line := range lines {
			role, size := "P", 12.0
			if i == 0 && j == 0 {
				role, size = "H1", 20
			}
			sheets[i].Open(role)
			text.Set(&sheets[i], text.Regular, size, 60, 80+20*float64(j), line, scene.Color{A: 255})
			sheets[i].Close(1)
		}
		texts[i] = strings.Join(lines, "\n")
	}
	var out bytes.Buffer
	if err := pdf.Scenes(ctx, &out, title, time.Date(2019, 3, 4, 8, 0, 0, 0, time.UTC), sheets, nil); err != nil {
		return err
	}
	sum := sha256.Sum256(out.Bytes())
	file := &document.File{SHA256: hex.EncodeToString(sum[:]), Name: name, Bytes: int64(out.Len()), Pages: len(pages)}
	if err := files.Put(ctx, "files/"+file.SHA256, bytes.NewReader(out.Bytes())); err != nil {
		return err
	}
	d, err := s.Documents.CreateWhole(ctx, document.Document{ID: "new", Kind: document.Filed, Facts: document.Facts{Title: title, File: file}}, folder, by)
	if err != nil {
		return err
	}
	if err := s.Documents.AddPages(ctx, file.SHA256, texts); err != nil {
		return err
	}
	who := access.Viewer{Account: by, Role: access.Administrator}
	if d, err = s.Documents.GiveNumber(ctx, d.ID, who); err != nil {
		return err
	}
	_, err = s.Releases.SetState(ctx, d.ID, document.Release, d.Seq, "", who)
	return err
}
