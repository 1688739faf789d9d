package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Folder is a folder of documents. One that is not open is for its members alone, and so is all that lies in it.
type Folder struct {
	ID       string
	ParentID *string
	Name     string
	Open     bool
	Ask      string         // whom to ask for what is in it
	Rule     *approval.Rule `gorm:"serializer:json"` // before a revision is released; nil is that of the folder around it
	Version  int            // counts its changes, from 1
	Accounts []string       `gorm:"-"` // members
	Groups   []string       `gorm:"-"` // groups that are members
}

const (
	deepestFolder = 3
	mostFolders   = 500
	mostMembers   = 500
	longestFolder = 100 // characters of a name
)

// Folders are all folders by their names, with their members.
func (s *Setup) Folders(ctx context.Context) ([]Folder, error) {
	var all []Folder
	if err := s.on(ctx).Order("name, id").Find(&all).Error; err != nil {
		return nil, err
	}
	var members []folderMember
	if err := s.on(ctx).Table("folder_members").Find(&members).Error; err != nil {
		return nil, err
	}
	for i, f := range all {
		for _, m := range members {
			switch {
			case m.FolderID != f.ID:
			case m.AccountID != nil:
				all[i].Accounts = append(all[i].Accounts, *m.AccountID)
			case m.GroupID != nil:
				all[i].Groups = append(all[i].Groups, *m.GroupID)
			}
		}
	}
	return all, nil
}

type folderMember struct {
	FolderID  string
	AccountID *string
	GroupID   *string
}

// ClosedTo are the folders that an account may not open: those of which, or of one around which, it is no member.
// Administrators may open all.
func (s *Setup) ClosedTo(ctx context.Context, a Account) ([]string, error) {
	if a.ID == "" || access.May(a.Viewer(), access.Administer, access.Thing{}) {
		return nil, nil
	}
	all, err := s.Folders(ctx)
	if err != nil || !slices.ContainsFunc(all, func(f Folder) bool { return !f.Open }) {
		return nil, err
	}
	var own []string
	if err := s.on(ctx).Table("group_members").Where("account_id = ?", a.ID).Pluck("group_id", &own).Error; err != nil {
		return nil, err
	}
	byID := map[string]Folder{}
	for _, f := range all {
		byID[f.ID] = f
	}
	var closed []string
	for _, f := range all {
		for in := f; ; in = byID[*in.ParentID] {
			if !in.Open && !slices.Contains(in.Accounts, a.ID) && !slices.ContainsFunc(in.Groups, func(c string) bool { return slices.Contains(own, c) }) {
				closed = append(closed, f.ID)
				break
			}
			if in.ParentID == nil {
				break
			}
		}
	}
	return closed, nil
}

// Whereabouts is the folder of a document, "" for none, and whom to ask for what is in it.
func (s *Setup) Whereabouts(ctx context.Context, documentID string) (folder, ask string, err error) {
	var row struct{ FolderID, Ask *string }
	err = s.on(ctx).Raw(`SELECT d.folder_id, f.ask FROM documents d LEFT JOIN folders f ON f.id = d.folder_id WHERE d.id = ?`, documentID).Scan(&row).Error
	if row.FolderID != nil {
		folder = *row.FolderID
	}
	if row.Ask != nil {
		ask = *row.Ask
	}
	return folder, ask, err
}

