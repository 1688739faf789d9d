package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/readiness"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// reviews tells whether the caller sees drafts.
func reviews(c *gin.Context) bool { return may(c, access.Review, access.Thing{}) }

// visible is the document as the caller may see it: readers see its valid revision. Where it is composed, as it always
// is for readers, a manual's chapters are read in.
func (s *Server) visible(c *gin.Context, id string, composed bool) (works.Reading, error) {
	name, keeps := s.keptAnswer(c, id)
	if key, there := s.read.Get(name); there && keeps {
		if w, there := s.Works.Kept(key); there {
			return works.Reading{Whole: w, Key: key}, nil
		}
	}
	w, err := s.Works.Reading(c.Request.Context(), accountOf(c).Viewer(), id, works.Which{Draft: true, Apart: !composed})
	if err == nil && keeps {
		s.read.Add(name, w.Key)
	}
	return w, err
}

// ListDocuments answers with the library.
func (s *Server) ListDocuments(c *gin.Context, params api.ListDocumentsParams) error {
	title := ""
	if params.Title != nil {
		title = *params.Title
	}
	docs, err := s.Store.Documents.List(c.Request.Context(), title, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, docs, s.summary))
}

// ListDeleted answers with the documents that can be restored.
func (s *Server) ListDeleted(c *gin.Context) error {
	docs, err := s.Store.Documents.Deleted(c.Request.Context(), accountOf(c).Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, docs, func(d store.Document) api.Deleted {
		return api.Deleted{Document: s.summary(d), At: *d.DeletedAt, Goes: d.DeletedAt.Add(pictures.KeepDeleted)}
	}))
}

// GetHistory answers with what happened to a document.
func (s *Server) GetHistory(c *gin.Context, id string) error {
	_, err := s.Store.Documents.Head(c.Request.Context(), id)
	var all []store.Event
	if err == nil {
		all, err = s.Store.Releases.History(c.Request.Context(), id)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(e store.Event) api.Happening {
		out := api.Happening{What: api.HappeningWhat(e.What), Told: e.Told, By: e.MadeName, At: e.MadeAt}
		if e.Number > 0 {
			out.Revision = &e.Number
		}
		return out
	}))
}

func (s *Server) summary(d store.Document) api.Summary {
	out := api.Summary{
		Id: d.ID, Kind: string(d.Kind), Title: d.Title, State: api.State(d.State), Steps: d.Steps,
		ChangedBy: d.ChangedName, ChangedAt: d.ChangedAt, Revision: d.Revision, Number: d.Number, Owner: orNil(d.Owner), Folder: d.FolderID,
		Template: orNil(d.Template), Uses: orNil(d.Uses),
	}
	if d.Revision > 0 {
		out.Said = orNil(d.Facts.SayRevision(d.Revision))
	}
	if d.Review != nil {
		review := d.Review.Format(time.DateOnly)
		out.Review, out.Due = &review, (*api.SummaryDue)(orNil(document.Due(review, s.Store.Today())))
	}
	return out
}

// CreateDocument makes a document, empty, of blocks, or as a start has it.
func (s *Server) CreateDocument(c *gin.Context, in api.CreateDocumentJSONRequestBody) error {
	if err := document.CheckTitle(in.Title); err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err))
	}
	ctx, by, folder := c.Request.Context(), accountOf(c).ID, of(in.Folder)
	if !may(c, access.Edit, access.Thing{Folder: folder}) {
		return store.ErrNotFound
	}
	if in.From != nil {
		if from, _, err := s.Store.Setup.Whereabouts(ctx, in.From.Document); err != nil || !may(c, access.Read, access.Thing{Folder: from}) {
			return errors.Join(err, store.ErrNotFound)
		}
	}
	kind := document.Procedure
	if in.Kind != nil {
		kind = document.Kind(*in.Kind)
	}
	var d store.Document
	var err error
	switch {
	case of(in.Start) != "":
		from, ask, err2 := s.Store.Setup.Whereabouts(ctx, *in.Start)
		if err2 == nil && !may(c, access.Read, access.Thing{Folder: from}) {
			return problem(http.StatusForbidden, closed(ask))
		}
		d, err = s.Store.Documents.Duplicate(ctx, *in.Start, in.Title, &folder, by)
	case in.Blocks != nil || kind.Asks() != nil:
		whole := document.Document{ID: "new", Kind: kind, Facts: document.Facts{Title: in.Title}}
		for _, content := range of(in.Blocks) {
			whole.Blocks = append(whole.Blocks, document.Block{ID: uuid.NewString(), Content: anew(content)})
		}
		whole.Blocks = document.Asked(kind, whole.Blocks, uuid.NewString)
		if err := whole.Check(); err != nil {
			return problem(http.StatusUnprocessableEntity, sentence(err))
		}
		d, err = s.Store.Documents.CreateShowing(ctx, whole, folder, accountOf(c).Viewer())
	default:
		d, err = s.Store.Documents.Create(ctx, kind, in.Title, folder, by)
	}
	if err == nil && in.From != nil {
		err = s.Store.Documents.Relate(ctx, d.ID, in.From.Document, of(in.From.Block))
	}
	return s.created(c, d, err)
}

