package answers_test

import (
	"context"
	"encoding/json"
	"reflect"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// sees is a person's view of what there is now.
func decoded(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err, text)
	return b
}

// The numbers of a report are worked out once for all ways to show them, and anew where they hang on what changed.
func TestNumbersAreKept(t *testing.T) {
	d, s := demotest.App(t)
	ctx, maite, petra := context.Background(), demotest.View(t, d, 1), demotest.View(t, d, 7)
	ask := func(who *answers.View, more string) *answers.Answer {
		a, err := who.Ask(ctx, decoded(t, `{"version":1,"start":"deals","groups":[{"field":"stage"}]`+more+`}`))
		require.NoError(t, err, more)
		return a
	}
	first := ask(maite, `,"chart":{"kind":"column"}`)

	other := ask(maite, `,"chart":{"kind":"bar"}`)
	require.Same(t, first.Result, other.Result, "another chart")
	require.Equal(t, "bar", other.Drawing.Kind)
	require.Equal(t, "column", first.Drawing.Kind, "the first answer is as it was")

	totals := ask(maite, `,"totalsOnly":true`)
	require.Same(t, first.Result, totals.Result, "totals only")

	steps := func(looks string) *answers.Answer {
		a := ask(maite, `,"chart":{"kind":"funnel","steps":true`+looks+`}`)
		require.NotEmpty(t, a.Writer.Steps)
		return a
	}
	plain, quiet := steps(""), steps(`,"legend":"none"`)
	require.Same(t, first.Result, plain.Result, "as a funnel")
	require.Equal(t, reflect.ValueOf(plain.Writer.Steps).Pointer(), reflect.ValueOf(quiet.Writer.Steps).Pointer(), "how many went on is not worked out again for other looks")

	for name, more := range map[string]string{
		"another filter":  `,"filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}`,
		"another summary": `,"summaries":[{"key":"v","fn":"sum","of":"value"}]`,
		"other columns":   `,"columns":[{"field":"name"}]`,
	} {
		require.NotSame(t, first.Result, ask(maite, more).Result, name)
	}
	require.NotSame(t, first.Result, ask(petra, "").Result, "another reader may see other records")

	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		return w.Add("deals", []store.Record{{"id": "1000000", "name": "One more", "stage": "Enquiry"}})
	}))
	after := ask(maite.Now(), `,"chart":{"kind":"column"}`)
	require.NotSame(t, first.Result, after.Result, "a record was added")
	require.Equal(t, first.Result.Of+1, after.Result.Of)
}

// What a dashboard is narrowed to is said with names, not numbers, and refused where it makes no sense.
func TestSayFilters(t *testing.T) {
	d, _ := demotest.App(t)
	say := func(text string) (answers.FiltersSaid, error) {
		var f board.Filters
		require.NoError(t, json.Unmarshal([]byte(text), &f))
		return demotest.View(t, d, 1).SayFilters(f)
	}
	customer := demotest.View(t, d, 1).Snap.NameOf("customers", "12", nil)
	for text, want := range map[string]answers.FiltersSaid{
		`{}`: {Fields: []string{}},
		`{"whose":"team","period":"this_quarter"}`:                                   {Whose: "my team", Period: "this quarter", Dates: "1 Apr – 30 Jun 2026", Fields: []string{}},
		`{"whose":{"people":["1"]},"period":{"last":30,"unit":"day"}}`:               {Whose: "Maite Corrie", Period: "in the last 30 days, today included", Dates: "15 Apr – 14 May 2026", Fields: []string{}},
		`{"whose":{"teams":["1"]},"period":{"from":"2026-04-01","to":"2026-05-31"}}`: {Whose: "team " + demotest.View(t, d, 1).Snap.NameOf("teams", "1", nil), Period: "from 1 Apr 2026 to 31 May 2026", Fields: []string{}},
		`{"fields":[{"type":"deals","field":"customer","values":["12"]},{"type":"customers","field":"segment","values":["Marina","Harbour"]}]}`: {
			Fields: []string{"deals' customer is " + customer, "customers' segment is Marina or Harbour"}},
	} {
		got, err := say(text)
		require.NoError(t, err, text)
		require.Equal(t, want, got, text)
	}
	for _, wrong := range []string{`{"whose":"ours"}`, `{"period":"someday"}`, `{"fields":[{"type":"boats","field":"x","values":["1"]}]}`, `{"fields":[{"type":"deals","field":"stage","values":[]}]}`} {
		_, err := say(wrong)
		require.Error(t, err, wrong)
	}
}

