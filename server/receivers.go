package server

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/comment"
	"raconte/core/receiver"
	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/engines/media"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// ListReceivers answers with where reports and requests can go.
func (s *Server) ListReceivers(c *gin.Context) error {
	all, err := s.Store.Exchange.Receivers(c.Request.Context())
	if err != nil {
		return err
	}
	out := []api.KeptReceiver{}
	for _, r := range all {
		out = append(out, s.receiverAnswer(r, may(c, access.Administer, access.Thing{})))
	}
	return answer(c, http.StatusOK, out)
}

// receiverAnswer is a receiver; how it is reached is for those who administer, and its secrets are for nobody.
func (s *Server) receiverAnswer(r store.Receiver, whole bool) api.KeptReceiver {
	r.Content.ID = r.ID
	if addressed, err := s.Works.WithAddresses(r.Content); err == nil {
		r.Content = addressed
	} else {
		s.Log.Error("opening the addresses of a receiver", "receiver", r.Name, "error", err)
		r.Content.Reached = receiver.Reached{} // they can be entered again
	}
	out := api.KeptReceiver{Id: r.ID, Name: r.Name, Way: string(r.Content.Way), Takes: r.Content.Takes, Version: r.Version, Where: whereTo(r.Content)}
	if whole {
		shown := works.Shown(r.Content)
		shown.ID, shown.Name = r.ID, r.Name
		out.Receiver = &shown
	}
	return out
}

// whereTo is whom a receiver reaches, in short.
func whereTo(r receiver.Receiver) string {
	address := r.Reached.Address
	switch r.Way {
	case receiver.Mail:
		return r.Reached.To
	case receiver.Folder:
		return r.Reached.Place
	case receiver.HTTP:
		address = r.Reached.Make.Address
	}
	u, err := url.Parse(strings.NewReplacer("{", "", "}", "").Replace(address))
	if err != nil {
		return ""
	}
	return u.Host
}

// AddReceiver sets one up.
func (s *Server) AddReceiver(c *gin.Context, in api.AddReceiverJSONRequestBody) error {
	return s.saveReceiver(c, store.Receiver{ID: store.NewReceiver()}, in, http.StatusCreated)
}

// ChangeReceiver changes one.
func (s *Server) ChangeReceiver(c *gin.Context, id string, in api.ChangeReceiverJSONRequestBody) error {
	was, err := s.Store.Exchange.Receiver(c.Request.Context(), id)
	if err != nil || was.Deleted {
		return errors.Join(err, store.ErrNotFound)
	}
	was.Version = in.Version
	return s.saveReceiver(c, was, in.Receiver, http.StatusOK)
}

func (s *Server) saveReceiver(c *gin.Context, was store.Receiver, in receiver.Receiver, code int) error {
	in.ID, was.Content.ID = was.ID, was.ID
	in.Name = strings.TrimSpace(in.Name)
	if err := in.Check(); err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err)+" Nothing was changed.")
	}
	sealed, err := s.Works.Sealed(in, was.Content)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err)+" Enter it. Nothing was changed.")
	}
	was.Name, was.Content = in.Name, sealed
	r, err := s.Store.Exchange.SaveReceiver(c.Request.Context(), was, accountOf(c).ID)
	switch {
	case errors.Is(err, store.ErrConflict):
		return problem(http.StatusConflict, "Someone else has changed it. Look at it again: nothing of yours was kept.")
	case errors.Is(err, store.ErrLimit):
		return refusal.New("There are as many receivers as a house may have.")
	case err != nil:
		return err
	}
	return answer(c, code, s.receiverAnswer(r, true))
}

// DeleteReceiver takes one out of the choice.
func (s *Server) DeleteReceiver(c *gin.Context, id string) error {
	return empty(c, s.Store.Exchange.DeleteReceiver(c.Request.Context(), id, accountOf(c).ID))
}

