package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"os"
	"os/signal"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"raconte/core/access"
	"raconte/engines/fonts"
	"raconte/engines/ocr"
	"raconte/engines/voice"
	"raconte/platform/blobs"
	"raconte/platform/mail"
	"raconte/platform/packed"
	"raconte/platform/seal"
	"raconte/practice/demo"
	"raconte/server"
	"raconte/store"
	"raconte/web"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/caarlos0/env/v11"
	"github.com/spf13/cobra"
)

// settings come from the environment; the README lists them.
type settings struct {
	Port     int    `env:"RACONTE_PORT" envDefault:"8420"`
	Data     string `env:"RACONTE_DATA" envDefault:".data"`
	Database string `env:"RACONTE_DATABASE"` // a DSN of the Go MySQL driver
	Address  string `env:"RACONTE_ADDRESS"`
	Zone     string `env:"RACONTE_ZONE"` // of the house, as Europe/London: in which a day is a day; the server's where none is given
	House    string `env:"RACONTE_HOUSE" envDefault:"Pellworth Growers’ Cooperative"`
	Pictures string `env:"RACONTE_PICTURES"` // a folder, by default pictures in Data
	Reads    string `env:"RACONTE_OCR_LANGUAGES" envDefault:"eng"`
	// Proxies are believed when they say on whose behalf they ask.
	Proxies []string `env:"RACONTE_TRUSTED_PROXIES"`
	// Places are where standing deliveries go: Intranet=/srv/manuals,Archive=s3://bucket?prefix=manuals/
	Places []string `env:"RACONTE_PLACES"`
	// Mail is how the house's mail server is reached; "" sends none.
	Mail string `env:"RACONTE_MAIL"`
	// Standins says that the stand-ins run, from a port on; the demo sets them up as receivers.
	Standins string `env:"RACONTE_STANDIN"` // on or off
	// MailIn is a port of 127.0.0.1 at which mails are taken as requests, by SMTP; 0 takes none.
	MailIn   int `env:"RACONTE_MAIL_IN_PORT"`
	MailPort int `env:"RACONTE_MAIL_PORT" envDefault:"8422"`
	// Key seals what is secret of receivers: 32 bytes in base64. Where it is not given, one is kept in a file in Data.
	Key string `env:"RACONTE_KEY"`
	// Voice is a command that reads a text and writes what is said as WAV; espeak-ng where none is set.
	Voice string `env:"RACONTE_VOICE"`
	// The house's identity provider, by OpenID Connect; no Issuer is none.
	Identity struct {
		Issuer string            `env:"ISSUER"`
		Client string            `env:"CLIENT"`
		Secret string            `env:"SECRET"`
		Name   string            `env:"NAME" envDefault:"your house"`
		Roles  map[string]string `env:"ROLES" envDefault:"reader:*"` // role:group of the provider; * is everybody
	} `envPrefix:"RACONTE_OIDC_"`
}

func readSettings() (settings, error) {
	c, err := env.ParseAs[settings]()
	if err != nil {
		return c, fmt.Errorf("reading the configuration: %w", err)
	}
	if c.Port < 1 || c.Port > 65535 {
		return c, errors.New("RACONTE_PORT is not a port")
	}
	if c.Address == "" {
		c.Address = "http://127.0.0.1:" + strconv.Itoa(c.Port)
	}
	if c.Pictures == "" {
		c.Pictures = filepath.Join(c.Data, "pictures")
	}
	if c.Database == "" {
		return c, errors.New("RACONTE_DATABASE is not set; make start sets it")
	}
	return c, nil
}

// key is that by which secrets are sealed.
func (c settings) key() (seal.Key, error) {
	if c.Key != "" {
		return seal.Parse(c.Key)
	}
	return seal.File(filepath.Join(c.Data, "key"))
}

// house is everything a server command works with.
type house struct {
	settings
	store  *store.Store
	bucket *blobs.Bucket
	server *server.Server
	works  *works.Works
	maker  *pictures.Maker
	log    *slog.Logger
}

func openHouse(ctx context.Context) (*house, error) {
	c, err := readSettings()
	if err != nil {
		return nil, err
	}
	fonts.Register()
	h := &house{settings: c, log: slog.New(slog.NewJSONHandler(os.Stderr, nil))}
	if h.store, err = store.Open(ctx, c.Database); err != nil {
		return nil, err
	}
	if c.Zone != "" {
		zone, err := time.LoadLocation(c.Zone)
		if err != nil {
			return nil, fmt.Errorf("RACONTE_ZONE: %w", err)
		}
		h.store.In(zone)
	}
	if h.bucket, err = blobs.OpenFolder(ctx, c.Pictures); err != nil {
		return nil, err
	}
	h.maker = pictures.New(h.store, h.bucket, h.log)
	files, err := fs.Sub(web.Built, "dist")
	if err != nil {
		return nil, fmt.Errorf("finding the built interface: %w", err)
	}
	reader, err := ocr.Find(ctx, c.Reads)
	if err != nil {
		h.log.Warn("text in pictures is not read", "reason", err.Error())
	}
	finder, err := works.FindsFaces()
	if err != nil {
		return nil, err
	}
	h.works = &works.Works{Likeness: finder, Store: h.store, Pictures: h.maker, Blobs: h.bucket, Reader: reader, Log: h.log, Address: c.Address, House: c.House, Speaker: voice.Find(c.Voice)}
	if h.works.Places, err = openPlaces(ctx, c.Places); err != nil {
		return nil, err
	}
	if h.works.Mail, err = mail.Parse(c.Mail); err != nil {
		return nil, fmt.Errorf("RACONTE_MAIL: %w", err)
	}
	if h.works.Key, err = c.key(); err != nil {
		return nil, fmt.Errorf("RACONTE_KEY: %w", err)
	}
	if err := h.works.SealKept(ctx); err != nil {
		return nil, err
	}
	identity, err := c.identity()
	if err != nil {
		return nil, err
	}
	h.server, err = server.New(server.Config{
		Store: h.store, Pictures: h.maker, Works: h.works, Web: packed.New(files), Log: h.log, Address: c.Address, Proxies: c.Proxies,
		Key: filepath.Join(c.Data, "recorder.pem"), Identity: identity,
	})
	return h, err
}

