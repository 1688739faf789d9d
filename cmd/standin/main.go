// Standin runs the stand-ins for what a house has outside Raconte: a mail server, an identity provider, a tracker of
// faults and a support chat. They listen on 127.0.0.1 only.
package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"strconv"
	"syscall"
	"time"

	"raconte/practice/standin/chat"
	"raconte/practice/standin/identity"
	"raconte/practice/standin/mail"
	"raconte/practice/standin/tracker"

	"github.com/caarlos0/env/v11"
)

type settings struct {
	Data     string `env:"RACONTE_DATA" envDefault:".data"`
	MailPort int    `env:"RACONTE_MAIL_PORT" envDefault:"8422"` // SMTP; above it are its page, the identity provider, the tracker and the chat
	Port     int    `env:"RACONTE_PORT" envDefault:"8420"`      // of Raconte, which the tracker tells of what happens
}

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "standin:", err)
		os.Exit(1)
	}
}

func run() error {
	c, err := env.ParseAs[settings]()
	if err != nil {
		return fmt.Errorf("reading the configuration: %w", err)
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	certificate, err := mail.Certificate(filepath.Join(c.Data, "standin-mail.pem"))
	if err != nil {
		return err
	}
	smtp, err := listen(c.MailPort)
	if err != nil {
		return err
	}
	people, err := identity.New(address(c.MailPort + 2))
	if err != nil {
		return err
	}
	box := &mail.Box{}
	faults := &tracker.Tracker{
		Address: address(c.MailPort + 3), Tell: address(c.Port) + "/api/told/" + tracker.Receiver, Key: tracker.Token, Log: slog.New(slog.NewJSONHandler(os.Stderr, nil)),
	}
	failed := make(chan error, 5)
	closing := []func() error{smtp.Close}
	go func() { failed <- box.Serve(smtp, &certificate) }()
	for i, handler := range []http.Handler{box, people, faults, chat.New(address(c.MailPort + 4))} {
		l, err := listen(c.MailPort + 1 + i)
		if err != nil {
			return err
		}
		s := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute}
		closing = append(closing, s.Close)
		go func() { failed <- s.Serve(l) }()
	}
	select {
	case err = <-failed:
	case <-ctx.Done():
	}
	for _, end := range closing {
		err = errors.Join(err, end())
	}
	return err
}

func address(port int) string { return "http://127.0.0.1:" + strconv.Itoa(port) }

func listen(port int) (net.Listener, error) {
	l, err := net.Listen("tcp", "127.0.0.1:"+strconv.Itoa(port))
	if err != nil {
		return nil, fmt.Errorf("port %d can't be used: %w; set RACONTE_MAIL_PORT to another", port, err)
	}
	return l, nil
}
