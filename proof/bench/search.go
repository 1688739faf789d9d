package main

import (
	"context"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"sort"
	"strings"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/store"

	"github.com/google/uuid"
)

const (
	searchDocuments = 10_000
	searchSteps     = 20 // of each
	searchQuestions = 200
)

// searching asks 200 questions of 10,000 documents with 200,000 steps, in a database of its own.
func searching() {
	dsn := os.Getenv("RACONTE_DATABASE")
	if dsn == "" {
		say("search", "left out: RACONTE_DATABASE names no database")
		return
	}
	server, err := sql.Open("mysql", strings.Replace(dsn, "/raconte?", "/?", 1))
	must(err)
	defer server.Close()
	const name = "raconte_bench"
	_, err = server.Exec("DROP DATABASE IF EXISTS " + name)
	must(err)
	_, err = server.Exec("CREATE DATABASE " + name + " CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
	must(err)
	defer func() { _, err := server.Exec("DROP DATABASE " + name); must(err) }()
	ctx := context.Background()
	s, err := store.Open(ctx, strings.Replace(dsn, "/raconte?", "/"+name+"?", 1))
	must(err)
	defer s.Close()
	a, err := s.Identity.CreateAccount(ctx, store.Account{Name: "bench", DisplayName: "Bench", Role: access.Author})
	must(err)
	shut, err := s.Setup.PutFolder(ctx, store.Folder{Name: "Closed"}, store.Account{})
	must(err)
	began := time.Now()
	words := fillSearch(ctx, s, a, shut.ID)
	say("10,000 documents of 20 steps made findable", "%.0f s", time.Since(began).Seconds())
	viewer := access.Viewer{Account: a.ID, Role: access.Author, Closed: []string{shut.ID}}
	random := rand.New(rand.NewPCG(5, 5))
	var all []time.Duration
	kinds := []func() string{
		func() string { return words[random.IntN(len(words))] + " " + words[random.IntN(200)] },
		func() string { return words[random.IntN(len(words))][:4] },
		func() string { w := words[random.IntN(len(words))]; return w[:3] + w[4:] }, // a letter is missing
		func() string { return "" },
	}
	s.Search.Meant(ctx, "warm")
	for i := range searchQuestions {
		text := kinds[i%len(kinds)]()
		began := time.Now()
		_, err := s.Search.Search(ctx, store.Query{Text: text, Most: 40}, viewer)
		must(err)
		all = append(all, time.Since(began))
	}
	sort.Slice(all, func(i, j int) bool { return all[i] < all[j] })
	ms := func(share float64) float64 { return float64(all[int(share*float64(len(all)-1))].Microseconds()) / 1000 }
	say("search over 200,000 steps", "%.0f ms, 95 %% within %.0f ms (wanted: 150), at most %.0f", ms(0.5), ms(0.95), ms(1))
}

// fillSearch makes documents findable that say words as often as a language does: few of them often, most seldom.
func fillSearch(ctx context.Context, s *store.Store, a store.Account, shut string) []string {
	random := rand.New(rand.NewPCG(3, 3))
	words := make([]string, 20_000)
	for i := range words {
		var b strings.Builder
		for range 6 + random.IntN(5) {
			b.WriteByte(byte('a' + random.IntN(26)))
		}
		words[i] = b.String()
	}
	word := func() string { r := random.Float64(); return words[int(r*r*r*float64(len(words)))] }
	for n := range searchDocuments {
		folder := ""
		if n%10 == 0 {
			folder = shut
		}
		title := fmt.Sprintf("%s %s %d", word(), word(), n)
		d, err := s.Documents.Create(ctx, document.Procedure, title, folder, a.ID)
		must(err)
		rows := []store.Findable{{DocumentID: d.ID, Words: title}}
		for step := range searchSteps {
			said := make([]string, 14)
			for i := range said {
				said[i] = word()
			}
			rows = append(rows, store.Findable{DocumentID: d.ID, BlockID: uuid.NewString(), Place: step, Words: strings.Join(said, " "), Pictured: word() + " " + word()})
		}
		must(s.Search.PutFindable(ctx, d, false, rows, true, nil))
	}
	return words
}