// parcel makes what of a document goes to a receiver. Few are made at a time.
func (s *Server) parcel(c *gin.Context, id, to string) (works.Parcel, error) {
	w, err := s.Store.Documents.Whole(c.Request.Context(), id)
	var r receiver.Receiver
	if err == nil {
		r, err = s.Works.Receiver(c.Request.Context(), to)
	}
	if err != nil {
		return works.Parcel{}, err
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestWeighing)
	defer cancel()
	select {
	case s.weighing <- struct{}{}:
		defer func() { <-s.weighing }()
	case <-ctx.Done():
		return works.Parcel{}, ctx.Err()
	}
	attached, err := s.Store.Documents.Attachments(ctx, id)
	if err != nil {
		return works.Parcel{}, err
	}
	key := fmt.Sprintf("%s %d %s %s %s %s", id, w.Seq, to, jsonText(r.Takes), jsonText(attached), accountOf(c).Closed) // per what its viewer may see
	if p, known := s.parcels.Get(key); known {
		return p, nil
	}
	p, err := s.Works.Parcel(ctx, w, r, 0, accountOf(c).Viewer(), false)
	if err != nil {
		return p, err
	}
	s.parcels.Add(key, p)
	return p, nil
}

func jsonText(v any) string {
	raw, _ := json.Marshal(v)
	return string(raw)
}

// GetParcel answers with what would go.
func (s *Server) GetParcel(c *gin.Context, id string, params api.GetParcelParams) error {
	p, err := s.parcel(c, id, params.Receiver)
	if err != nil {
		return err
	}
	out := api.Parcel{Title: p.Title, Text: p.Text, Said: p.Said, Form: api.ParcelForm(p.Form), Left: orNil(p.Left), Over: []string{}}
	out.Files = make([]struct {
		Bytes int64   `json:"bytes"`
		Name  string  `json:"name"`
		Share float32 `json:"share"`
		Type  string  `json:"type"`
	}, len(p.Files))
	for i, f := range p.Files {
		out.Files[i].Name, out.Files[i].Type, out.Files[i].Bytes, out.Files[i].Share = f.Name, f.Type, int64(len(f.Data)), float32(p.Shares[i])
	}
	for _, o := range p.Over {
		out.Over = append(out.Over, o.Said())
	}
	return answer(c, http.StatusOK, out)
}

// GetParcelFile answers with a file as it would go.
func (s *Server) GetParcelFile(c *gin.Context, id string, file int, params api.GetParcelFileParams) error {
	p, err := s.parcel(c, id, params.Receiver)
	if err != nil {
		return err
	}
	if file >= len(p.Files) {
		return store.ErrNotFound
	}
	c.Header("Cache-Control", "private, no-store")
	how := "inline"
	if !strings.HasPrefix(p.Files[file].Type, "image/") && p.Files[file].Type != media.MP4.Type && p.Files[file].Type != "application/pdf" {
		how = "attachment" // it may be anything
	}
	c.Header("Content-Disposition", how)
	return sent(c, p.Files[file].Type, p.Files[file].Data)
}

// ListSendings answers with where a document was sent.
func (s *Server) ListSendings(c *gin.Context, id string) error {
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	var all []store.Sending
	if err == nil {
		all, err = s.Store.Exchange.Sendings(c.Request.Context(), id)
	}
	if err != nil {
		return err
	}
	out := []api.Sending{}
	for _, n := range all {
		out = append(out, sendingAnswer(n, d))
	}
	return answer(c, http.StatusOK, out)
}

func sendingAnswer(n store.Sending, d store.Document) api.Sending {
	state := n.JobState
	if state == "" { // the job was swept: what became of it is known
		state = store.Done
		if n.SentAt == nil {
			state = store.Failed
		}
	}
	return api.Sending{
		Id: n.ID, Receiver: n.ReceiverID, Name: n.ReceiverName, State: api.SendingState(state), Error: orNil(n.JobError), Done: n.JobDone, All: n.JobTotal,
		Number: n.Number, Link: n.Link, Standing: n.Standing, By: n.SentName, At: n.SentAt, Changed: n.SentAt != nil && n.Seq != d.Seq,
	}
}