// PutFolder adds a folder, where it has no id, or changes one that is still the version it says. The error is
// ErrConflict where it is not, and a refusal where it can't be so.
func (s *Setup) PutFolder(ctx context.Context, f Folder, by Account) (Folder, error) {
	f.Name = strings.TrimSpace(f.Name)
	if n := utf8.RuneCountInString(f.Name); n == 0 || n > longestFolder || strings.ContainsAny(f.Name, "\n\r\x00") {
		return f, refusal.New("A folder needs a name of at most %d characters.", longestFolder)
	}
	if f.Rule != nil {
		if err := f.Rule.Check(); err != nil {
			return f, err
		}
	}
	if len(f.Accounts)+len(f.Groups) > mostMembers {
		return f, refusal.New("A folder has at most %d members. Make a group of them.", mostMembers)
	}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var all []Folder
		if err := tx.Clauses(forUpdate).Find(&all).Error; err != nil {
			return err
		}
		if f.ID == "" && len(all) >= mostFolders {
			return refusal.New("There are %d folders already; there can't be more.", mostFolders)
		}
		if err := fits(all, f); err != nil {
			return err
		}
		if f.ID == "" {
			f.ID, f.Version = uuid.NewString(), 1
			if err := tx.Create(&f).Error; err != nil {
				return err
			}
		} else {
			seen := f.Version
			f.Version++
			if res := tx.Model(&Folder{}).Where("id = ? AND version = ?", f.ID, seen).Select("parent_id", "name", "open", "ask", "rule", "version").Updates(f); res.Error != nil || res.RowsAffected == 0 {
				return cmp.Or(res.Error, ErrConflict)
			}
		}
		if err := tx.Exec("DELETE FROM folder_members WHERE folder_id = ?", f.ID).Error; err != nil {
			return err
		}
		var members []folderMember
		for _, a := range unique(f.Accounts) {
			members = append(members, folderMember{FolderID: f.ID, AccountID: &a})
		}
		for _, c := range unique(f.Groups) {
			members = append(members, folderMember{FolderID: f.ID, GroupID: &c})
		}
		if len(members) > 0 {
			if err := tx.Table("folder_members").Create(&members).Error; err != nil {
				return err
			}
		}
		told := "Open to everybody"
		if !f.Open {
			told = fmt.Sprintf("For %d people and %d groups", len(f.Accounts), len(f.Groups))
		}
		return s.trail.note(tx, Act{Act: ActAccess, AccountID: orNil(by.ID), Who: by.DisplayName, About: "Folder " + f.Name, Told: told})
	})
	if errors.Is(err, gorm.ErrForeignKeyViolated) {
		err = refusal.New("A member of the folder, or the folder it lies in, is not there any more.")
	}
	return f, err
}

// fits refuses a folder that is not there, lies in itself, or too deep with all that is in it; and a name that another
// has at the same place.
func fits(all []Folder, f Folder) error {
	byID := map[string]Folder{}
	for _, o := range all {
		byID[o.ID] = o
	}
	if _, there := byID[f.ID]; f.ID != "" && !there {
		return ErrNotFound
	}
	byID[f.ID] = f
	at := func(p *string) string {
		if p == nil {
			return ""
		}
		return *p
	}
	for _, o := range all {
		if o.ID != f.ID && at(o.ParentID) == at(f.ParentID) && strings.EqualFold(o.Name, f.Name) {
			return refusal.New("There is a folder “%s” here already.", o.Name)
		}
	}
	for id := range byID {
		depth := 1
		for in := byID[id]; in.ParentID != nil; in = byID[*in.ParentID] {
			if depth++; depth > deepestFolder {
				return refusal.New("Folders lie at most %d deep, and none in itself.", deepestFolder)
			}
			if _, there := byID[*in.ParentID]; !there {
				return refusal.New("The folder it should lie in is not there any more.")
			}
		}
	}
	return nil
}

// DeleteFolder deletes an empty folder.
func (s *Setup) DeleteFolder(ctx context.Context, id string) error {
	res := s.on(ctx).Exec("DELETE FROM folders WHERE id = ?", id)
	switch {
	case errors.Is(res.Error, gorm.ErrForeignKeyViolated):
		return refusal.New("There is something in the folder, perhaps among what was deleted. Move it elsewhere first.")
	case res.Error != nil:
		return fmt.Errorf("deleting a folder: %w", res.Error)
	case res.RowsAffected == 0:
		return ErrNotFound
	}
	return nil
}

// Move puts documents into a folder, "" for none, as far as a viewer may open both.
func (s *Setup) Move(ctx context.Context, ids []string, folder string, v access.Viewer) error {
	if slices.Contains(v.Closed, folder) {
		return ErrNotFound
	}
	var to *string
	if folder != "" {
		to = &folder
	}
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		names := map[string]string{"": "no folder"}
		var folders []Folder
		if err := tx.Find(&folders).Error; err != nil {
			return err
		}
		for _, f := range folders {
			names[f.ID] = "“" + f.Name + "”"
		}
		if names[folder] == "" {
			return refusal.New("The folder is not there any more.")
		}
		var docs []Document
		if err := scope(tx.Table("documents"), v).Clauses(forUpdate).Where("documents.id IN ?", ids).Find(&docs).Error; err != nil {
			return err
		}
		for _, d := range docs {
			from := ""
			if d.FolderID != nil {
				from = *d.FolderID
			}
			if from == folder {
				continue
			}
			// The rule that held there holds until the next release.
			err := tx.Exec("INSERT INTO document_places (document_id, folder_id, seq) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seq = GREATEST(seq, VALUES(seq))", d.ID, from, d.Seq).Error
			if err == nil {
				err = tx.Table("documents").Where("id = ?", d.ID).Update("folder_id", to).Error
			}
			if err == nil {
				err = s.trail.noteOf(tx, d, v.Account, ActMoved, "From "+names[from]+" to "+names[folder])
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}