func (s *Server) created(c *gin.Context, d store.Document, err error) error {
	if err != nil {
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusCreated, s.summary(d))
}

// GetDocument answers with a document, whole.
func (s *Server) GetDocument(c *gin.Context, id string, params api.GetDocumentParams) error {
	key, keeps := s.keptAnswer(c, id)
	if raw, there := s.answers.Get(key); there && keeps {
		return sent(c, "application/json; charset=utf-8", raw)
	}
	w, err := s.visible(c, id, of(params.Composed))
	if err != nil {
		return err
	}
	out := s.documentAnswer(w.Whole)
	if reviews(c) {
		removed := blocks(w.Removed, document.Numbers{})
		out.Removed = &removed
	} else {
		forReader(&out)
	}
	raw, err := json.Marshal(out)
	if err != nil {
		return err
	}
	if keeps {
		s.answers.Add(key, raw)
	}
	return sent(c, "application/json; charset=utf-8", raw)
}

// keptAnswer names what one who only reads gets of a document: it is the same for all to whom the same is open, until
// something is released or closed. Not so for others, who see it change.
func (s *Server) keptAnswer(c *gin.Context, id string) (key string, keeps bool) {
	v := versionsOf(c.Request.Context())
	return fmt.Sprint(id, v, accountOf(c).Closed, s.Store.Today()), !reviews(c) && v.released > 0
}

// documentAnswer is a document as the API has it, with what those need who see drafts.
func (s *Server) documentAnswer(w store.Whole) api.Document {
	d := w.Core().Timed(w.Around)
	names, others := d.Names(w.Around.Titles(), nil), w.Around
	if others == nil {
		others = document.Around{}
	}
	out := api.Document{
		Summary: s.summary(w.Document), Facts: w.Facts, FactsVersion: w.FactsVersion, Seq: w.Seq, Blocks: blocks(w.Rows, d.Numbers()), Shots: shots(w.Shots),
		Names: &names, Others: (*api.Others)(&others),
	}
	left := d.Left()
	sizes := map[string]figure.Size{}
	for _, shot := range w.Shots {
		sizes[shot.ID] = figure.Size{W: shot.Width, H: shot.Height}
	}
	for i, b := range out.Blocks {
		seen, clips := map[string]api.Seen{}, map[string]int{}
		for _, f := range b.Content.Figures {
			if f.Clip != nil {
				clips[f.ID] = f.Clip.Length()
			}
			if size, known := sizes[f.Shot]; known {
				seen[f.ID] = f.Seen(size)
			}
		}
		if len(seen) > 0 {
			out.Blocks[i].Seen = &seen
		}
		if len(clips) > 0 {
			out.Blocks[i].Clips = &clips
		}
		if time := left[b.Id].About(); time != "" {
			out.Blocks[i].Left = &time
		}
	}
	if signal := d.Signal(); signal != "" {
		out.Signal = (*api.DocumentSignal)(&signal)
	}
	if time := d.Time().About(); time != "" {
		out.Time = &time
	}
	return out
}

// forReader leaves out what readers do not need to follow a document and could tell of what is concealed: marks,
// and all that is known of shots. Pictures reach them finished.
func forReader(d *api.Document) {
	d.Shots = []api.Shot{}
	for _, b := range d.Blocks {
		for i, f := range b.Content.Figures {
			b.Content.Figures[i] = figure.Figure{ID: f.ID, Alt: f.Alt, Marks: []figure.Mark{}}
		}
	}
}

