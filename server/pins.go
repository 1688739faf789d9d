package server

import (
	"context"

	"raconte/core/comment"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/reshoot"
	"raconte/store"
)

// mostMoved bounds the pins that are looked for again while someone waits; the next who asks finds the rest.
const mostMoved = 4

// follow moves pins of comments to where their places are in shots that took the place of earlier ones. What was looked
// for in vain stays as it was, and says so.
func (s *Server) follow(ctx context.Context, all []store.Comment, d document.Document) {
	figures := map[string]figure.Figure{}
	for _, b := range d.Blocks {
		for _, f := range b.Figures {
			figures[f.ID] = f
		}
	}
	moved := 0
	for i, c := range all {
		pin := c.Place.Pin
		if pin == nil || c.ID != c.Thread {
			continue
		}
		f, there := figures[c.Place.Figure]
		if !there || f.Shot == pin.Shot || f.Shot == pin.Lost || moved == mostMoved {
			continue
		}
		moved++
		now := s.moved(ctx, *pin, f.Shot)
		all[i].Place.Pin = &now
		if err := s.Store.Reviews.MoveComment(ctx, c.ID, all[i].Place); err != nil {
			s.Log.Warn("moving a comment's place", "comment", c.ID, "error", err) // it is looked for again
		}
	}
}

// moved is a pin on another shot: found by its looks, or lost.
func (s *Server) moved(ctx context.Context, pin comment.Pin, shot string) comment.Pin {
	before, err := s.Store.Captures.Shot(ctx, pin.Shot)
	var after store.Shot
	if err == nil {
		after, err = s.Store.Captures.Shot(ctx, shot)
	}
	var found []reshoot.Target
	if err == nil {
		found, err = s.Pictures.Targets(ctx, []figure.Mark{pin.Mark()}, before, after)
	}
	if err != nil || len(found) == 0 || found[0].Sure == reshoot.Lost {
		pin.Lost = shot
		return pin
	}
	return pin.Moved(shot, found[0].Mark)
}
