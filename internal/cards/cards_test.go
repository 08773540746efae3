package cards_test

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/emersion/go-ical"
	"github.com/emersion/go-vcard"
	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/internal/bringin"
	"uzzel/internal/cards"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/people"
	"uzzel/internal/records"
)

var ctx = context.Background()

// Contacts go out as cards that others read, those that a person sees alone, and come in again as they were.
func TestContacts(t *testing.T) {
	a, _ := demotest.App(t)
	var all bytes.Buffer
	require.NoError(t, cards.Contacts(&all, demotest.View(t, a, 3)))
	first, err := vcard.NewDecoder(bytes.NewReader(all.Bytes())).Decode()
	require.NoError(t, err)
	one, err := a.Records.Read(ctx, demotest.View(t, a, 3), "contacts", 1)
	require.NoError(t, err)
	require.Equal(t, one.Values["name"], first.Value(vcard.FieldFormattedName))
	require.Equal(t, one.Values["email"], first.Value(vcard.FieldEmail))
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, 2), "contacts", engine.SeesOwn, 0))
	var own bytes.Buffer
	require.NoError(t, cards.Contacts(&own, demotest.View(t, a, 3)))
	require.Less(t, strings.Count(own.String(), "BEGIN:VCARD"), strings.Count(all.String(), "BEGIN:VCARD"))

	s, err := bringin.Read("contacts.vcf", all.Bytes())
	require.NoError(t, err)
	require.Equal(t, bringin.Cards, s.Encoding)
	require.Len(t, s.Rows, strings.Count(all.String(), "BEGIN:VCARD"))
	require.Equal(t, []string{one.Values["name"], one.Values["email"]}, s.Rows[0][:2])
	_, err = bringin.Read("x.vcf", []byte("BEGIN:VCARD\nhalf"))
	require.Error(t, err)
}

// What a person is to do is in the person's calendar, nothing done and nobody else's; it comes in again at the same moment.
func TestPlanned(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 3)
	ids, err := a.Records.Create(ctx, v, "activities", []records.Values{
		{"subject": "Survey, the quay; all of it", "happens": "2026-05-20T09:30:00Z", "minutes": "45", "notes": "Boots"},
		{"subject": "Done already", "happens": "2026-05-20T09:30:00Z", "done": "true"},
		{"subject": "Theirs", "happens": "2026-05-20T09:30:00Z", "owner": "4"},
	})
	require.NoError(t, err)
	var text bytes.Buffer
	require.NoError(t, cards.Planned(&text, demotest.View(t, a, 3)))
	cal, err := ical.NewDecoder(bytes.NewReader(text.Bytes())).Decode()
	require.NoError(t, err)
	found := map[string]*ical.Component{}
	for _, c := range cal.Children {
		uid, err := c.Props.Text(ical.PropUID)
		require.NoError(t, err)
		found[uid] = c
	}
	mine := found[fmt.Sprintf("activity-%d@uzzel", ids[0])]
	require.NotNil(t, mine)
	title, err := mine.Props.Text(ical.PropSummary)
	require.NoError(t, err)
	require.Equal(t, "Survey, the quay; all of it", title)
	require.Nil(t, found[fmt.Sprintf("activity-%d@uzzel", ids[1])])
	require.Nil(t, found[fmt.Sprintf("activity-%d@uzzel", ids[2])])

	s, err := bringin.Read("planned.ics", text.Bytes())
	require.NoError(t, err)
	require.Contains(t, s.Rows, []string{"Survey, the quay; all of it", "2026-05-20T09:30:00Z", "45", "false", "Boots"})
	var nothing bytes.Buffer
	require.NoError(t, cards.Planned(&nothing, a.View(people.Person{ID: 999})))
	require.NotContains(t, nothing.String(), "VEVENT")
}

func ExamplePlanned() {
	a, _ := demotest.App(&testing.T{})
	var text bytes.Buffer
	err := cards.Planned(&text, a.View(people.Person{ID: 999}))
	fmt.Println(strings.Fields(text.String())[0], err)
	// Output: BEGIN:VCALENDAR <nil>
}