// BeginSending sends a document to a receiver in the background.
func (s *Server) BeginSending(c *gin.Context, id string, in api.BeginSendingJSONRequestBody) error {
	ctx := c.Request.Context()
	d, err := s.Store.Documents.Head(ctx, id)
	if err == nil {
		_, err = s.Works.Receiver(ctx, in.Receiver)
	}
	var n store.Sending
	if err == nil {
		n, err = s.Works.Send(ctx, id, in.Receiver, accountOf(c).ID)
	}
	if err == nil {
		n, err = s.Store.Exchange.Sending(ctx, n.ID)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusAccepted, sendingAnswer(n, d))
}

// CancelSending stops one that is on its way or waits.
func (s *Server) CancelSending(c *gin.Context, id, sending string) error {
	n, err := s.Store.Exchange.Sending(c.Request.Context(), sending)
	if err == nil && (n.DocumentID != id || n.JobID == nil) {
		err = store.ErrNotFound
	}
	if err == nil {
		err = s.Store.Jobs.CancelJob(c.Request.Context(), *n.JobID)
	}
	if err != nil {
		return err
	}
	s.tellReviewers("sending", id, documentEvent{Document: id})
	return empty(c, nil)
}

// ToldByReceiver hears what a receiver tells of what it was sent, where it is signed with the receiver's key.
func (s *Server) ToldByReceiver(c *gin.Context, id string, params api.ToldByReceiverParams, in api.ToldByReceiverJSONRequestBody) error {
	ctx := c.Request.Context()
	r, err := s.Works.Receiver(ctx, id)
	mac := hmac.New(sha256.New, []byte(r.Reached.Told))
	mac.Write(c.MustGet(gin.BodyBytesKey).([]byte))
	signed, bad := hex.DecodeString(params.XSignature256)
	if err != nil || bad != nil || r.Reached.Told == "" || !hmac.Equal(signed, mac.Sum(nil)) {
		return problem(http.StatusForbidden, "It is not signed by a receiver of this house.")
	}
	n, err := s.Store.Exchange.SendingAt(ctx, id, in.Number)
	if err == nil {
		err = s.hear(ctx, n, r.Name, in)
	}
	return empty(c, err)
}

// hear keeps what a receiver has told, and tells who has sent it.
func (s *Server) hear(ctx context.Context, n store.Sending, receiver string, in api.ToldByReceiverJSONRequestBody) error {
	d, err := s.Store.Documents.Head(ctx, n.DocumentID)
	if err != nil {
		return err
	}
	told := []string{}
	if state := text.Plain(of(in.State)); state != "" && state != n.Standing {
		if err := s.Store.Exchange.SetStanding(ctx, n.ID, state); err != nil {
			return err
		}
		told = append(told, fmt.Sprintf("“%s” is “%s” at %s now.", d.Title, state, receiver))
	}
	if said := strings.TrimSpace(of(in.Comment)); said != "" {
		by := text.Plain(of(in.By))
		if by == "" {
			by = "Someone"
		}
		c := store.Comment{
			ID: uuid.NewSHA1(uuid.NameSpaceURL, []byte("told "+n.ID+" "+in.Id)).String(), DocumentID: n.DocumentID, Place: comment.Place{}, Body: said, Mentions: []string{},
			MadeBy: n.SentBy, Guest: by, Via: receiver,
		}
		if err := s.Store.Reviews.AddComment(ctx, c); err != nil {
			return err
		}
		s.tellReviewers("comments", n.DocumentID, documentEvent{Document: n.DocumentID})
		told = append(told, fmt.Sprintf("%s says of “%s”: %s", by, d.Title, said))
	}
	s.tellReviewers("sending", n.DocumentID, documentEvent{Document: n.DocumentID})
	for i, t := range told {
		notice := store.Notice{Kind: store.AboutTold, Ref: fmt.Sprint(in.Id, i), Who: receiver, Told: t}
		if err := s.Works.Tell(ctx, d, notice, n.SentBy); err != nil {
			return err
		}
	}
	return nil
}
