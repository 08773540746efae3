package jot_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/jot"
	"uzzel/core/period"
)

var words = jot.Words{
	Kinds:    []string{"Call", "Site visit", "Video meeting", "Email", "Text message", "Letter", "To-do"},
	Outcomes: []string{"Reached", "No answer", "Follow up", "Agreed"},
}

var today = period.Day(2026, time.May, 14) // a Thursday

func TestOneThing(t *testing.T) {
	day := func(n int32) jot.Line { return jot.Line{Day: today + n, HasDay: true} }
	for text, want := range map[string]jot.Line{
		"call tomorrow 10 about the survey":           {Kind: "Call", Day: today + 1, HasDay: true, Time: 600, HasTime: true, About: "the survey"},
		"called":                                      {Kind: "Call"},
		"visit":                                       {Kind: "Site visit"},
		"Site visit monday at 9:30":                   {Kind: "Site visit", Day: today + 4, HasDay: true, Time: 570, HasTime: true},
		"call no answer":                              {Kind: "Call", Outcome: "No answer"},
		"email yesterday: the offer":                  {Kind: "Email", Day: today - 1, HasDay: true, About: "the offer"},
		"call: wants power posts on both arms":        {Kind: "Call", About: "wants power posts on both arms"},
		"to-do in 3 days send load figures":           {Kind: "To-do", Day: today + 3, HasDay: true, About: "send load figures"},
		"call in 2 weeks":                             {Kind: "Call", Day: today + 14, HasDay: true},
		"video meeting 2 June 14:00 with Oskar Breck": {Kind: "Video meeting", Day: period.Day(2026, time.June, 2), HasDay: true, Time: 840, HasTime: true, With: "Oskar Breck"},
		"call with Oskar Breck, about mooring":        {Kind: "Call", With: "Oskar Breck", About: "mooring"},
		"call 30 min reached":                         {Kind: "Call", Minutes: 30, Outcome: "Reached"},
		"call 1.5 h":                                  {Kind: "Call", Minutes: 90},
		"call at 4pm":                                 {Kind: "Call", Time: 960, HasTime: true},
		"call 2026-12-24":                             {Kind: "Call", Day: period.Day(2026, time.December, 24), HasDay: true},
		"call 3 Jan":                                  {Kind: "Call", Day: period.Day(2026, time.January, 3), HasDay: true},
		"call last monday":                            {Kind: "Call", Day: today - 3, HasDay: true},
		"call thursday":                               {Kind: "Call", Day: today + 7, HasDay: true},
		"plan letter friday":                          {Kind: "Letter", Day: today + 1, HasDay: true, Planned: true},
		"call about 12 berths for the north arm":      {Kind: "Call", About: "12 berths for the north arm"},
		"call about the survey tomorrow 10":           {Kind: "Call", About: "the survey", Day: today + 1, HasDay: true, Time: 600, HasTime: true},
		"wrote to the harbour board":                  {About: "wrote to the harbour board"},
		"call 31 Feb":                                 {Kind: "Call", About: "31 Feb"},
		"tomorrow":                                    day(1),
		"next week":                                   day(7),
	} {
		require.Equal(t, []jot.Line{want}, jot.Read(text, words, today), text)
	}
	require.Empty(t, jot.Read("  ;  ", words, today))
}

// What follows "then" is another thing, and still to be done.
func TestThen(t *testing.T) {
	require.Equal(t, []jot.Line{
		{Kind: "Call", Outcome: "Agreed", Minutes: 20, About: "budget"},
		{Kind: "Email", Day: today + 1, HasDay: true, About: "offer", Planned: true},
	}, jot.Read("call 20 min agreed about budget, then email tomorrow about offer", words, today))
	require.Len(t, jot.Read("call; call; call; call; call; call", words, today), jot.Most)
}

func FuzzRead(f *testing.F) {
	f.Add("call tomorrow 10 about the survey")
	f.Add(": at : with X,; in 9 weeks 1.")
	f.Fuzz(func(t *testing.T, text string) {
		for _, l := range jot.Read(text, words, today) {
			require.True(t, l.Time >= 0 && l.Time < 24*60)
			require.True(t, l.Minutes >= 0)
		}
	})
}

func ExampleRead() {
	l := jot.Read("call tomorrow 10 about the survey", words, today)[0]
	fmt.Println(l.Kind, period.FormatDay(l.Day), l.Time/60, l.About)
	// Output: Call 2026-05-15 10 the survey
}
