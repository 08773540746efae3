package diary_test

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/records"
)

// A line about a deal becomes what was done, linked to the deal and to whom it belongs, and stands in the time lines of
// both.
func TestLogged(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	deal := diary.Ref{Type: "deals", ID: 40}
	kept, err := a.Records.Read(ctx, demotest.View(t, a, 1), "deals", 40)
	require.NoError(t, err)
	before, err := a.Diary.Read(ctx, demotest.View(t, a, 1), deal, diary.Asked{})
	require.NoError(t, err)

	ids, err := a.Diary.Log(ctx, demotest.View(t, a, 1), []diary.Ref{deal},
		"call 20 min reached about the piles, then site visit tomorrow 10:30 measure the east arm")
	require.NoError(t, err)
	require.Len(t, ids, 2)
	v := demotest.View(t, a, 1)
	call, err := a.Records.Read(ctx, v, "activities", ids[0])
	require.NoError(t, err)
	require.Equal(t, "Call", call.Values["kind"])
	require.Equal(t, "true", call.Values["done"])
	require.Equal(t, "20", call.Values["minutes"])
	require.Equal(t, "Reached", call.Values["outcome"])
	require.Equal(t, "the piles", call.Values["subject"])
	require.Equal(t, "40", call.Values["deal"])
	require.Equal(t, kept.Values["customer"], call.Values["customer"])
	require.Equal(t, kept.Values["contact"], call.Values["contact"])
	require.Equal(t, v.Who.Key(), call.Values["owner"])

	line, err := a.Diary.Read(ctx, v, deal, diary.Asked{})
	require.NoError(t, err)
	require.Len(t, line.Entries, min(100, len(before.Entries)+2))
	at := slices.IndexFunc(line.Entries, func(e diary.Entry) bool { return e.ID == ids[1] && e.What == diary.Planned })
	require.GreaterOrEqual(t, at, 0)
	require.False(t, line.Entries[at].Late)
	require.Equal(t, "tomorrow 10:30", line.Entries[at].When)
	require.True(t, slices.IsSortedFunc(line.Entries, func(a, b diary.Entry) int { return int(b.At - a.At) }), "the latest first")
	require.Equal(t, before.Kinds["Call"]+1, line.Kinds["Call"])
	customer, err := strconv.ParseInt(kept.Values["customer"], 10, 64)
	require.NoError(t, err)
	of, err := a.Diary.Read(ctx, v, diary.Ref{Type: "customers", ID: customer}, diary.Asked{Kind: "Site visit"})
	require.NoError(t, err)
	require.True(t, slices.ContainsFunc(of.Entries, func(e diary.Entry) bool { return e.ID == ids[1] }), "the customer's, too")
}

func TestLoggedNot(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, a, 1)
	deal := []diary.Ref{{Type: "deals", ID: 40}}
	for text, says := range map[string]string{"": "Say what was done", "the piles": "Begin with what it is: call"} {
		_, err := a.Diary.Log(ctx, v, deal, text)
		require.True(t, fault.Is(err, fault.Invalid), text)
		require.ErrorContains(t, err, says)
	}
	_, err := a.Diary.Log(ctx, v, []diary.Ref{{Type: "products", ID: 1}}, "call")
	require.ErrorContains(t, err, "not linked to products")
	for key, can := range map[string]bool{"customers": true, "deals": true, "products": false, "people": false, "activities": false} {
		require.Equal(t, can, diary.Logged(v.Snap.Schema, v.Snap.Schema.Type(key)), key)
	}
	_, err = a.Diary.Log(ctx, v, []diary.Ref{{Type: "deals", ID: 40}, {Type: "deals", ID: 999_999}}, "call")
	require.True(t, fault.Is(err, fault.NotFound), "all or none")
}

