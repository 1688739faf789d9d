package server

import (
	"cmp"
	"net/http"
	"slices"
	"strings"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/search"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

const (
	mostHits   = 40 // of a page
	mostRecent = 8
)

func of[T any](p *T) T {
	var zero T
	if p == nil {
		return zero
	}
	return *p
}

func orNil[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// Search answers with what was found.
func (s *Server) Search(c *gin.Context, p api.SearchParams) error {
	q := store.Query{
		Text: of(p.Text), Kind: document.Kind(of(p.Kind)), State: document.State(of(p.State)), Folder: of(p.Folder), Owner: of(p.Owner),
		Due: string(of(p.Due)), UsedIn: of(p.UsedIn), Pinned: of(p.Pinned), Starts: of(p.Starts), Sort: string(of(p.Sort)), After: of(p.After), Most: mostHits,
	}
	if q.Starts && !reviews(c) {
		return answer(c, http.StatusOK, []api.Hit{})
	}
	hits, err := s.Store.Search.Search(c.Request.Context(), q, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	meant := s.Store.Search.Meant(c.Request.Context(), q.Text)
	// What is said is more likely meant than what merely stands in a picture.
	slices.SortStableFunc(hits, func(a, b store.Hit) int {
		return cmp.Compare(likely(b, meant), likely(a, meant))
	})
	return answer(c, http.StatusOK, each(s, c, hits, func(h store.Hit) api.Hit { return s.hitAnswer(h, meant) }))
}

func (s *Server) hitAnswer(h store.Hit, meant []string) api.Hit {
	out := api.Hit{Document: s.summary(h.Document), Pinned: h.Pinned, Opened: h.OpenedAt, Figure: orNil(h.FigureID)}
	if len(meant) == 0 {
		return out
	}
	said := search.Shown(h.Words, meant)
	if len(said) > 0 {
		out.Said = &said
	}
	if h.BlockID == "page" {
		out.Page = &h.Place
	} else {
		out.Block = orNil(h.BlockID)
	}
	if pictured := search.Shown(h.Pictured, meant); hit(pictured) && !hit(said) {
		out.Pictured = &pictured
	}
	return out
}

func hit(parts []search.Part) bool {
	return slices.ContainsFunc(parts, func(p search.Part) bool { return p.Hit })
}

// likely is how likely something found was meant: a title most, then by how many of the words it says.
func likely(h store.Hit, meant []string) int {
	if len(meant) == 0 {
		return 0
	}
	n := 0
	said := search.Words(h.Words)
	for _, m := range meant {
		if slices.ContainsFunc(said, func(w string) bool { return strings.HasPrefix(w, m) }) {
			n++
		}
	}
	if h.BlockID == "" {
		n += 100
	}
	return n
}

// ListRecent answers with what the caller opened last.
func (s *Server) ListRecent(c *gin.Context) error {
	docs, err := s.Store.Search.Recent(c.Request.Context(), accountOf(c).Viewer(), mostRecent)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, docs, s.summary))
}

// PutShelf notes what the caller keeps at hand, and has opened.
func (s *Server) PutShelf(c *gin.Context, id string, in api.PutShelfJSONRequestBody) error {
	_, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err == nil && in.Pinned != nil {
		err = s.Store.Search.Pin(c.Request.Context(), accountOf(c).ID, id, *in.Pinned)
	}
	if err == nil && of(in.Opened) {
		err = s.Store.Search.Opened(c.Request.Context(), accountOf(c).ID, id)
	}
	return empty(c, err)
}

// PutPlace moves a document to a folder, or makes it a start for others.
func (s *Server) PutPlace(c *gin.Context, id string, in api.PutPlaceJSONRequestBody) error {
	ctx := c.Request.Context()
	_, err := s.Store.Documents.Head(ctx, id)
	if err == nil && in.Folder != nil {
		err = s.Store.Setup.Move(ctx, []string{id}, *in.Folder, accountOf(c).Viewer())
	}
	if err == nil && in.Template != nil {
		err = s.Store.Documents.SetTemplate(ctx, id, *in.Template)
	}
	var d store.Document
	if err == nil {
		d, err = s.Store.Documents.Head(ctx, id)
	}
	if err != nil {
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusOK, s.summary(d))
}

// ListFolders answers with the folders that the caller may open; who their members are is told to administrators.
func (s *Server) ListFolders(c *gin.Context) error {
	all, err := s.Store.Setup.Folders(c.Request.Context())
	if err != nil {
		return err
	}
	seen := all[:0]
	for _, f := range all {
		if may(c, access.Read, access.Thing{Folder: f.ID}) {
			if !may(c, access.Administer, access.Thing{}) {
				f.Accounts, f.Groups = nil, nil
			}
			seen = append(seen, f)
		}
	}
	return answer(c, http.StatusOK, each(s, c, seen, folderAnswer))
}

func folderAnswer(f store.Folder) api.Folder {
	return api.Folder{
		Id: f.ID, Version: f.Version, Parent: f.ParentID, Name: f.Name, Open: f.Open, Ask: f.Ask, Rule: f.Rule,
		Accounts: append([]string{}, f.Accounts...), Groups: append([]string{}, f.Groups...),
	}
}

// AddFolder adds a folder.
func (s *Server) AddFolder(c *gin.Context, in api.AddFolderJSONRequestBody) error {
	return s.putFolder(c, "", in, http.StatusCreated)
}

// PutFolder changes a folder.
func (s *Server) PutFolder(c *gin.Context, id string, in api.PutFolderJSONRequestBody) error {
	return s.putFolder(c, id, in, http.StatusOK)
}

func (s *Server) putFolder(c *gin.Context, id string, in api.NewFolder, code int) error {
	f, err := s.Store.Setup.PutFolder(c.Request.Context(), store.Folder{
		ID: id, Version: of(in.Version), ParentID: orNil(of(in.Parent)), Name: in.Name, Open: in.Open, Ask: of(in.Ask), Rule: in.Rule, Accounts: of(in.Accounts), Groups: of(in.Groups),
	}, accountOf(c))
	if err != nil {
		return err
	}
	s.events.endAll() // what is open to whom may have changed
	return answer(c, code, folderAnswer(f))
}

// DeleteFolder deletes an empty folder.
func (s *Server) DeleteFolder(c *gin.Context, id string) error {
	return empty(c, s.Store.Setup.DeleteFolder(c.Request.Context(), id))
}

// ListPeople answers with the names of all accounts.
func (s *Server) ListPeople(c *gin.Context) error {
	all, err := s.Store.Identity.Accounts(c.Request.Context())
	if err != nil {
		return err
	}
	all = slices.DeleteFunc(all, func(a store.Account) bool { return a.DisabledAt != nil })
	return answer(c, http.StatusOK, each(s, c, all, func(a store.Account) api.Person {
		return api.Person{Id: a.ID, Name: a.DisplayName, Reviews: orNil(access.May(a.Viewer(), access.Review, access.Thing{}))}
	}))
}

// ListGroups answers with the groups of people.
func (s *Server) ListGroups(c *gin.Context) error {
	all, err := s.Store.Identity.Groups(c.Request.Context())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, groupAnswer))
}

