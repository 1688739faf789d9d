package mail_test

import (
	"net"
	"path/filepath"
	"strconv"
	"testing"

	"raconte/platform/mail"
	standin "raconte/practice/standin/mail"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestMailsGoEncryptedToTheServerThatIsTrusted(t *testing.T) {
	file := filepath.Join(t.TempDir(), "ca.pem")
	certificate, err := standin.Certificate(file)
	require.NoError(t, err)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	box := &standin.Box{}
	go func() { _ = box.Serve(l, &certificate) }()
	address := "smtp://raconte:standin@" + l.Addr().String() + "?from=Raconte%20%3Craconte@house.example%3E"
	one := mail.Mail{ID: "a1", To: "ines@house.example", Subject: "Grüße", Text: "Schritt 3 fehlt.", HTML: "<p>Schritt 3 fehlt.</p>", Picture: []byte("\x89PNG")}

	s, err := mail.Parse(address + "&ca=" + file)
	require.NoError(t, err)
	require.NoError(t, s.Send(t.Context(), one))
	got := box.Mails()[0]
	assert.True(t, got.Secured)
	assert.Equal(t, []string{"ines@house.example", "Grüße", "Schritt 3 fehlt.", "<p>Schritt 3 fehlt.</p>", "\x89PNG"},
		[]string{got.To, got.Subject, got.Text, got.HTML, string(got.Parts["picture"])})

	one.To = "nobody@house.example"
	assert.ErrorIs(t, s.Send(t.Context(), one), mail.ErrRefused, "it is not tried again")
	one.To = "a@house.example\r\nBcc: all@house.example"
	assert.ErrorIs(t, s.Send(t.Context(), one), mail.ErrRefused)
	one.To = "ines@house.example"
	stranger, err := mail.Parse(address)
	require.NoError(t, err)
	assert.Error(t, stranger.Send(t.Context(), one), "a certificate that nobody has signed is not trusted")
	s.Password = "wrong"
	assert.Error(t, s.Send(t.Context(), one))
	assert.Len(t, box.Mails(), 1)

	for _, bad := range []string{"http://x", "smtp://?from=a@b.c", "smtp://h?from=", "smtp://h?from=a@b.c&tls=sometimes", "smtp://h:" + strconv.Itoa(1) + "x"} {
		_, err := mail.Parse(bad)
		assert.Error(t, err, bad)
	}
	off, err := mail.Parse("")
	assert.NoError(t, err)
	assert.False(t, off.On())
}
