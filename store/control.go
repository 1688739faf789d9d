package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"

	"gorm.io/gorm"
)

// beside are the facts that stand in columns of their own, to be looked for, sorted and unique.
func beside(f document.Facts) (map[string]any, error) {
	raw, err := json.Marshal(f)
	if err != nil {
		return nil, fmt.Errorf("writing the facts: %w", err)
	}
	set := map[string]any{"facts": string(raw), "title": f.Title, "owner": f.Owner, "number": nil, "review": nil}
	if f.Number != "" {
		set["number"] = f.Number
	}
	if f.Review != "" {
		set["review"] = f.Review
	}
	return set, nil
}

// touch writes what has changed of a locked document, which is the next state of it by that. Who is named has changed
// it now; nobody, "", where it says what it said. Facts, where there are any, are their next version.
func (b *base) touch(tx *gorm.DB, d Document, by string, facts *document.Facts, set map[string]any) error {
	all := map[string]any{"seq": d.Seq + 1}
	if by != "" {
		all["changed_by"], all["changed_at"] = by, b.now()
	}
	if facts != nil {
		columns, err := beside(*facts)
		if err != nil {
			return err
		}
		maps.Copy(all, columns)
		all["facts_version"] = d.FactsVersion + 1
	}
	maps.Copy(all, set)
	return tx.Table("documents").Where("id = ?", d.ID).Updates(all).Error
}

// mayNumber refuses to take a number away from a document, or to give it another.
func mayNumber(was, now document.Facts) error {
	if was.Number != "" && was.Number != now.Number {
		return refusal.New("A number is given once: this document is %s for good.", was.Number)
	}
	return nil
}

// numbered turns the database's word for a number that is taken into ours.
func numbered(err error, number string) error {
	if errors.Is(err, gorm.ErrDuplicatedKey) && number != "" {
		return refusal.New("The number %s belongs to another document, perhaps to a deleted one. Take another.", number)
	}
	return err
}

// GiveNumber gives a document that has none the next number by the house's pattern.
func (s *Documents) GiveNumber(ctx context.Context, id string, who access.Viewer) (Document, error) {
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		h, err := lockHouse(tx)
		if err != nil {
			return err
		}
		d, err := lock(tx, id)
		if err != nil || d.Facts.Number != "" {
			return err
		}
		state, err := document.Next(d.State, document.Edit, who)
		if err != nil {
			return err
		}
		for {
			h.Numbered++
			d.Facts.Number = h.Pattern.Number(d.Kind, s.Here(s.now()).Year(), h.Numbered)
			var taken int64
			if err := tx.Table("documents").Where("number = ?", d.Facts.Number).Count(&taken).Error; err != nil {
				return err
			}
			if taken == 0 {
				break
			}
		}
		if err := wrote(tx, id, who.Account, d.Seq+1); err != nil {
			return err
		}
		if err := s.touch(tx, d, who.Account, &d.Facts, map[string]any{"state": state}); err != nil {
			return err
		}
		return tx.Exec("UPDATE house SET numbered = ? WHERE id = 1", h.Numbered).Error
	})
	if err != nil {
		return Document{}, err
	}
	return s.Head(ctx, id)
}

// SetTemplate makes a document a start for others, or not.
func (s *Documents) SetTemplate(ctx context.Context, id string, template bool) error {
	res := s.on(ctx).Exec("UPDATE documents SET template = ? WHERE id = ? AND deleted_at IS NULL", template, id)
	return res.Error
}