// A sentence does not name records that its reader may not see, whoever wrote it; nor are they found by their name.
func TestSentencesNameWhatIsSeen(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, admin := context.Background(), demotest.View(t, d, 2)
	one := func(cond string) (id, name string) {
		l, err := admin.List(ctx, decoded(t, `{"version":1,"start":"customers","filter":`+cond+`,"columns":[{"field":"id"},{"field":"name"}],"order":[{"field":"id"}],"limit":1}`))
		require.NoError(t, err)
		page, err := l.Page(ctx, 0, 1)
		require.NoError(t, err)
		return page.Texts[0][0], page.Texts[0][1]
	}
	his, hisName := one(`{"field":"owner","is":"any_of","values":["3"]}`)
	other, otherName := one(`{"field":"owner","is":"none_of","values":["3"]}`)
	require.NoError(t, d.Admin.SetSees(ctx, admin, "customers", engine.SeesOwn, 0))
	aldo := demotest.View(t, d, 3)

	b := decoded(t, `{"version":1,"start":"deals","filter":{"field":"customer","is":"any_of","values":["`+his+`","`+other+`"]}}`)
	a, err := aldo.Ask(ctx, b)
	require.NoError(t, err)
	require.Contains(t, a.Sentence.String(), "customer is "+hisName+" or number "+other)
	var f board.Filters
	require.NoError(t, json.Unmarshal([]byte(`{"fields":[{"type":"deals","field":"customer","values":["`+other+`"]}]}`), &f))
	said, err := aldo.SayFilters(f)
	require.NoError(t, err)
	require.Equal(t, []string{"deals' customer is number " + other}, said.Fields)
	require.Equal(t, []string{his}, aldo.Named("customers", hisName))
	require.Empty(t, aldo.Named("customers", otherName))

	require.NoError(t, d.Admin.SetSees(ctx, admin, "customers", engine.SeesAll, 1))
	aldo = demotest.View(t, d, 3)
	a, err = aldo.Ask(ctx, b)
	require.NoError(t, err)
	require.Contains(t, a.Sentence.String(), otherName)
}

// A brief that cannot be answered says where it is wrong, in every question about it.
func TestWrongQuestions(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, who := context.Background(), demotest.View(t, d, 1)
	wrong := decoded(t, `{"version":1,"start":"deals","groups":[{"field":"stag"}]}`)
	var problems brief.Problems
	_, err := who.Ask(ctx, wrong)
	require.ErrorAs(t, err, &problems)
	require.Equal(t, "/groups/0/field", problems[0].Pointer)
	_, err = who.List(ctx, wrong)
	require.ErrorAs(t, err, &problems)
	_, err = who.Explain(ctx, wrong)
	require.ErrorAs(t, err, &problems)

	right := decoded(t, `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`)
	var refused *fault.Error
	_, err = who.Behind(ctx, right, 1, nil)
	require.ErrorAs(t, err, &refused)
	require.Equal(t, "/part", refused.Pointer)
	_, err = who.Behind(ctx, right, 0, []result.Mark{{Rows: []string{"=Enquiry", "=too deep"}}})
	require.ErrorAs(t, err, &refused)
	require.Equal(t, "/marks", refused.Pointer)
}

// A question that is given up is not kept as an answer.
func TestStoppedQuestion(t *testing.T) {
	d, _ := demotest.App(t)
	who := demotest.View(t, d, 1)
	b := decoded(t, `{"version":1,"start":"deals","groups":[{"field":"owner"}]}`)
	ctx, stop := context.WithCancel(context.Background())
	stop()
	_, err := who.Ask(ctx, b)
	require.ErrorIs(t, err, context.Canceled)
	a, err := who.Ask(context.Background(), b)
	require.NoError(t, err)
	require.Positive(t, a.Result.Records)
}

// The records under groups are all there are, one group after the other, each as many as its group counts.
func TestGroupedRecords(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, maite := context.Background(), demotest.View(t, d, 1)
	b := decoded(t, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"columns":[{"field":"value"},{"field":"stage"}],"order":[{"field":"value","desc":true}],"limit":3}`)
	g, err := maite.Grouped(ctx, b)
	require.NoError(t, err)
	a, err := maite.Ask(ctx, b)
	require.NoError(t, err)
	require.EqualValues(t, a.Result.Records, g.Len(), "a limit is the list's alone")
	for _, run := range g.Runs {
		page, err := g.Page(ctx, run.First, run.First+run.Count)
		require.NoError(t, err)
		for i, row := range page.Texts {
			require.Equal(t, g.Result.Rows[run.Node].Label, row[1])
			if i > 0 {
				before, _ := strconv.ParseFloat(page.Texts[i-1][0], 64)
				now, _ := strconv.ParseFloat(row[0], 64)
				require.GreaterOrEqual(t, before, now)
			}
		}
	}
	_, err = maite.Grouped(ctx, decoded(t, `{"version":1,"start":"deals"}`))
	require.ErrorContains(t, err, "under groups")
}

// One mark a record: each deal is a group of its own, called by its name, those of one name told apart.
func TestOneGroupARecord(t *testing.T) {
	d, _ := demotest.App(t)
	a, err := demotest.View(t, d, 1).Ask(context.Background(), decoded(t, `{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["open"]},"groups":[{"field":"id"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"bar"}}`))
	require.NoError(t, err)
	require.Contains(t, a.Sentence.String(), "by each deal")
	require.Len(t, a.Drawing.Categories, min(chart.MaxCategories, int(a.Result.Records)), "a mark for each")
	seen, named := map[string]bool{}, 0
	for _, c := range a.Drawing.Categories {
		require.False(t, seen[c.Label], "%s stands twice", c.Label)
		seen[c.Label] = true
		if _, err := strconv.Atoi(c.Label); err != nil {
			named++
		}
	}
	require.Equal(t, len(a.Drawing.Categories), named)
}