// blocks are rows as the API has them, with their numbers.
func blocks(rows []store.Block, n document.Numbers) []api.Block {
	out := make([]api.Block, 0, len(rows))
	answers := slices.ContainsFunc(rows, func(r store.Block) bool { return r.Content.Asks == document.Happened })
	stepped := false
	for _, r := range rows {
		content := r.Content
		content.Figures = slices.Clone(content.Figures)
		if content.Figures == nil {
			content.Figures = []api.Figure{}
		}
		b := api.Block{
			Id: r.ID, Order: r.OrderKey, Version: r.Version, Content: content, Markers: n.Tags(content.Figures), Alts: content.Alts(),
		}
		if number := n.Blocks[r.ID]; number != "" {
			b.Number = &number
		}
		if question := questionOver(r, answers && !stepped); question != "" {
			b.Question = &question
		}
		stepped = stepped || r.Type == document.Step
		if r.Removed {
			b.Removed = &r.Removed
		}
		if r.ChangedName != "" {
			b.ChangedBy = &r.ChangedName
		}
		out = append(out, b)
	}
	return out
}

// questionOver is the question that a block answers; over the first step, what the steps are.
func questionOver(r store.Block, first bool) string {
	if first && r.Type == document.Step {
		return document.Repeat
	}
	return r.Content.Asks.Said()
}

func shots(rows []store.Shot) []api.Shot {
	out := make([]api.Shot, 0, len(rows))
	for _, r := range rows {
		out = append(out, shotAnswer(r))
	}
	return out
}

func shotAnswer(r store.Shot) api.Shot {
	return api.Shot{Id: r.ID, Width: r.Width, Height: r.Height, Name: r.Name, Clip: recordingAnswer(r.Recording)}
}

// DeleteDocument deletes a document; it can be restored.
func (s *Server) DeleteDocument(c *gin.Context, id string) error { return s.setDeleted(c, id, true) }

// RestoreDocument brings a deleted document back.
func (s *Server) RestoreDocument(c *gin.Context, id string) error { return s.setDeleted(c, id, false) }

func (s *Server) setDeleted(c *gin.Context, id string, deleted bool) error {
	d, err := s.Store.Documents.SetDeleted(c.Request.Context(), id, deleted, accountOf(c).ID)
	if err != nil {
		return err
	}
	s.Works.Rouse()
	s.publish(d, "")
	s.publishRevision(d)
	return empty(c, nil)
}

// DuplicateDocument makes a copy.
func (s *Server) DuplicateDocument(c *gin.Context, id string) error {
	d, err := s.Store.Documents.Duplicate(c.Request.Context(), id, "", nil, accountOf(c).ID)
	return s.created(c, d, err)
}

// GetChanges answers with what changed after a state of the document. The document is read before
// its steps: its state number may then be too low, which only makes the client ask again.
func (s *Server) GetChanges(c *gin.Context, id string, params api.GetChangesParams) error {
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err != nil {
		return err
	}
	rows, err := s.Store.Documents.ChangedBlocks(c.Request.Context(), id, params.Since)
	if err != nil {
		return err
	}
	return s.answerChanges(c, http.StatusOK, d, rows)
}

func (s *Server) answerChanges(c *gin.Context, code int, d store.Document, rows []store.Block) error {
	used, err := s.Store.Captures.ShotsOf(c.Request.Context(), rows)
	if err != nil {
		return err
	}
	return answer(c, code, api.Changes{
		Seq: d.Seq, Facts: d.Facts, FactsVersion: d.FactsVersion, State: api.State(d.State), Revision: d.Revision,
		ChangedBy: &d.ChangedName, Blocks: blocks(rows, document.Numbers{}), Shots: shots(used),
	})
}

// Change applies edits.
func (s *Server) Change(c *gin.Context, id string, in api.ChangeJSONRequestBody) error {
	change, err := readChange(in)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err))
	}
	seq, err := s.Store.Documents.Apply(c.Request.Context(), id, change, accountOf(c).Viewer())
	var conflict store.Conflict
	code, touched := http.StatusOK, make([]string, 0, len(change.Blocks))
	switch {
	case errors.As(err, &conflict):
		code, touched = http.StatusConflict, conflict.Blocks
	case err != nil:
		return err
	default:
		for _, e := range change.Blocks {
			touched = append(touched, e.ID)
		}
	}
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err != nil {
		return err
	}
	rows, err := s.Store.Documents.BlocksByID(c.Request.Context(), id, touched)
	if err != nil {
		return err
	}
	if code == http.StatusOK {
		d.Seq = seq // others may have changed more since: the client has not seen that yet
		s.publish(d, change.ID)
	}
	return s.answerChanges(c, code, d, rows)
}