// A time line has who did what, and each change with what it was; it is narrowed by kind, person and days.
func TestTimeline(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	deal := diary.Ref{Type: "deals", ID: 40}
	_, err := a.Records.Change(ctx, demotest.View(t, a, 1), "deals", []records.Edit{{ID: 40, Values: records.Values{"value": "1234.5"}}})
	require.NoError(t, err)
	v := demotest.View(t, a, 1)
	line, err := a.Diary.Read(ctx, v, deal, diary.Asked{What: diary.Changed})
	require.NoError(t, err)
	require.Equal(t, line.Changes, len(line.Entries))
	e := line.Entries[0]
	require.Equal(t, diary.Changed, e.What)
	require.Equal(t, "1234.50", e.Is)
	require.Contains(t, e.To, "1,234.50")
	require.Equal(t, v.Who.Name, e.Person)
	last := line.Entries[len(line.Entries)-1]
	require.Equal(t, diary.Made, last.What)
	mine, err := a.Diary.Read(ctx, v, deal, diary.Asked{Person: 1, From: v.Snap.Cal.DayOf(e.At), To: v.Snap.Cal.DayOf(e.At)})
	require.NoError(t, err)
	require.Len(t, mine.Entries, 1)
	none, err := a.Diary.Read(ctx, v, deal, diary.Asked{Before: last.At})
	require.NoError(t, err)
	require.Empty(t, none.Entries)
}

// Who may not see what was done, or what a link was, is not told of it.
func TestTimelineOfWhatIsNotTheirs(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	deal := diary.Ref{Type: "deals", ID: 40}
	was, err := a.Records.Read(ctx, demotest.View(t, a, 1), "deals", 40)
	require.NoError(t, err)
	to := "1"
	if was.Values["customer"] == to {
		to = "2"
	}
	_, err = a.Records.Change(ctx, demotest.View(t, a, 1), "deals", []records.Edit{{ID: 40, Values: records.Values{"customer": to}}})
	require.NoError(t, err)
	_, err = a.Diary.Log(ctx, demotest.View(t, a, 1), []diary.Ref{deal}, "call")
	require.NoError(t, err)
	for _, typ := range []string{"customers", "activities"} {
		require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, 2), typ, engine.SeesOwn, 0))
	}
	hidden := a.View(people.Person{ID: 999})
	line, err := a.Diary.Read(ctx, hidden, deal, diary.Asked{})
	require.NoError(t, err)
	require.Empty(t, line.Kinds)
	found := false
	for _, e := range line.Entries {
		require.NotEqual(t, diary.Did, e.What)
		if e.Field == "customer" {
			found = true
			require.Equal(t, "not yours to see", e.To)
			require.Empty(t, e.Was+e.Is)
		}
	}
	require.True(t, found)
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, 2), "deals", engine.SeesOwn, 0))
	_, err = a.Diary.Read(ctx, a.View(people.Person{ID: 999}), deal, diary.Asked{})
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = a.Diary.Stages(ctx, a.View(people.Person{ID: 999}), deal)
	require.True(t, fault.Is(err, fault.NotFound))
}

// The way of a deal: the days of its stages add up to the days since it was made.
func TestStages(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, a, 1)
	for id := int64(1); id < 200; id += 20 {
		way, err := a.Diary.Stages(ctx, v, diary.Ref{Type: "deals", ID: id})
		require.NoError(t, err)
		require.Equal(t, "stage", way.Field)
		kept, err := a.Records.Read(ctx, v, "deals", id)
		require.NoError(t, err)
		days, now := 0, ""
		for _, s := range way.Steps {
			days += s.Days
			if s.Now {
				now = s.Stage
				require.NotEmpty(t, s.Since)
			}
		}
		require.Equal(t, kept.Values["stage"], now)
		line, err := a.Diary.Read(ctx, v, diary.Ref{Type: "deals", ID: id}, diary.Asked{What: diary.Changed})
		require.NoError(t, err)
		made := v.Snap.Cal.DayOf(line.Entries[len(line.Entries)-1].At)
		require.Equal(t, int(v.Day-made), days, id)
	}
	none, err := a.Diary.Stages(ctx, v, diary.Ref{Type: "customers", ID: 1})
	require.NoError(t, err)
	require.Empty(t, none)
}

