package feed_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/feed"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Everyone hears of records; of what lies in a folder only those who may open it, and its owner.
func TestFor(t *testing.T) {
	owner, teammate, other := people.Person{ID: 1, TeamID: 7}, people.Person{ID: 2, TeamID: 7}, people.Person{ID: 3, TeamID: 8}
	private := &store.Folder{Owner: &owner.ID}
	ours := &store.Folder{Access: []store.Access{{Kind: store.ForTeam, Subject: 7}}}
	for name, c := range map[string]struct {
		event feed.Event
		told  []bool
	}{
		"records":                 {feed.Event{Kind: feed.Records}, []bool{true, true, true}},
		"in a private folder":     {feed.Event{Kind: store.KindReport, In: []*store.Folder{private}, Owners: []int64{1}}, []bool{true, false, false}},
		"in the team's folder":    {feed.Event{Kind: store.KindReport, In: []*store.Folder{ours}, Owners: []int64{3}}, []bool{true, true, true}},
		"moved out of the team's": {feed.Event{Kind: store.KindReport, In: []*store.Folder{ours, private}}, []bool{true, true, false}},
	} {
		for i, p := range []people.Person{owner, teammate, other} {
			require.Equal(t, c.told[i], c.event.For(p), "%s: person %d", name, p.ID)
		}
	}
}

// One who does not keep up holds up nobody; who stops, or whose hub is closed, hears nothing more.
func TestHub(t *testing.T) {
	var h feed.Hub
	slow, forget := h.Listen()
	for i := range 1000 {
		h.Tell(feed.Event{ID: int64(i)})
	}
	require.Len(t, slow, 64)
	require.Equal(t, 1, h.Size())
	forget()
	require.Zero(t, h.Size())
	h.Tell(feed.Event{})
	require.Len(t, slow, 64)
	open, _ := h.Listen()
	h.Close()
	_, ok := <-open
	require.False(t, ok)
	late, stop := h.Listen()
	_, ok = <-late
	require.False(t, ok)
	stop()
}

func ExampleHub() {
	var h feed.Hub
	events, stop := h.Listen()
	defer stop()
	h.Tell(feed.Event{Kind: store.KindReport, ID: 12})
	e := <-events
	fmt.Println(e.Kind, e.ID)
	// Output: report 12
}