// readChange checks a change that came from outside.
func readChange(in api.Change) (store.Change, error) {
	out := store.Change{ID: in.Id}
	if !id.Valid(in.Id) {
		return out, errors.New("the change has no usable id")
	}
	if in.Facts != nil {
		if err := in.Facts.Facts.Check(); err != nil {
			return out, err
		}
		out.Facts = &store.FactsEdit{Base: in.Facts.Base, Facts: in.Facts.Facts}
	}
	seen := map[string]bool{}
	for _, e := range in.Blocks {
		if err := (document.Block{ID: e.Id, Content: e.Content}).Check(); err != nil {
			return out, err
		}
		if !document.ValidOrder(e.Order) || seen[e.Id] {
			return out, fmt.Errorf("block %s has no usable place", e.Id)
		}
		seen[e.Id] = true
		out.Blocks = append(out.Blocks, store.BlockEdit{ID: e.Id, Base: e.Base, OrderKey: e.Order, Removed: e.Removed, Content: e.Content})
	}
	return out, nil
}

// SetState releases a document, or makes it a draft again.
func (s *Server) SetState(c *gin.Context, id string, in api.SetStateJSONRequestBody) error {
	findings, err := s.Store.Releases.SetState(c.Request.Context(), id, document.Act(in.Act), in.Seq, of(in.Instead), accountOf(c).Viewer())
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "Someone changed the document since you saw it. Read what is new, then try again.")
	}
	if err != nil {
		return err
	}
	if readiness.Blocks(findings) {
		return answer(c, http.StatusUnprocessableEntity, api.Findings{
			Message: "The document can't be released before these are fixed.", Findings: findings,
		})
	}
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err != nil {
		return err
	}
	s.publish(d, "")
	s.publishRevision(d)
	if in.Act == api.SetStateJSONBodyActRelease {
		s.Works.Released(c.Request.Context(), d)
	}
	return answer(c, http.StatusOK, s.summary(d))
}

// GetPages answers with the computed pages.
func (s *Server) GetPages(c *gin.Context, id string, params api.GetPagesParams) error {
	layout := style.Own
	if params.Layout != nil {
		layout = *params.Layout
	}
	if layout != style.Own && !layout.Known() {
		return problem(http.StatusBadRequest, fmt.Sprintf("There is no layout %q.", layout))
	}
	w, err := s.revised(c, id, params.Revision)
	var st style.Style
	if err == nil {
		st, err = s.Works.StyleOf(c.Request.Context(), w.Whole)
	}
	if err != nil {
		return err
	}
	key := fmt.Sprintf("%s layout %s style %x", w.Key, layout, st.Sum())
	raw, kept := s.pages.Get(key)
	if !kept {
		raw, err = s.laying.Do(c.Request.Context(), key, func(ctx context.Context) ([]byte, error) {
			ctx, cancel := context.WithTimeout(ctx, longestLayout)
			defer cancel()
			pages, err := s.Works.Pages(ctx, w.Whole, layout)
			if errors.Is(err, context.DeadlineExceeded) {
				return nil, refusal.New("This document has more words than can be laid out at once. Make several documents of it.")
			}
			if err != nil {
				return nil, err
			}
			raw, err := json.Marshal(pages)
			if err == nil {
				s.pages.Add(key, raw)
			}
			return raw, err
		})
	}
	if err != nil {
		return err
	}
	return sent(c, "application/json; charset=utf-8", raw)
}

// longestLayout is how long someone waits for the pages of a document.
const longestLayout = 7 * time.Second

// publish tells other browsers that a document changed. Readers learn of revisions only.
func (s *Server) publish(d store.Document, change string) {
	s.tellReviewers("document", d.ID, documentEvent{Document: d.ID, Seq: d.Seq, Change: change})
}

// publishRevision tells readers that there is another revision, or that there is none for them any more.
func (s *Server) publishRevision(d store.Document) {
	if d.Revision > 0 {
		s.tellReaders("document", d.ID, documentEvent{Document: d.ID, Seq: int64(d.Revision)})
	}
}
