// Standin runs the stand-ins for what a house has outside Raconte: a mail server and an identity provider. They listen on 127.0.0.1 only.
package main

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"strconv"
	"syscall"
	"time"

	"raconte/standin/identity"
	"raconte/standin/mail"

	"github.com/caarlos0/env/v11"
)

type settings struct {
	Data     string `env:"RACONTE_DATA" envDefault:".data"`
	MailPort int    `env:"RACONTE_MAIL_PORT" envDefault:"8422"` // SMTP; its page is one above, the identity provider two
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
	page, err := listen(c.MailPort + 1)
	if err != nil {
		return err
	}
	provider, err := listen(c.MailPort + 2)
	if err != nil {
		return err
	}
	people, err := identity.New("http://127.0.0.1:" + strconv.Itoa(c.MailPort+2))
	if err != nil {
		return err
	}
	box := &mail.Box{}
	failed := make(chan error, 3)
	go func() { failed <- box.Serve(smtp, &certificate) }()
	pages := &http.Server{Handler: box, ReadHeaderTimeout: 10 * time.Second}
	go func() { failed <- pages.Serve(page) }()
	signins := &http.Server{Handler: people, ReadHeaderTimeout: 10 * time.Second}
	go func() { failed <- signins.Serve(provider) }()
	select {
	case err = <-failed:
	case <-ctx.Done():
	}
	return errors.Join(err, smtp.Close(), pages.Close(), signins.Close())
}

func listen(port int) (net.Listener, error) {
	l, err := net.Listen("tcp", "127.0.0.1:"+strconv.Itoa(port))
	if err != nil {
		return nil, fmt.Errorf("port %d can't be used: %w; set RACONTE_MAIL_PORT to another", port, err)
	}
	return l, nil
}
