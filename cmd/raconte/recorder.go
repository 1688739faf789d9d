package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"strings"
	"time"

	"raconte/core/capture"
	"raconte/core/replay"
	"raconte/core/text"
	"raconte/recorder/check"

	"github.com/google/uuid"
	"github.com/spf13/cobra"
)

func recorderCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "recorder", Short: "Go through recorded runs again"}
	cmd.AddCommand(recorderCheckCommand())
	return cmd
}

func recorderCheckCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "check RUN",
		Short: "Go through a run again in a Chromium, and say which steps no longer fit",
		Long: "Go through a run again in a Chromium, and say which steps no longer fit. RUN is the run's address in Raconte, as\n" +
			"http://127.0.0.1:8420/capture/…; a recorder's token is read from RACONTE_TOKEN. A new picture of each step is sent there.\n" +
			"It asks before anything that may send, and for what only a person can do or knows.",
		Args: cobra.ExactArgs(1),
	}
	at := cmd.Flags().String("at", "", "the address to begin at; the page that is open, with --attach")
	attach := cmd.Flags().String("attach", "", "drive the browser whose DevTools are at this address, in a new tab")
	path := cmd.Flags().String("browser", "", "the Chromium to start")
	hidden := cmd.Flags().Bool("hidden", false, "without a window")
	yes := cmd.Flags().Bool("yes", false, "do what may send without asking")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		address, id, ok := strings.Cut(args[0], "/capture/")
		token := os.Getenv("RACONTE_TOKEN")
		if !ok || token == "" {
			return exit{exitUsage, "RUN is an address as http://127.0.0.1:8420/capture/…, and RACONTE_TOKEN a recorder's token from Setup"}
		}
		f := feed{cmd.Context(), address, token}
		var plan struct {
			Name  string        `json:"name"`
			Steps []replay.Step `json:"steps"`
		}
		if err := f.get("runs/"+id, &plan); err != nil {
			return err
		}
		if len(plan.Steps) == 0 {
			return errors.New("nothing is known of what was done in this run")
		}
		t := &terminal{cmd: cmd, in: bufio.NewReader(cmd.InOrStdin()), feed: f, run: uuid.NewString(), name: "Check of " + plan.Name, yes: *yes}
		if err := check.Run(cmd.Context(), check.Browser{Path: *path, Attach: *attach, Hidden: *hidden}, *at, plan.Steps, t); err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "%d of %d steps fit. The pictures: %s/capture/%s\n", len(plan.Steps)-t.gone, len(plan.Steps), address, t.run)
		if t.odd > 0 {
			return exit{code: exitFindings}
		}
		return nil
	})
	return cmd
}

// terminal tells and asks the person at the terminal, and sends each picture.
type terminal struct {
	cmd       *cobra.Command
	in        *bufio.Reader
	feed      feed
	run, name string
	yes       bool
	n         int
	odd, gone int
}

var fits = map[capture.Fit]string{
	capture.FitSame: "as before", capture.FitMoved: "has moved", capture.FitChanged: "not quite as it was", capture.FitGone: "not found",
}

func (t *terminal) Tell(o check.Outcome) error {
	t.n++
	if o.Found.Fit != capture.FitSame {
		t.odd++
	}
	if o.Found.Fit == capture.FitGone {
		t.gone++
	}
	fmt.Fprintf(t.cmd.OutOrStdout(), "%2d  %s: %s\n", t.n, text.Shown(o.Step.Words), fits[o.Found.Fit])
	return t.feed.send(t.run, t.name, o)
}

func (t *terminal) Ask(step replay.Step, found replay.Found) (check.Answer, string, error) {
	secret := step.Action.Element != nil && step.Action.Element.Secret && found.At >= 0
	if t.yes && !found.Hand && found.Fit != capture.FitChanged { // what is unsure is always asked about
		return check.Do, "", nil
	}
	how := "y: do it, n: leave it out"
	if found.Hand {
		how = "Enter: it is done, n: leave it out"
	}
	if secret {
		how = "type it here and it is typed there, and kept nowhere; Enter: it is done"
	}
	fmt.Fprintf(t.cmd.OutOrStdout(), "    %s [%s] ", found.Ask, how)
	line, err := t.in.ReadString('\n')
	if err != nil && !errors.Is(err, io.EOF) {
		return check.Leave, "", err
	}
	line = strings.TrimRight(line, "\r\n")
	switch {
	case secret && line != "":
		return check.Do, line, nil
	case errors.Is(err, io.EOF), strings.EqualFold(line, "n"):
		return check.Leave, "", nil
	case found.Hand:
		return check.Done, "", nil
	case strings.EqualFold(line, "y"):
		return check.Do, "", nil
	}
	return check.Leave, "", nil
}

// feed is a Raconte as a recorder reaches it.
type feed struct {
	ctx            context.Context
	address, token string
}

func (f feed) get(path string, out any) error {
	req, err := http.NewRequestWithContext(f.ctx, http.MethodGet, f.address+"/api/feed/"+path, nil)
	if err != nil {
		return err
	}
	return f.do(req, out)
}

func (f feed) send(run, name string, o check.Outcome) error {
	about, err := json.Marshal(o.About)
	if err != nil {
		return err
	}
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	for field, value := range map[string]string{"about": string(about), "run": run, "session": name, "name": o.About.Window.Title} {
		if err := form.WriteField(field, value); err != nil {
			return err
		}
	}
	picture, err := form.CreateFormFile("picture", "picture.png")
	if err == nil {
		_, err = picture.Write(o.PNG)
	}
	if err == nil {
		err = form.Close()
	}
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(f.ctx, http.MethodPut, f.address+"/api/feed/shots/"+uuid.NewString(), &body)
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", form.FormDataContentType())
	return f.do(req, nil)
}

func (f feed) do(req *http.Request, out any) error {
	req.Header.Set("Authorization", "Bearer "+f.token)
	client := http.Client{Timeout: time.Minute}
	answer, err := client.Do(req)
	if err != nil {
		return fmt.Errorf("%s can't be reached: %w", f.address, err)
	}
	defer answer.Body.Close()
	if answer.StatusCode != http.StatusOK {
		var said struct {
			Message string `json:"message"`
		}
		_ = json.NewDecoder(io.LimitReader(answer.Body, 1<<16)).Decode(&said) // an answer without words is told of by its number
		return fmt.Errorf("%s answered %d: %s", f.address, answer.StatusCode, said.Message)
	}
	if out == nil {
		return nil
	}
	return json.NewDecoder(io.LimitReader(answer.Body, 32<<20)).Decode(out)
}
