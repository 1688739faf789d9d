package works

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"raconte/core/access"
	"raconte/store"
)

// paths are where a notice leads, by what it is about.
var paths = map[string]string{
	store.AboutMention: "/write", store.AboutReview: "/review", store.AboutAnswer: "/write", store.AboutApproval: "/review",
	store.AboutDue: "/write", store.AboutReleased: "", store.AboutConfirm: "", store.AboutTold: "/write",
}

// Where is the address that a notice leads to, from the root of the application.
func Where(n store.Notice, to store.Account) string {
	path := paths[n.Kind]
	if path == "/write" && !access.May(to.Viewer(), access.Edit, access.Thing{}) {
		path = "/review"
	}
	return "/d/" + n.DocumentID + path
}

// Tell tells people of what concerns them, as far as they may know of the document; those who want it get a mail at
// once. What they were told before they are not told again.
func (w *Works) Tell(ctx context.Context, d store.Document, n store.Notice, people ...string) error {
	n.DocumentID = d.ID
	folder := ""
	if d.FolderID != nil {
		folder = *d.FolderID
	}
	for _, id := range people {
		to, err := w.Store.Identity.Account(ctx, id)
		if err == nil {
			to.Closed, err = w.Store.Setup.ClosedTo(ctx, to)
		}
		if err != nil {
			return fmt.Errorf("telling someone: %w", err)
		}
		if to.DisabledAt != nil || !access.May(to.Viewer(), access.Read, access.Thing{Folder: folder}) {
			continue
		}
		n := n
		n.AccountID = id
		title, err := w.Store.Documents.TitleFor(ctx, d.ID, to.Viewer())
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return fmt.Errorf("telling someone: %w", err)
		}
		n.Told = strings.ReplaceAll(n.Told, "“"+d.Title+"”", "“"+title+"”") // by which they know it
		told, fresh, err := w.Store.Trail.Tell(ctx, n)
		if err != nil || !fresh {
			if err != nil {
				return err
			}
			continue
		}
		if w.Told != nil {
			w.Told(id)
		}
		if to.Mails != store.Now {
			continue
		}
		sent, err := w.Write(ctx, to, Letter{
			Subject: subject(told, title), Lines: []string{told.Told}, Link: w.Address + Where(told, to), Press: "Open the document", Document: d.ID,
		})
		if err == nil && sent {
			err = w.Store.Trail.Mailed(ctx, told.ID)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

var subjects = map[string]string{
	store.AboutMention: "%s names you in “%s”", store.AboutReview: "%s asks you to look at “%s”", store.AboutAnswer: "%s has answered on “%s”",
	store.AboutApproval: "%s asks you to approve “%s”", store.AboutReleased: "%s: “%s” is released", store.AboutConfirm: "%s asks you to read “%s”",
}

func subject(n store.Notice, title string) string {
	if s, known := subjects[n.Kind]; known && n.Who != "" {
		return fmt.Sprintf(s, n.Who, title)
	}
	return "About “" + title + "”"
}
