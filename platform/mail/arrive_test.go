package mail_test

import (
	"errors"
	"fmt"
	"net"
	"net/smtp"
	"strings"
	"testing"

	"raconte/platform/mail"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const written = "From: =?utf-8?q?R=C3=BAta?= <ruta@dock.example>\r\nTo: help@pellworth.example\r\nSubject: =?utf-8?b?TGFiZWxzIGJsYW5r?=\r\nMessage-Id: <m1@dock.example>\r\n" +
	"MIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/html; charset=iso-8859-1\r\n\r\n" +
	"<head><title>no</title></head><p>Both are <b>blank</b>.</p><script>alert(1)</script><p>Caf\xe9</p>\r\n--b\r\nContent-Type: image/png\r\nContent-Transfer-Encoding: base64\r\n\r\niVBORw0KGgo=\r\n--b--\r\n"

func TestAMailIsTakenApartAndAProgramsIsNot(t *testing.T) {
	m, err := mail.Read([]byte(written))
	require.NoError(t, err)
	assert.Equal(t, []string{"ruta@dock.example", "Rúta", "Labels blank"}, []string{m.From, m.Name, m.Subject})
	twice, err := mail.Read([]byte(written))
	require.NoError(t, err)
	assert.Equal(t, m.ID, twice.ID, "the same mail again")
	for _, change := range [][2]string{{"blank</b>", "gone</b>"}, {"iVBORw0KGgo=", "iVBORw0KGgs="}, {"ruta@", "rita@"}} {
		other, err := mail.Read([]byte(strings.ReplaceAll(strings.Replace(written, "Message-Id: <m1@dock.example>\r\n", "", 1), change[0], change[1])))
		require.NoError(t, err)
		bare, err := mail.Read([]byte(strings.Replace(written, "Message-Id: <m1@dock.example>\r\n", "", 1)))
		require.NoError(t, err)
		assert.NotEqual(t, bare.ID, other.ID, "two mails without a Message-ID: %v", change)
	}
	assert.Equal(t, "Both are blank . \nCafé", m.Text)
	assert.Len(t, m.Pictures, 1)
	m, err = mail.Read([]byte("From: a@b.c\r\nSubject: Re: x\r\n\r\nThank you\r\n> It was so\r\n-- \r\nRuta, dock 2\r\n"))
	require.NoError(t, err)
	assert.Equal(t, "Thank you", m.Text, "what it answers, and who signs, stay out")
	for _, head := range []string{"Auto-Submitted: auto-replied", "Precedence: bulk"} {
		_, err := mail.Read([]byte("From: a@b.c\r\n" + head + "\r\n\r\nI am away\r\n"))
		assert.ErrorIs(t, err, mail.ErrUnwanted)
	}
	for _, hostile := range []string{"", "\x00\x00", "Content-Type: multipart/mixed; boundary=\r\n\r\n--", strings.Repeat("Content-Type: multipart/mixed; boundary=a\r\n\r\n--a\r\n", 300)} {
		assert.NotPanics(t, func() { _, _ = mail.Read([]byte(hostile)) })
	}
}

func TestAMailNestedTenThousandDeepIsNotTaken(t *testing.T) {
	var deep strings.Builder
	deep.WriteString("From: a@b.c\r\n")
	for i := range 10_000 {
		fmt.Fprintf(&deep, "Content-Type: multipart/mixed; boundary=b%d\r\n\r\n--b%d\r\n", i, i)
	}
	_, err := mail.Read([]byte(deep.String()))
	assert.ErrorIs(t, err, mail.ErrUnwanted)
}

func TestMailsComeInBySMTP(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	came := make(chan mail.Arrived, 1)
	var fails error
	go func() { _ = mail.Listen(l, func(m mail.Arrived) error { came <- m; return fails }) }()
	require.NoError(t, smtp.SendMail(l.Addr().String(), nil, "ruta@dock.example", []string{"help@pellworth.example"}, []byte(written)))
	assert.Equal(t, "Labels blank", (<-came).Subject)
	fails = errors.New("the database is down")
	err = smtp.SendMail(l.Addr().String(), nil, "ruta@dock.example", []string{"help@pellworth.example"}, []byte(written))
	<-came
	assert.ErrorContains(t, err, "451", "whoever brings it tries again")
	assert.ErrorContains(t, smtp.SendMail(l.Addr().String(), nil, "", []string{"help@pellworth.example"}, []byte(written)), "554")
}