func ExampleDiary_Understand() {
	t := &testing.T{}
	a, _ := demotest.App(t)
	list, _ := a.Diary.Understand(context.Background(), demotest.View(t, a, 1), diary.Ref{Type: "deals", ID: 40}, "call tomorrow 10 about the survey")
	fmt.Println(list[0].Said)
	// Output: Call, planned for tomorrow 10:00, “the survey”
}

// What waits for a seller is the seller's own; each list is one that can be opened, and says what it says.
func TestWaits(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	v := demotest.View(t, a, 5)
	_, err := a.Diary.Log(ctx, v, []diary.Ref{{Type: "deals", ID: 40}}, "call today 23:59; email tomorrow; letter yesterday")
	require.NoError(t, err)
	v = demotest.View(t, a, 5)
	counts := map[string]int{}
	for _, w := range a.Diary.Waits(v) {
		list, err := v.List(ctx, w.Brief)
		require.NoError(t, err, w.Key)
		counts[w.Key] = list.Len()
		page, err := list.Page(ctx, 0, list.Len())
		require.NoError(t, err)
		for _, id := range page.IDs {
			n, err := strconv.ParseInt(id, 10, 64)
			require.NoError(t, err)
			r, err := a.Records.Read(ctx, v, w.Brief.Start, n)
			require.NoError(t, err)
			require.Equal(t, v.Who.Key(), r.Values["owner"], w.Key)
		}
	}
	for _, key := range []string{"today", "overdue", "coming"} {
		require.Positive(t, counts[key], key)
	}
	require.Contains(t, counts, "past deals")
	require.LessOrEqual(t, counts["quiet deals"], 5)
}

// What one follows tells what others did about it, and nothing that one did oneself or may not see any more.
func TestNews(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	deal := diary.Ref{Type: "deals", ID: 40}
	require.NoError(t, a.Diary.Follow(ctx, demotest.View(t, a, 5), deal, true))
	require.True(t, fault.Is(a.Diary.Follow(ctx, demotest.View(t, a, 5), diary.Ref{Type: "deals", ID: 999_999}, true), fault.NotFound))
	_, err := a.Diary.Log(ctx, demotest.View(t, a, 5), []diary.Ref{deal}, "call about mine")
	require.NoError(t, err)
	_, err = a.Diary.Log(ctx, demotest.View(t, a, 1), []diary.Ref{deal}, "email about theirs")
	require.NoError(t, err)
	news, err := a.Diary.News(ctx, demotest.View(t, a, 5))
	require.NoError(t, err)
	require.Len(t, news, 1)
	about := []string{}
	for _, e := range news[0].Entries {
		about = append(about, e.About)
	}
	require.Contains(t, about, "theirs")
	require.NotContains(t, about, "mine")
	on, err := a.Diary.Follows(ctx, demotest.View(t, a, 5), deal)
	require.NoError(t, err)
	require.True(t, on)
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, 2), "deals", engine.SeesOwn, 0))
	kept, err := a.Records.Read(ctx, demotest.View(t, a, 2), "deals", 40)
	if err == nil && kept.Values["owner"] != "5" {
		news, err = a.Diary.News(ctx, demotest.View(t, a, 5))
		require.NoError(t, err)
		require.Empty(t, news)
	}
	v := demotest.View(t, a, 7)
	for id := int64(1); id <= 100; id++ {
		require.NoError(t, a.Diary.Follow(ctx, v, diary.Ref{Type: "contacts", ID: id}, true))
	}
	require.True(t, fault.Is(a.Diary.Follow(ctx, v, diary.Ref{Type: "contacts", ID: 101}, true), fault.Invalid))
	require.NoError(t, a.Diary.Follow(ctx, demotest.View(t, a, 5), deal, false))
	news, err = a.Diary.News(ctx, demotest.View(t, a, 5))
	require.NoError(t, err)
	require.Empty(t, news)
}
