package works_test

import (
	"encoding/json"
	"testing"

	"raconte/core/receiver"
	"raconte/output"
	"raconte/platform/seal"
	"raconte/store"
	"raconte/works"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestWhatAnEarlierRaconteKeptOpenIsSealedOnce as the application starts: afterwards nothing in the database opens
// anything, all of it still does what it did, and a second start changes nothing.
func TestWhatAnEarlierRaconteKeptOpenIsSealedOnce(t *testing.T) {
	d := newDesk(t)
	key, err := seal.Parse("cmFjb250ZSB0ZXN0cyBzZWFsIHdpdGggdGhpcyBrZXk=")
	require.NoError(t, err)
	d.Key = key
	const code, address, link, password = "JBSWY3DPEHPK3PXP", "https://hooks.example/planted-token", "http://house.example/welcome/planted-ticket", "planted-password"

	require.NoError(t, d.Store.Identity.SetOneTime(t.Context(), d.ines.ID, code, 1, nil))
	kept, err := d.Store.Exchange.SaveReceiver(t.Context(), store.Receiver{
		ID: store.NewReceiver(), Name: "Tracker",
		Content: receiver.Receiver{Reached: receiver.Reached{Make: receiver.Call{Address: address}}},
	}, d.maud.ID)
	require.NoError(t, err)
	queue := func(kind string, payload any) store.Job {
		raw, err := json.Marshal(payload)
		require.NoError(t, err)
		j, err := d.Store.Jobs.AddJob(t.Context(), store.Job{Kind: kind, Payload: string(raw), Owner: d.ines.ID})
		require.NoError(t, err)
		return j
	}
	letter := queue("mail", works.Letter{To: "tomasz@pellworth.example", Subject: "Welcome", Lines: []string{"Come in."}, Link: link})
	order := queue("deliver", works.Order{Document: "d1", Format: "pdf", PDF: output.PDF{Seal: output.Seal{Password: password, NoPrint: true}}})
	broken, err := d.Store.Jobs.AddJob(t.Context(), store.Job{Kind: "mail", Payload: "not JSON", Owner: d.ines.ID})
	require.NoError(t, err)

	written := func() string {
		all := ""
		for _, q := range []string{"SELECT otp_secret FROM accounts", "SELECT content FROM receivers", "SELECT payload FROM jobs ORDER BY id"} {
			rows, err := d.Store.SQL().QueryContext(t.Context(), q)
			require.NoError(t, err)
			for rows.Next() {
				var one string
				require.NoError(t, rows.Scan(&one))
				all += one + "\n"
			}
			require.NoError(t, rows.Close())
		}
		return all
	}
	open := written()
	for _, secret := range []string{code, address, link, password} {
		require.Contains(t, open, secret, "as it was kept")
	}
	require.NoError(t, d.SealKept(t.Context()))
	sealed := written()
	for _, secret := range []string{code, address, link, password, "planted"} {
		assert.NotContains(t, sealed, secret)
	}
	require.NoError(t, d.SealKept(t.Context()))
	assert.Equal(t, sealed, written(), "what is sealed stays as it is")

	who, err := d.Store.Identity.Account(t.Context(), d.ines.ID)
	require.NoError(t, err)
	opened, err := d.OpenCode(who.ID, who.OTPSecret)
	require.NoError(t, err)
	assert.Equal(t, code, opened)
	_, err = d.OpenCode(d.maud.ID, who.OTPSecret)
	assert.Error(t, err, "it opens for whom it belongs to")
	kept, err = d.Store.Exchange.Receiver(t.Context(), kept.ID)
	require.NoError(t, err)
	kept.Content.ID = kept.ID
	reached, err := d.WithAddresses(kept.Content)
	require.NoError(t, err)
	assert.Equal(t, address, reached.Reached.Make.Address)

	job := func(j store.Job) store.Job {
		now, err := d.Store.Jobs.Job(t.Context(), j.ID)
		require.NoError(t, err)
		return now
	}
	o, is := works.OrderOf(job(order))
	require.True(t, is)
	assert.True(t, seal.Sealed(o.PDF.Seal.Password))
	assert.True(t, o.PDF.Seal.NoPrint, "the rest of an order stays")
	raw, err := key.Open(job(letter).Payload, "letter")
	require.NoError(t, err)
	assert.Contains(t, raw, link)
	assert.Equal(t, "not JSON", job(broken).Payload, "what nobody can read is nobody's to change")
}