func groupAnswer(g store.Group) api.Group {
	return api.Group{Id: g.ID, Version: g.Version, Name: g.Name, Accounts: append([]string{}, g.Accounts...)}
}

// AddGroup adds a group.
func (s *Server) AddGroup(c *gin.Context, in api.AddGroupJSONRequestBody) error {
	return s.putGroup(c, "", in, http.StatusCreated)
}

// PutGroup changes a group.
func (s *Server) PutGroup(c *gin.Context, id string, in api.PutGroupJSONRequestBody) error {
	return s.putGroup(c, id, in, http.StatusOK)
}

func (s *Server) putGroup(c *gin.Context, id string, in api.NewGroup, code int) error {
	g, err := s.Store.Identity.PutGroup(c.Request.Context(), store.Group{ID: id, Version: of(in.Version), Name: in.Name, Accounts: in.Accounts}, accountOf(c))
	if err != nil {
		return err
	}
	s.events.endAll() // what is open to whom may have changed
	return answer(c, code, groupAnswer(g))
}

// DeleteGroup deletes a group.
func (s *Server) DeleteGroup(c *gin.Context, id string) error {
	err := s.Store.Identity.DeleteGroup(c.Request.Context(), id)
	s.events.endAll()
	return empty(c, err)
}

// GetHouse answers with what holds for the whole house.
func (s *Server) GetHouse(c *gin.Context) error {
	h, err := s.Store.Setup.House(c.Request.Context())
	if err != nil {
		return err
	}
	frames := strings.Fields(of(h.Frames))
	pattern := string(h.Pattern)
	return answer(c, http.StatusOK, api.House{Version: h.Version, Pattern: &pattern, Rule: &h.Rule, Frames: &frames})
}

// PutHouse changes what holds for the whole house.
func (s *Server) PutHouse(c *gin.Context, in api.PutHouseJSONRequestBody) error {
	change := store.HouseChange{Version: in.Version, Rule: in.Rule}
	if in.Pattern != nil {
		p := document.Pattern(*in.Pattern)
		change.Pattern = &p
	}
	var err error
	if in.Frames != nil {
		change.Frames, err = framesOf(*in.Frames)
	}
	if err == nil {
		err = s.Store.Setup.ChangeHouse(c.Request.Context(), change)
	}
	return empty(c, err)
}