// identity is the house's identity provider; nil where none is set.
func (c settings) identity() (*server.Identity, error) {
	o := c.Identity
	if o.Issuer == "" {
		return nil, nil
	}
	roles := map[access.Role]string{}
	for role, group := range o.Roles {
		if !access.Role(role).Known() {
			return nil, fmt.Errorf("RACONTE_OIDC_ROLES: there is no role %q", role)
		}
		roles[access.Role(role)] = group
	}
	return server.NewIdentity(o.Name, o.Issuer, o.Client, o.Secret, c.Address, roles), nil
}

// openPlaces opens the places of standing deliveries, each given as a name and where it is.
func openPlaces(ctx context.Context, all []string) ([]works.Place, error) {
	var places []works.Place
	for _, one := range all {
		name, address, ok := strings.Cut(one, "=")
		if name = strings.TrimSpace(name); !ok || name == "" || len(name) > 64 {
			return nil, fmt.Errorf("RACONTE_PLACES: %q is no name and place, as in Intranet=/srv/manuals", one)
		}
		bucket, err := blobs.OpenPlace(ctx, strings.TrimSpace(address))
		if err != nil {
			return nil, fmt.Errorf("RACONTE_PLACES: %s: %w", name, err)
		}
		places = append(places, works.Place{Name: name, Bucket: bucket})
	}
	return places, nil
}

func (h *house) close() {
	for _, p := range h.works.Places {
		_ = p.Bucket.Close()
	}
	_ = h.bucket.Close()
	_ = h.store.Close()
}

func serverCommands() []*cobra.Command {
	serve := &cobra.Command{
		Use:   "serve",
		Short: "Serve the web application on 127.0.0.1",
		Args:  cobra.NoArgs,
		RunE:  run(serve),
	}
	load := &cobra.Command{
		Use:   "demo",
		Short: "Load the demo's accounts and documents, once",
		Args:  cobra.NoArgs,
		RunE: run(func(cmd *cobra.Command, _ []string) error {
			h, err := openHouse(cmd.Context())
			if err != nil {
				return err
			}
			defer h.close()
			if err := demo.Load(cmd.Context(), h.store, h.maker, h.bucket); err != nil || h.Standins != "on" {
				return err
			}
			return demo.SetUp(cmd.Context(), h.works, h.MailPort)
		}),
	}
	return []*cobra.Command{serve, load}
}

const (
	workers    = 2
	sweepEvery = 6 * time.Hour
)

func serve(cmd *cobra.Command, _ []string) error {
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	h, err := openHouse(ctx)
	if err != nil {
		return err
	}
	defer h.close()
	listener, err := net.Listen("tcp", "127.0.0.1:"+strconv.Itoa(h.Port))
	if err != nil {
		return fmt.Errorf("port %d can't be used: %w; set RACONTE_PORT to another", h.Port, err)
	}
	var mails net.Listener
	if h.MailIn > 0 {
		if mails, err = net.Listen("tcp", "127.0.0.1:"+strconv.Itoa(h.MailIn)); err != nil {
			return fmt.Errorf("port %d can't be used: %w; set RACONTE_MAIL_IN_PORT to another", h.MailIn, err)
		}
		context.AfterFunc(ctx, func() { _ = mails.Close() })
	}
	h.log.Info("serving", "address", h.Address)
	idle := make(chan struct{})
	go func() {
		defer close(idle)
		var all sync.WaitGroup
		all.Go(func() { h.works.Run(ctx, workers) })
		all.Go(func() { h.sweep(ctx) })
		if mails != nil {
			all.Go(func() {
				if err := mail.Listen(mails, func(m mail.Arrived) error { return h.works.Arrive(ctx, m) }); err != nil && ctx.Err() == nil {
					h.log.Error("taking mails", "error", err)
				}
			})
		}
		all.Wait()
	}()
	err = h.server.Serve(ctx, listener)
	stop()
	select {
	case <-idle:
	case <-time.After(grace): // what is cut off is begun again at the next start
		h.log.Warn("background work did not end in time and is cut off")
	}
	return err
}

// grace is how long background work has to put itself aside when the server stops.
const grace = 12 * time.Second

// sweep removes what nothing uses any more, at the start and a few times a day.
func (h *house) sweep(ctx context.Context) {
	tick := time.NewTicker(sweepEvery)
	defer tick.Stop()
	for {
		if err := h.works.Sweep(ctx, time.Now()); err != nil && ctx.Err() == nil {
			h.log.Error("sweeping", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}
