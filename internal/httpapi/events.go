package httpapi

import (
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

// events streams what changes, as server-sent events, until the client goes. A comment every now and then keeps the
// connection from being taken for dead.
func (a *api) events(w http.ResponseWriter, r *http.Request) {
	if _, err := a.desk.Who(r.Context(), a.sessions.GetInt64(r.Context(), personKey)); err != nil {
		writeProblem(w, a.problem(r.Context(), err))
		return
	}
	flow := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	send := func(text string) bool {
		if err := flow.SetWriteDeadline(time.Now().Add(30 * time.Second)); err != nil {
			return false
		}
		if _, err := fmt.Fprint(w, text); err != nil {
			return false
		}
		return flow.Flush() == nil
	}
	events, stop := a.desk.Listen()
	defer stop()
	tick := time.NewTicker(20 * time.Second)
	defer tick.Stop()
	for ok := send(": hello\n\n"); ok; {
		select {
		case <-r.Context().Done():
			return
		case e := <-events:
			text, err := json.Marshal(EventBody(e))
			ok = err == nil && send("data: "+string(text)+"\n\n")
		case <-tick.C:
			ok = send(": still here\n\n")
		}
	}
}
