package demo

import (
	"context"
	"fmt"
	"time"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/words"
	"raconte/store"
)

// loadColleagues makes what several people do with the house's documents: one is reworded and waits for an answer, one
// is to be read and confirmed, and what lies in the quality folder has to be approved from now on.
func loadColleagues(ctx context.Context, s *store.Store, people, made map[string]string) error {
	folders, err := s.Setup.Folders(ctx)
	if err != nil {
		return err
	}
	for _, f := range folders {
		if f.Name == quality {
			f.Rule = &approval.Rule{Needed: 1, NotAuthor: true}
			if _, err := s.Setup.PutFolder(ctx, f, store.Account{}); err != nil {
				return err
			}
		}
	}
	const title = "Close a cold room for the season"
	w, err := s.Documents.Whole(ctx, made[title])
	if err != nil {
		return fmt.Errorf("finding %q: %w", title, err)
	}
	first := w.Rows[0]
	for _, r := range w.Rows {
		if r.Type == "step" {
			first = r
			break
		}
	}
	first.Content.Words = words.Plain("Tell the dock before you begin. Then open Rooms in Lotroom and choose the room. Filled must be 0 of 180 bins.")
	change := store.Change{ID: "demo-reworded", Blocks: []store.BlockEdit{{ID: first.ID, Base: first.Version, OrderKey: first.OrderKey, Content: first.Content}}}
	tomasz, err := s.Identity.Account(ctx, people["tomasz"])
	if err != nil {
		return err
	}
	if _, err := s.Documents.Apply(ctx, w.ID, change, access.Viewer{Account: tomasz.ID, Role: tomasz.Role}); err != nil {
		return err
	}
	head, err := s.Documents.Head(ctx, w.ID)
	if err != nil {
		return err
	}
	adaeze, err := s.Identity.Account(ctx, people["adaeze"])
	if err != nil {
		return err
	}
	due := time.Now().AddDate(0, 0, 2)
	sent := store.Review{DocumentID: w.ID, Note: "The dock complained that nobody tells them. Is the sentence in the right place?", Due: &due}
	if _, findings, err := s.Reviews.SendForReview(ctx, sent, []store.Account{adaeze}, head.Seq, tomasz); err != nil || len(findings) > 0 {
		return fmt.Errorf("sending %q for review: %v %w", title, findings, err)
	}
	toRead, err := s.Documents.Head(ctx, made["Start the dock in the morning"])
	if err != nil {
		return err
	}
	week := time.Now().AddDate(0, 0, 7)
	if err := s.Reviews.AskToConfirm(ctx, toRead, []string{people["ruben"], people["tomasz"]}, &week, false, people["ines"]); err != nil {
		return err
	}
	for _, n := range []store.Notice{
		{AccountID: adaeze.ID, Kind: store.AboutReview, DocumentID: w.ID, Ref: "demo", Who: tomasz.DisplayName, Told: "Tomasz Ferrow asks you to look at “" + title + "”."},
		{AccountID: people["ruben"], Kind: store.AboutConfirm, DocumentID: toRead.ID, Ref: "demo", Who: "Ines Brackwater", Told: "Ines Brackwater asks you to read “" + toRead.Title + "” and to confirm that you have understood it."},
	} {
		if _, _, err := s.Trail.Tell(ctx, n); err != nil {
			return err
		}
	}
	return nil
}
