package httpapi_test

import (
	"errors"
	"fmt"
	"net/http"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/internal/house"
	"fjell/internal/httpapi"
	"fjell/internal/standin"
)

// Reminders go by mail, over a real conversation with a mail server: to whoever asked, once a day though several processes look, when their hour has come at
// the farm, again when the server took none, and to nobody who has left.
func TestRemindersGoOnceWhenTheirHourHasCome(t *testing.T) {
	h := start(t, false)
	ida, olav := h.member(t, "ida"), h.member(t, "olav")
	base, _ := ida.planned(t)
	ida.invites(base, olav, "hand")
	address, box := mailbox(t)
	post, err := httpapi.NewPost("smtp://"+address, "fjell@example.org", "https://fjell.example")
	require.NoError(t, err)
	var servers []*httpapi.Server // two processes over one database
	for range 2 {
		places := house.New(h.service.Farm)
		s, err := httpapi.New(places, httpapi.Options{Post: post})
		require.NoError(t, err)
		servers = append(servers, s)
	}
	now := h.service.Farm.Clock.Fixed
	remind := func() {
		var wait sync.WaitGroup
		for _, s := range servers {
			wait.Go(func() { _ = s.RemindNow(t.Context()) })
		}
		wait.Wait()
	}
	set := func(p person, kinds []string, minute int) (int, map[string]any) {
		return p.call("PUT", base+"/reminders", map[string]any{"kinds": kinds, "at_minute": minute})
	}
	for field, body := range map[string]map[string]any{
		"kinds":     {"kinds": []string{"dance"}, "at_minute": 0},
		"once":      {"kinds": []string{"jobs", "jobs"}, "at_minute": 0},
		"at_minute": {"kinds": []string{"jobs"}, "at_minute": 1440},
	} {
		status, out := olav.call("PUT", base+"/reminders", body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		assert.Contains(t, fmt.Sprint(out), field)
	}
	_, usual := olav.call("GET", base+"/reminders", nil)
	assert.Empty(t, usual["kinds"], "quiet unless somebody asks")

	status, out := ida.call("POST", base+"/jobs", map[string]any{"id": id(), "kind": "water", "what": "Fill the tank", "due_on": "2026-06-11"})
	require.Equal(t, http.StatusOK, status, out)
	status, out = set(olav, []string{"moves", "jobs"}, 18*60)
	require.Equal(t, http.StatusOK, status, out)
	remind()
	assert.Empty(t, box.Mails(), "its hour has not come")

	refused := errors.New("try later")
	box.Refuse = func(standin.Mail) error { return refused }
	*now = now.Add(11 * time.Hour) // the evening of the tenth
	remind()
	assert.Empty(t, box.Mails())
	_, today := ida.call("GET", base+"/today", nil)
	assert.Contains(t, fmt.Sprint(today["minding"]), "tonight walk its fence", "in the app it is said to everybody")
	box.Refuse = nil
	remind()
	mails := box.Mails()
	require.Len(t, mails, 1, "tried again, and sent once by two processes")
	assert.Equal(t, []string{"olav@example.org"}, mails[0].To)
	assert.Equal(t, "Skarn: moves tomorrow", mails[0].Subject, "the evening before a move")
	assert.Contains(t, mails[0].Text, "Cows to Field 12 4, 08:00")
	assert.Contains(t, mails[0].Text, "3 kV or more at the far end")
	assert.Contains(t, mails[0].Text, "Fill the tank")
	assert.Contains(t, mails[0].Text, "https://fjell.example/#/f/")
	remind()
	assert.Len(t, box.Mails(), 1, "once a day")

	status, _ = ida.call("POST", base+"/members", map[string]any{"email": "olav@example.org", "role": ""})
	require.Equal(t, http.StatusOK, status)
	*now = now.AddDate(0, 0, 1)
	remind()
	assert.Len(t, box.Mails(), 1, "who has left is not written to")
}
