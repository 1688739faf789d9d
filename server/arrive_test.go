package server_test

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"testing"

	"raconte/api"
	"raconte/platform/mail"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAMailBecomesARequestOnceAndItsAnswersAreSaidOfIt(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewRGBA(image.Rect(0, 0, 40, 30))))
	m := mail.Arrived{ID: "m1@dock.example", From: "ruta@dock.example", Name: "Ruta", Subject: "Labels blank", Text: "Both are blank.", Pictures: [][]byte{picture.Bytes(), []byte("<svg/>")}}
	for range 2 {
		require.NoError(t, h.Works.Arrive(t.Context(), m))
	}
	_, body := ines.do("GET", "/api/inbox", nil)
	inbox := decoded[[]api.Incoming](t, body)
	require.Len(t, inbox, 1)
	assert.Equal(t, []string{"Labels blank", "Ruta", "ruta@dock.example"}, []string{inbox[0].Title, inbox[0].Asker, inbox[0].Address})
	_, body = ines.do("GET", "/api/documents/"+inbox[0].Document, nil)
	d := decoded[api.Document](t, body)
	assert.Len(t, d.Blocks[1].Content.Figures, 1, "what is no picture is left out")
	assert.Contains(t, d.Blocks[1].Content.Words.Reading(nil), "Both are blank.")
	assert.Contains(t, d.Blocks[1].Content.Words.Reading(nil), "Picture 2 of the mail could not be taken")
	again := mail.Arrived{ID: "m2@dock.example", From: "ruta@dock.example", Subject: "RE: Labels blank", Text: "It works now.", Pictures: [][]byte{picture.Bytes()}}
	for range 2 {
		require.NoError(t, h.Works.Arrive(t.Context(), again))
	}
	_, body = ines.do("GET", "/api/documents/"+inbox[0].Document+"/comments", nil)
	threads := decoded[[]api.Thread](t, body)
	require.Len(t, threads, 1)
	assert.Contains(t, threads[0].Comments[0].Body, "It works now.")
	_, body = ines.do("GET", "/api/documents/"+inbox[0].Document, nil)
	assert.Len(t, decoded[api.Document](t, body).Blocks[1].Content.Figures, 2, "its picture, once")
	// A database that fails is no reason to lose a picture: the mail is sent again.
	ended, end := context.WithCancel(t.Context())
	end()
	assert.Error(t, h.Works.Arrive(ended, mail.Arrived{ID: "m4", From: "ruta@dock.example", Subject: "New", Text: "x", Pictures: [][]byte{picture.Bytes()}}))
	require.NoError(t, h.Works.Arrive(t.Context(), mail.Arrived{ID: "m3", From: "other@dock.example", Subject: "Re: Labels blank", Text: "Mine too"}))
	_, body = ines.do("GET", "/api/inbox", nil)
	assert.Len(t, decoded[[]api.Incoming](t, body), 2, "another person's is a request of its own")
	assert.ErrorIs(t, h.Works.Arrive(t.Context(), mail.Arrived{Text: "x"}), mail.ErrUnwanted)
}
