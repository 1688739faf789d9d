package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"slices"
	"sync"
	"time"
)

const (
	readers = 200
	reading = 8 * time.Second
)

// readingTogether has two hundred readers ask the running application for the list, a document and its pictures, each
// as soon as the last answer is there.
func readingTogether() {
	base := "http://127.0.0.1:" + os.Getenv("RACONTE_PORT")
	jar, err := cookiejar.New(nil)
	must(err)
	client := &http.Client{Jar: jar, Transport: &http.Transport{MaxIdleConnsPerHost: readers}}
	signed, err := client.Post(base+"/api/session", "application/json", bytes.NewBufferString(`{"name":"ruben","password":"pellworth"}`))
	must(err)
	must(signed.Body.Close())
	addresses := readersPages(client, base)
	_, _ = readFor(client, addresses, time.Second) // what is kept is made
	took, answers := readFor(client, addresses, reading)
	slices.Sort(took)
	say(fmt.Sprintf("%d readers of lists, documents and pictures", readers), "%s, 95 %% within %s (wanted: 100)",
		ms(took[len(took)/2]), ms(took[len(took)*95/100]))
	say("answers to them", "%.2f ms for each, %.0f a second (wanted: 3000)", 1000/answers, answers)
}

// readersPages are the addresses that a reader's pages ask.
func readersPages(client *http.Client, base string) []string {
	var list []struct {
		Document struct{ ID string } `json:"document"`
	}
	must(json.Unmarshal(get(client, base+"/api/search"), &list))
	all := []string{base + "/api/search"}
	for _, hit := range list[:min(4, len(list))] {
		at := base + "/api/documents/" + hit.Document.ID
		all = append(all, at+"?composed=true")
		var whole struct {
			Blocks []struct {
				Content struct {
					Figures []struct{ ID string } `json:"figures"`
				} `json:"content"`
			} `json:"blocks"`
		}
		must(json.Unmarshal(get(client, at), &whole))
		for _, b := range whole.Blocks {
			for _, f := range b.Content.Figures {
				all = append(all, at+"/figures/"+f.ID)
			}
		}
	}
	return all
}

func get(client *http.Client, address string) []byte {
	answer, err := client.Get(address)
	must(err)
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	must(err)
	if answer.StatusCode != http.StatusOK {
		must(fmt.Errorf("%s answered %s: %.200s", address, answer.Status, body))
	}
	return body
}

// readFor has all readers ask for a while; each answer's time, and how many there were a second.
func readFor(client *http.Client, addresses []string, lasts time.Duration) ([]time.Duration, float64) {
	var (
		all  []time.Duration
		lock sync.Mutex
		done sync.WaitGroup
	)
	until := time.Now().Add(lasts)
	for r := range readers {
		done.Go(func() {
			var own []time.Duration
			for n := r; time.Now().Before(until); n++ {
				began := time.Now()
				get(client, addresses[n%len(addresses)])
				own = append(own, time.Since(began))
			}
			lock.Lock()
			defer lock.Unlock()
			all = append(all, own...)
		})
	}
	done.Wait()
	return all, float64(len(all)) / lasts.Seconds()
}
