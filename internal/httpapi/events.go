package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"time"
)

// EventBody says that something that was kept has changed.
type EventBody struct {
	Kind string `json:"kind"`
	ID   int64  `json:"id"`
}

// events streams what changes, as server-sent events, until the client goes, signs out or may no longer sign in, or the
// server stops. Of what others keep to themselves it tells nothing. A comment every now and then keeps the connection
// from being taken for dead.
func (a *api) events(w http.ResponseWriter, r *http.Request) {
	person, err := a.app.People.Who(r.Context(), a.sessions.GetInt64(r.Context(), personKey))
	if err != nil {
		writeProblem(w, a.problem(r.Context(), err))
		return
	}
	token := a.sessions.Token(r.Context())
	// still says whether the session that opened the stream is one, and of whom.
	still := func() bool {
		// Read anew: the request's own context goes on holding the session that it came with.
		ctx, stop := context.WithTimeout(context.Background(), 10*time.Second)
		defer stop()
		ctx, err := a.sessions.Load(ctx, token)
		if err != nil {
			return false
		}
		person, err = a.app.People.Who(ctx, a.sessions.GetInt64(ctx, personKey))
		return err == nil
	}
	flow := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	send := func(text string) bool {
		if err := flow.SetWriteDeadline(time.Now().Add(30 * time.Second)); err != nil {
			return false
		}
		if _, err := fmt.Fprint(w, text); err != nil {
			return false
		}
		return flow.Flush() == nil
	}
	events, stop := a.app.Feed.Listen()
	defer stop()
	tick := time.NewTicker(a.cfg.heartbeat())
	defer tick.Stop()
	for ok := send(": hello\n\n"); ok; {
		select {
		case <-r.Context().Done():
			return
		case e, open := <-events:
			if !open || !still() {
				return
			}
			if !e.For(person) {
				continue
			}
			text, err := json.Marshal(EventBody{e.Kind, e.ID})
			ok = err == nil && send("data: "+string(text)+"\n\n")
		case <-tick.C:
			ok = still() && send(": still here\n\n")
		}
	}
}
