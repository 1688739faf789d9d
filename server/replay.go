package server

import (
	"net/http"

	"raconte/api"
	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/replay"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// GetRuns answers with the runs that can be checked.
func (s *Server) GetRuns(c *gin.Context) error {
	runs, err := s.Store.Captures.Runs(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, runs, captureAnswer))
}

// GetRun answers with what was done in a run.
func (s *Server) GetRun(c *gin.Context, id string, params api.GetRunParams) error {
	session, shots, err := s.session(c, id)
	if err != nil {
		return err
	}
	language := ""
	if params.Language != nil {
		language = *params.Language
	}
	taken := make([]capture.Taken, len(shots))
	for i, shot := range shots {
		taken[i] = capture.Taken{Shot: shot.ID, Size: figure.Size{W: shot.Width, H: shot.Height}, About: shot.About}
	}
	return answer(c, http.StatusOK, api.Run{Name: session.Name, Steps: replay.Plan(taken, capture.LanguageOf(language))})
}

// MatchElement finds what an act used on the page as it is now.
func (s *Server) MatchElement(c *gin.Context, in api.MatchElementJSONRequestBody) error {
	return answer(c, http.StatusOK, replay.Find(in.Action, in.Size, in.Seen))
}

// GetReplays answers with what may take the place of the document's shots.
func (s *Server) GetReplays(c *gin.Context, id string) error {
	w, err := s.visible(c, id, false)
	var shots []store.Shot
	if err == nil {
		shots, err = s.Store.Captures.Replays(c.Request.Context(), accountOf(c).ID, w.Core().Shots())
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, shots, takenAnswer))
}
